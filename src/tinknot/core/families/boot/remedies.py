"""What is left where no moulded part fits: another one, a mouth built up, a split one, an adapter, pieces
over ends that stay open."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from tinknot.core.choosing.choose import Candidate
from tinknot.core.families.choice import Choice
from tinknot.core.families.moulded.choosing import PART, Choosing
from tinknot.core.families.moulded.job import MouldedJob
from tinknot.core.figures import LEAST, MOST, capital, mm
from tinknot.core.formulas.sleeve import Margins, fit
from tinknot.core.parts.bonding import serves_at
from tinknot.core.parts.boot import StockBoot
from tinknot.core.plan.ways import Remedy
from tinknot.core.tolerance import at_least, at_most, whole_down, whole_up

MOST_SAID = 3  # parts that are named one by one


@dataclass(frozen=True)
class Remedies:
    """For a place where no part fits; `choices`: of its mouths."""

    choosing: Choosing
    choices: Sequence[Choice]

    @property
    def joint(self) -> MouldedJob:
        """What the part goes on."""
        return self.choosing.place.joint

    @property
    def margins(self) -> Margins:
        """The site's."""
        return self.choosing.margins

    def all(self) -> Iterator[Remedy]:
        """In the order they are worth trying; figures in mm."""
        joint = self.joint
        mouths = "; ".join(self._wanted(c) for c in self.choices)
        why = f"{mouths}. {self._must()}"
        if joint.landed == "both":
            why = (
                "Closed parts are out where both ends are landed: a split part, a wrap-around sleeve, or one"
                f" end taken off. {capital(why)}"
            )
            yield Remedy(id="split-part", title="Take a split part", why=why, change={})
            return
        yield Remedy(id=f"order-{PART}", title=f"Order a {self.choosing.title}", why=why, change={})
        if joint.landed != "no":
            why = "A split part goes round what is in the way."
            yield Remedy(id="split-part", title="Take a split part", why=why, change={})
        for c in self.choices:
            yield from self._built_up(c)
        if joint.job == "fitting":
            title = "Put an adapter on the fitting"
            yield Remedy(id="adapter", title=title, why=self._adapter(), change={})
        if joint.job == "straight" or (joint.job == "fitting" and joint.angle == "0"):
            title = "Take a straight shape with end pieces"
            yield Remedy(id="end-pieces", title=title, why=self._end_pieces(), change={})

    def _must(self) -> str:
        """What else it must be: its mouths, its angle, what it stands, how hot and cold."""
        j = self.joint
        words = [f"{len(self.choices)} mouth{'s' if len(self.choices) > 1 else ''}"]
        if j.job == "fitting":
            words.append("straight" if j.angle == "0" else f"an angle of {j.angle}°")
        words += sorted(self.choosing.properties - {"lined"})
        words.append(f"good from {j.cold_c:g} to {j.hot_c:g} °C")
        return f"It has {', '.join(words)}."

    def _stands(self, part: StockBoot) -> bool:
        """Whether a part stands what the joint will live in."""
        j = self.joint
        cold_or_hot = serves_at(part.service_from_c, part.service_to_c, j.cold_c, j.hot_c)
        return not cold_or_hot and self.choosing.properties - {"lined"} <= {*part.properties}

    def _wanted(self, c: Choice) -> str:
        opens = _up(self.margins.needed_expanded_mm(c.window.pass_od_mm))
        closes = _down(self.margins.allowed_recovered_mm(c.window.seal_od_mm))
        return f"{c.title} opens past {mm(opens, LEAST):g} mm and closes under {mm(closes, MOST):g} mm"

    def _built_up(self, c: Choice) -> Iterator[Remedy]:
        """The mouth that is least too wide: built up under it until it grips, as long as it still passes."""
        loose = [
            r
            for r in c.rejected()
            if r.fit.grip_short_by_mm > 0
            and r.fit.pass_short_by_mm <= 0
            and r.candidate.id not in self.choosing.bars  # tape mends a mouth, not an angle or a fluid
        ]
        for r in sorted(loose, key=lambda r: (r.fit.grip_short_by_mm, r.candidate.id)):
            tube = r.candidate.tube
            need = _up(self.margins.least_gripped_mm(tube.recovered_id_mm))
            if at_most(self.margins.needed_expanded_mm(need), tube.expanded_id_mm):
                yield Remedy(
                    id=f"build-up-{c.layer}",
                    title=f"Build up under {c.title if c.of else 'it'}",
                    why=(
                        f"Self-amalgamating tape to {mm(need):g} mm, then measure and plan again:"
                        f" {r.candidate.id} grips it."
                    ),
                    change={},
                )
                return

    def _in_stock(self) -> list[StockBoot]:
        """Parts of two mouths that are there."""
        return [
            b for b in self.joint.stock.boots if len(b.openings) == 2 and b.free(self.choosing.today) != 0
        ]

    def _adapter(self) -> str:
        """Which adapters would let parts in stock that fit the cable go on the fitting."""
        cable, found = self.choices[1].window, []
        for b in self._in_stock():
            on_cable = fit(b.tube(1), cable.pass_od_mm, cable.seal_od_mm, self.margins)
            if b.angle == self.joint.angle and self._stands(b) and on_cable.verdict == "fits":
                lip = b.tube(0)
                least = _up(self.margins.least_gripped_mm(lip.recovered_id_mm))
                most = _down(min(self.margins.most_passed_mm(b.tube(n).expanded_id_mm) for n in (0, 1)))
                if self.joint.landed == "no":
                    most = _down(self.margins.most_passed_mm(lip.expanded_id_mm))  # it goes on over the cable
                wide = f", at least {mm(b.lip_mm, LEAST):g} mm wide" if b.lip_mm is not None else ""
                found.append(
                    f"{b.id}: a groove of {mm(least):g} mm and more{wide}, nothing over"
                    f" {mm(most, LEAST):g} mm"
                )
        if not found:
            return (
                "One whose groove suits a boot that fits the cable; none in stock does. Order both together."
            )
        return f"For what is in stock and fits the cable: {_said(found)}. Measure it and plan again."

    def _end_pieces(self) -> str:
        """Straight shapes in stock that pass and stay open at an end, and what closes that."""
        found = []
        for b in self._in_stock():
            fits = [
                fit(b.tube(n), c.window.pass_od_mm, c.window.seal_od_mm, self.margins)
                for n, c in enumerate(self.choices)
            ]
            open_ends = [n for n, f in enumerate(fits) if f.grip_short_by_mm > 0]
            if (
                b.angle == "0"
                and self._stands(b)
                and open_ends
                and all(f.pass_short_by_mm <= 0 for f in fits)
            ):
                found += [self._piece(b, n) for n in open_ends]
        if not found:
            return "A short sleeve of a higher ratio over each cooled end that stays open."
        return f"Over the cooled end that stays open, lined and of a higher ratio. {_said(found)}."

    def _sleeves(self) -> Iterator[Candidate]:
        """Sleeves in stock of which there is enough for a piece."""
        rules = self.choosing.rules
        long = rules.number("sleeve.piece_overlap_mm") + rules.number("overlap.outer_min_mm")
        for s in self.joint.stock.sleeves:
            c = s.candidate("", self.choosing.today)
            if c.on_hand_mm is None or at_least(c.on_hand_mm, long):
                yield c

    def _piece(self, b: StockBoot, n: int) -> str:
        """What goes over one open end of a part, and what in stock does."""
        on = self.choices[n].window.seal_od_mm
        over = b.tube(n).od_mm(on)
        opens = _up(self.margins.needed_expanded_mm(over))
        closes = _down(self.margins.allowed_recovered_mm(on))
        good = [
            c.id for c in self._sleeves() if c.lined and fit(c.tube, over, on, self.margins).verdict == "fits"
        ]
        which = f": {' or '.join(good[:MOST_SAID])}" if good else ", none in stock"
        window = f"one that opens past {mm(opens, LEAST):g} mm and closes under {mm(closes, MOST):g} mm"
        return f"{b.id}, {self.choices[n].title}: {window}{which}"


def _said(found: Sequence[str]) -> str:
    more = len(found) - MOST_SAID
    return "; ".join(found[:MOST_SAID]) + (f"; and {more} more" if more > 0 else "")


def _up(mm: float) -> float:
    return whole_up(mm * 10) / 10


def _down(mm: float) -> float:
    return whole_down(mm * 10) / 10
