"""What each recipe and each construction needs."""

from collections import Counter
from collections.abc import Iterator, Sequence

from tinknot.core.joint.flatend import laid_open
from tinknot.core.joint.kitsheet import TRACE_ENDS, KitSheet
from tinknot.core.joint.leaflet import BRAIDS, SAID_WIRE, Leaflet, LeafletLayer
from tinknot.core.sheets.doubt import Doubt


def _doubt(words: str, path: str = "/leaflet/layers") -> Doubt:
    return Doubt(path=path, message=words)


def nothing_missing(sheet: KitSheet, construction: str) -> Iterator[Doubt]:
    """What this recipe needs on a cable of this construction, and what such a cable does not have."""
    leaflet, ends = sheet.leaflet, TRACE_ENDS[sheet.recipe]
    assert leaflet is not None
    layers = leaflet.layers_for(construction)
    for end in ends:
        here = [x for x in layers if x.at in (None, end)]
        yield from _opened(leaflet, construction, end, here)
        if _dead(sheet.recipe, end):
            yield from _closed(leaflet, construction, end, here)
        if _live(sheet.recipe, end) and not any(x.kind in ("terminals", "crimp") for x in here):
            yield _doubt(f"end {end}: nothing lands the bus wires; add terminals, crimps or connectors")
    if sheet.recipe in ("trace-splice", "trace-tee"):
        yield from _joined(layers)
        if not any(x.kind in ("tube", "boot", "box") and x.at == "joint" for x in layers):
            yield _doubt("nothing closes the splice; add the tube or the enclosure over both ends")
    for i, x in enumerate(leaflet.layers if construction != "zone" else ()):
        if x.layer == "bus-insulation" and x in layers:
            yield _doubt(
                f"{construction} cable has no insulation on its bus wires: say for which cable this cut is",
                f"/leaflet/layers/{i}/layer",
            )


def _joined(layers: Sequence[LeafletLayer]) -> Iterator[Doubt]:
    """Each wire of a splice or tee by one row; where neither bus wire is, that is said once."""
    rows = Counter(w for x in layers for w in x.joined)
    if neither := not (rows["bus-1"] or rows["bus-2"]):
        yield _doubt("nothing joins the bus wires; add the crimps")
    for wire, said in SAID_WIRE.items():
        if not rows[wire] and not (neither and wire != "braid"):
            yield _doubt(f"nothing joins {said}; add its crimp")
        if rows[wire] > 1:
            yield _doubt(f"{said}: {rows[wire]} rows join it, and it is joined once")


def _dead(recipe: str, end: str) -> bool:
    """Whether the cable stops at this end."""
    return recipe == "trace-end" or (recipe == "trace-power-end" and end == "B")


def _live(recipe: str, end: str) -> bool:
    """Whether this end is fed from terminals."""
    return recipe in ("trace-power", "trace-power-end") and end == "A"


def _opened(leaflet: Leaflet, construction: str, end: str, here: Sequence[LeafletLayer]) -> Iterator[Doubt]:
    """How an end is laid open: the braid once, the core stripped as far as a cut says."""
    braids = [x for x in here if x.kind in BRAIDS]
    kinds = [x.kind for x in here]
    if not braids and "braid-forward" not in kinds:
        yield _doubt(f"end {end}: nothing is said of the braid")
    elif len(braids) > 1:
        yield _doubt(f"end {end}: the braid is treated twice; keep one of its layers")
    stripped, opened = "strip-core" in kinds, laid_open(leaflet, construction, end)
    core = "overlay" if construction == "zone" else "matrix"
    if stripped and not opened.core_mm:
        yield _doubt(f"end {end}: the {core} is stripped, and nothing says how far")


def _closed(leaflet: Leaflet, construction: str, end: str, here: Sequence[LeafletLayer]) -> Iterator[Doubt]:
    """How a dead end is made: bus wires apart, and a closed end over them."""
    stripped, staggered = (any(x.kind == k for x in here) for k in ("strip-core", "bus-stagger"))
    bus = laid_open(leaflet, construction, end).bus_mm
    if stripped and not staggered:
        yield _doubt(
            f"end {end} is dead: one bus wire is cut shorter, each taped alone, then both; add that layer"
        )
    if stripped and staggered and bus[0] == bus[1]:
        yield _doubt(f"end {end}: both bus wires end at the same place; cut one of them shorter")
    if not any(x.kind in ("cap", "boot") or (x.kind == "tube" and x.pinched) for x in here):
        yield _doubt(f"end {end} stays open: a cap, a boot or a pinched tube closes it")
