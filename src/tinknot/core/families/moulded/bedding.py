"""A moulded part put on with what makes it tight: one stack of layers, wherever it goes on."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from tinknot.core.facts import MEASURED, Fact
from tinknot.core.families.choice import Choice, Pick
from tinknot.core.families.moulded.adhesives import SAID, WAYS, Tight
from tinknot.core.families.moulded.choosing import PART, Choosing, Found
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.moulded.areas import Areas, AreasRoughened
from tinknot.core.layers.moulded.hot_melt import HotMelt
from tinknot.core.layers.moulded.part import MouldedPart
from tinknot.core.layers.moulded.paste import PasteBands, PasteCure
from tinknot.core.layers.moulded.seat import Mouth, Seat
from tinknot.core.layers.sleeve import gun_c
from tinknot.core.parts.boot import StockBoot
from tinknot.core.parts.hot_melt import StockHotMelt
from tinknot.core.parts.paste import StockPaste
from tinknot.core.parts.sleeve import StockSleeve

SHRINKS_C = 120.0  # of a part whose figures do not say


@dataclass(frozen=True)
class Bed:
    """What a part is bedded in: its mouths as they lie on it, what it is slid into, the layers that are laid
    on before, and its cure. `at_last`: what is laid on at the last mouth once the first is shrunk;
    `worked_min`: how long it can be worked, `worked_from` when on, min."""

    mouths: tuple[Mouth, ...]
    laid: tuple[Fact, ...]
    layers: tuple[Layer, ...] = ()
    cure: PasteCure | None = None
    at_last: tuple[Fact, ...] = ()
    worked_from: Fact | None = None
    worked_min: float = 0.0


@dataclass(frozen=True)
class On:
    """Where and when a part goes on. `outside`: what it lies on; `goes_on`: what must be so before it is
    tried dry, `ready`: and before its surfaces are made ready; `threads_from`: where it is threaded on before
    something is in its way, in words; `at_mm`: where its first mouth begins on the joint's axis; `end`,
    `parks_on`, `order`: how it waits there; `rough_early`: what must be so before its surfaces are roughened,
    where that comes first."""

    outside: Profile
    goes_on: tuple[Fact, ...]
    ready: tuple[Fact, ...]
    threads_from: str = ""
    at_mm: float = 0.0
    end: str = "A"
    parks_on: tuple[Fact, ...] = (MEASURED,)
    order: int = 1
    rough_early: tuple[Fact, ...] = ()


@dataclass(frozen=True)
class Bedded:
    """The layers of a part from what is laid on first to its cure, the seat it lies in, and whether something
    must cure."""

    layers: tuple[Layer, ...]
    seat: Seat
    cures: bool


def bedded(
    choosing: Choosing, found: Found, part: StockBoot, on: On, *, cool: Callable[[float], float]
) -> Bedded:
    """The part with its surfaces, its adhesive and its cure; `cool`: min that something that thick rests."""
    j, r = choosing.place.joint, choosing.rules
    seat = choosing.place.seat(part).moved(on.at_mm)
    areas = Areas(
        r,
        PART,
        seat.mouths,
        j.abrade,
        solvent=j.wipe == "solvent",
        plated=j.surface == "plated",
        inside=not part.lined,
        after=on.ready,
        threaded=bool(on.threads_from),
        early=on.rough_early,
    )
    bed = _laid(choosing, found, seat.mouths, areas.clean)
    boot = MouldedPart(
        PART,
        choosing.title,
        r,
        part,
        lot=part.first_lot(choosing.today),
        seat=replace(seat, mouths=bed.mouths),
        areas=areas,
        gun_c=gun_c(r, part.shrink_c or SHRINKS_C),
        cool_min=0.0,
        threads_from=on.threads_from,
        goes_on=on.goes_on,
        from_middle=j.job == "straight",
        bedded=bed.laid,
        at_last=bed.at_last,
        worked_from=bed.worked_from,
        worked_min=bed.worked_min,
        end=on.end,
        parks_on=on.parks_on,
        order=on.order,
    )
    boot = replace(boot, cool_min=cool(boot.apply(on.outside).between(*boot.span_mm).greatest()))
    cured = (bed.cure,) if bed.cure else ()
    early = (AreasRoughened(f"{PART}-areas", "surfaces", areas),) if on.rough_early else ()
    return Bedded((*early, *bed.layers, boot, *cured), seat, bool(cured))


@dataclass(frozen=True)
class PutOn:
    """What was found for a place: the layers of a part, None where nothing fits, with every choice."""

    made: Bedded | None
    choices: tuple[Choice, ...]
    picks: tuple[Pick, ...]


def put_on(choosing: Choosing, on: Callable[[StockBoot], On], cool: Callable[[float], float]) -> PutOn:
    """A part chosen with what makes it tight, and put on; `on`: where and when, by the part."""
    found, pick = choosing.chosen()
    if found is None or found.part is None or pick.picked is None:
        return PutOn(None, found.choices if found else (), (pick,))
    made = bedded(choosing, found, found.part, on(found.part), cool=cool)
    return PutOn(made, found.choices, (pick, *cure_pick(choosing, found.tight)))


def _laid(choosing: Choosing, found: Found, mouths: tuple[Mouth, ...], clean: Fact) -> Bed:
    """What makes the part tight, laid on once its surfaces are `clean`."""
    tight, r, today = found.tight, choosing.rules, choosing.today
    if isinstance(tight.part, StockHotMelt):
        lot = tight.part.first_lot(today)
        tape = HotMelt("hot-melt", "hot-melt tape", r, tight.part, lot=lot, mouths=mouths, clean=clean)
        return Bed(tape.beneath(mouths), tuple(Fact("laid", m.place) for m in mouths), (tape,))
    if not isinstance(tight.part, StockPaste) or found.paste is None or tight.cured is None:
        return Bed(mouths, (clean,))
    bands = PasteBands(
        "paste",
        SAID[tight.system],
        r,
        tight.part,
        lot=found.paste.lot,
        nozzle=tight.nozzle,
        nozzles=found.paste.nozzles,
        count=found.paste.count,
        taken=found.paste.taken,
        mouths=mouths,
        clean=clean,
        open_min=tight.open_min,
        on=PART,
        later=choosing.later(mouths),
    )
    cure = PasteCure(
        "cure",
        "cure",
        r,
        tight.part,
        since=bands.again if bands.later else bands.ready,
        way=WAYS[tight.cured.way],
        at=tight.cured.at,
        handle_min=tight.cured.handle_min,
        full_min=tight.cured.full_min,
    )
    return Bed(
        mouths,
        bands.laid,
        (bands,),
        cure,
        at_last=bands.laid_last,
        worked_from=bands.ready,
        worked_min=tight.open_min,
    )


def cure_pick(choosing: Choosing, tight: Tight) -> tuple[Pick, ...]:
    """Ways to cure side by side; none where nothing cures."""
    if tight.cured is None:
        return ()
    offers, within_h = tuple(c.offer for c in tight.cures), choosing.place.joint.within_h
    within = f"within {within_h:g} h" if within_h else "no time is set on the card"
    return (Pick("cure", "cure", within, offers, picked=tight.cured.way, advice=""),)


def as_sleeve(b: StockBoot) -> StockSleeve:
    """A moulded part by its first mouth, as the choice sees it."""
    o = b.openings[0]
    return StockSleeve.model_validate(
        {
            "id": b.id,
            "name": b.name,
            "expanded_id_mm": o.expanded_id_mm,
            "recovered_id_mm": o.recovered_id_mm,
            "recovered_wall_mm": b.recovered_wall_mm,
            "lined": b.lined,
            "shrink_c": b.shrink_c,
            "scorch_c": b.scorch_c,
            "properties": b.properties,
        }
    )
