"""A straight heat-shrink joint of a round cable, 1 to 5 cores, unscreened, unarmoured, crimped."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from itertools import pairwise
from math import ceil

from tinknot.core.bundle import bundle
from tinknot.core.choose import Candidate, Ranked, Window, choose
from tinknot.core.conductor import resistance_uohm
from tinknot.core.cooling import cool_min
from tinknot.core.errors import InputError
from tinknot.core.joint.cable import cable_ends
from tinknot.core.joint.file import JointFile, StockConnector, StockSleeve
from tinknot.core.joint.profile import Profile, merged
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.crimp import Crimp
from tinknot.core.layers.preparation import Preparation
from tinknot.core.layers.procedure import Procedure
from tinknot.core.layers.sleeves import CoreSleeve, OuterSleeve
from tinknot.core.park import Parking, ParkItem, Side, park
from tinknot.core.recipes.solution import Choice, Made, Solution
from tinknot.core.rulebook import RuleBook
from tinknot.core.sleeve import Margins
from tinknot.core.stagger import Stagger, place_cores, stagger
from tinknot.core.tolerance import at_least, at_most
from tinknot.core.whole import Option, best, greedy, option, worth

LONGEST_WAIT_MIN = 12 * 60  # where the air is hardly colder, a reading ends the wait


def margins(rules: RuleBook) -> Margins:
    """Slide and grip margins of the rule book."""
    return Margins(rules.number("slide.pct"), rules.number("slide.min_mm"), rules.number("grip.pct"))


def _circle(diameters: tuple[float, ...]) -> float:
    return bundle(diameters).enclosing_diameter_mm


class Recipe:
    """One joint file worked through with one rule book, on one day."""

    def __init__(
        self, joint: JointFile, rules: RuleBook, today: date | None = None, made: Made | None = None
    ) -> None:
        joint.check()
        if not at_most(joint.rated_voltage_v, rules.number("voltage.ceiling_v")):
            raise InputError.at(
                "/rated_voltage_v",
                f"is above {rules.number('voltage.ceiling_v'):g} V: a joint that needs stress control is beyond this tool",
            )
        self.joint, self.rules, self.made = joint, rules, made or Made()
        self.a, self.b = cable_ends(joint)
        self.margins = margins(rules)
        self.properties = frozenset(p for d in joint.duties for p in rules.names(f"duty.{d}"))
        self.sleeves = {s.id: s for s in joint.stock.sleeves}
        self.lots = {s.id: s.first_lot(today) for s in joint.stock.sleeves}
        self.candidates = [
            s.candidate(f"/stock/sleeves/{i}", today) for i, s in enumerate(joint.stock.sleeves)
        ]
        self.overlaps = tuple(
            max(rules.number("overlap.outer_min_mm"), rules.number("overlap.outer_per_od") * e.sheath.greatest_mm)
            for e in (self.a, self.b)
        )  # fmt: skip

    def solve(self, steps: int, connectors: Sequence[StockConnector]) -> Solution:
        """The stack for one stagger and one set of connectors, all sleeves chosen together; where nothing
        fits, as far as choosing layer by layer goes."""
        groups = self._core_choices(connectors)
        seen: dict[tuple[str, ...], tuple[Solution, dict[str, Option]]] = {}

        def outer_options(chosen: tuple[Option, ...]) -> Sequence[Option]:
            picks = tuple(o.id for o in chosen)
            if picks not in seen:
                found = self._solve_with(steps, connectors, groups, picks, None)
                outer = found.choices[-1]
                fit = [r for r in self._allowed(outer) if self._parking(r).fits]
                seen[picks] = found, {r.candidate.id: option(r) for r in fit}
            return list(seen[picks][1].values())

        def following(chosen: tuple[Option, ...]) -> Sequence[Option]:
            if len(chosen) == len(groups):
                return outer_options(chosen)
            choice = groups[len(chosen)][1]
            return [option(r, choice.window.pieces) for r in self._allowed(choice)]

        layers = len(groups) + 1
        together, by_layer = best(layers, following), greedy(layers, following)
        chosen = together or by_layer
        inner, outer = tuple(o.id for o in chosen[: len(groups)]), [o.id for o in chosen[len(groups) :]]
        if not outer and len(inner) == len(groups):  # one that fits but cannot be parked shows by how much
            outer = [r.candidate.id for r in self._allowed(seen[inner][0].choices[-1])][:1]
        found = self._solve_with(steps, connectors, groups, inner, outer[0] if outer else None)
        return replace(found, greedy=self._where_greedy_fails(together, by_layer, layers))

    def _where_greedy_fails(
        self, together: tuple[Option, ...] | None, by_layer: tuple[Option, ...], layers: int
    ) -> str:
        """What choosing layer by layer would have come to, where it is worse."""
        if together is None or by_layer == together:
            return ""
        names = ", ".join(self.sleeves[o.id].name or o.id for o in by_layer)
        if len(by_layer) < layers:
            return (
                f"Layer by layer {names} would have been taken first, and then no outer sleeve fits over it."
            )
        theirs, ours = worth(by_layer), worth(together)
        if theirs[1] != ours[1]:
            return f"Layer by layer it would have been {names}: {theirs[1]} layers with too thin a wall instead of {ours[1]}."
        if theirs[2] != ours[2]:
            return f"Layer by layer it would have been {names}: {theirs[2]} layers that only just fit instead of {ours[2]}."
        if theirs[3] != ours[3]:
            return f"Layer by layer it would have been {names}: {theirs[3]:.0f} mm wasted instead of {ours[3]:.0f}."
        return ""

    def _core_choices(self, connectors: Sequence[StockConnector]) -> list[tuple[tuple[int, ...], Choice]]:
        """The choice of each group of cores that are sleeved alike."""
        found = []
        for cores, window in self._core_windows(connectors):
            names = ", ".join(self.a.cores[i].name for i in cores)
            title = f"sleeve on core {names}" if len(cores) == 1 else f"sleeves on cores {names}"
            layer = f"core-sleeve-{self.a.cores[cores[0]].name}"
            found.append((cores, self._choice(layer, title, window, self.joint.choice.core_sleeve)))
        return found

    def _allowed(self, choice: Choice) -> list[Ranked]:
        """What may be picked: the part settled on, else the one already cut, else all that fits."""
        wanted = choice.wanted or (self.made.parts or {}).get(choice.layer)
        own = [r for r in choice.ranked if r.candidate.id == wanted]
        return own if own or choice.wanted else list(choice.ranked)

    def _parking(self, r: Ranked) -> Parking:
        """Where an outer sleeve of this cut waits."""
        return park(
            [ParkItem("outer-sleeve", r.cut_length_mm, self.made.outer_side or self.joint.choice.outer_parks_on, 1)],  # type: ignore[arg-type]
            self.a.free_mm, self.b.free_mm, between_mm=self.rules.number("park.between_mm"),
            keep_away_mm=self.rules.number("park.keep_away_crimp_mm"),
        )  # fmt: skip

    def _core_layer(self, i: int, connector: StockConnector, centre: float) -> CoreSleeve:
        core = self.a.cores[i]
        overlap = max(
            self.rules.number("overlap.core_min_mm"),
            self.rules.number("overlap.core_per_od")
            * max(core.insulation.greatest_mm, self.b.cores[i].insulation.greatest_mm),
        )
        half = (
            connector.length_mm / 2 + connector.growth_mm + self.rules.number("cut.strip_extra_mm") + overlap
        )
        wall = max(core.insulation_wall_mm, self.b.cores[i].insulation_wall_mm)
        return CoreSleeve(
            f"core-sleeve-{core.name}", f"sleeve on core {core.name}", (centre - half, centre + half), self.rules,
            least_wall_mm=wall, properties=self.properties - {"lined"}, voltage_v=self.joint.rated_voltage_v, core=core.name,
        )  # fmt: skip

    def _bare_track(self, i: int, connector: StockConnector, centre: float, gap: float) -> Profile:
        """Core i from sheath cut to sheath cut: insulation, bare conductor, insulation."""
        a, b = self.a.cores[i], self.b.cores[i]
        half = connector.length_mm / 2 + connector.growth_mm + self.rules.number("cut.strip_extra_mm")
        return Profile.of_stretches(
            [
                (-gap / 2, centre - half, a.insulation.greatest_mm, a.insulation.least_mm),
                (centre - half, centre, a.conductor.greatest_mm, a.conductor.least_mm),
                (centre, centre + half, b.conductor.greatest_mm, b.conductor.least_mm),
                (centre + half, gap / 2, b.insulation.greatest_mm, b.insulation.least_mm),
            ]
        )

    def _core_windows(self, connectors: Sequence[StockConnector]) -> list[tuple[tuple[int, ...], Window]]:
        """Cores that ask for the same window are sleeved alike; the window asks for one piece each."""
        groups: dict[tuple[object, ...], list[int]] = {}
        windows: dict[tuple[object, ...], Window] = {}
        for i, connector in enumerate(connectors):
            layer = self._core_layer(i, connector, 0.0)
            reach = layer.span_mm[1] * 2 + 2
            track = Crimp(f"crimp-{i}", "", self.a.cores[i].name, connector, "", 0.0, self.rules).apply(
                self._bare_track(i, connector, 0.0, reach)
            )
            window = layer.requires(track, track)
            assert window is not None
            key = (window.pass_od_mm, window.seal_od_mm, window.profile, window.least_wall_mm)
            groups.setdefault(key, []).append(i)
            windows[key] = window
        return [(tuple(cores), replace(windows[k], pieces=len(cores))) for k, cores in groups.items()]

    def _choice(self, layer: str, title: str, window: Window, wanted: str | None) -> Choice:
        if wanted and wanted not in self.sleeves:
            raise InputError.at("/choice", f"{wanted} is not in stock")
        ranked, rejected = choose(window, self.candidates, self.margins)
        return Choice(layer, title, window, tuple(ranked), tuple(rejected), None, wanted)

    def _layout(
        self, connectors: Sequence[StockConnector], covered: float, supplied: float, steps: int
    ) -> tuple[Stagger, bool]:
        """Where the connectors lie. Work already cut is kept wherever it still serves."""
        r = self.rules
        strip = max(self._strip(c) for c in connectors)
        length = max(c.length_mm + 2 * c.growth_mm for c in connectors)
        needed = strip + supplied + r.number("park.keep_away_crimp_mm")
        butt, clear, between = (
            r.number(f"stagger.{k}") for k in ("butt_gap_mm", "clear_core_mm", "between_mm")
        )
        fresh = stagger(
            len(connectors), length, covered, clear_core_mm=clear, between_mm=between,
            butt_gap_mm=butt, steps=steps, side_needed_mm=needed,
        )  # fmt: skip
        gap, centres = self.made.gap_mm, self.made.centres_mm
        if gap is None or len(centres) != len(connectors):
            return fresh, False
        kept = place_cores(gap, centres, butt)
        places = sorted(set(centres))
        s = max(covered, length)
        apart = all(at_least(q - p, s + between) for p, q in pairwise(places))
        room = at_least(places[0], clear + s / 2) and at_least(gap - places[-1], clear + s / 2)
        reach = all(at_least(max(c.cut_a_mm, c.cut_b_mm), needed) for c in kept.cores)
        return (kept, True) if apart and room and reach and len(places) == steps else (fresh, False)

    def _strip(self, c: StockConnector) -> float:
        return c.insertion_mm + c.growth_mm + self.rules.number("cut.strip_extra_mm")

    def _solve_with(
        self, steps: int, connectors: Sequence[StockConnector], groups: Sequence[tuple[tuple[int, ...], Choice]],
        inner_ids: tuple[str, ...], outer_id: str | None,
    ) -> Solution:  # fmt: skip
        """The stack with the core sleeves and the outer sleeve named; a group without a name stays bare."""
        choices: list[Choice] = []
        picked: dict[int, Choice] = {}
        for n, (cores, given) in enumerate(groups):
            choice = given.with_part(inner_ids[n] if n < len(inner_ids) else None)
            choices.append(choice)
            picked |= dict.fromkeys(cores, choice)
        covered = max(2 * self._core_layer(i, c, 0.0).span_mm[1] for i, c in enumerate(connectors))
        supplied = max((float(c.picked.cut_length_mm) for c in choices if c.picked), default=covered)
        layout, kept = self._layout(connectors, covered, supplied, steps)
        gap = layout.gap_mm
        crimps, sleeves, tracks = [], [], []
        for i, connector in enumerate(connectors):
            core = self.a.cores[i].name
            centre = layout.cores[i].centre_mm - gap / 2
            lot = min((x.id for x in connector.lots if x.on_hand), default="")
            crimp = Crimp(
                f"crimp-{core}", f"connector on core {core}", core, connector, lot, centre, self.rules
            )
            crimps.append(crimp)
            track = crimp.apply(self._bare_track(i, connector, centre, gap))
            if (found := picked[i].picked) is not None:
                side: Side = "a" if at_least(layout.cores[i].cut_a_mm, layout.cores[i].cut_b_mm) else "b"
                part, lot_of = self._part(found.candidate)
                sleeve = replace(
                    self._core_layer(i, connector, centre), part=part, lot=lot_of, cut_length_mm=found.cut_length_mm,
                    park_on=side, pieces=picked[i].window.pieces,
                )  # fmt: skip
                sleeves.append(sleeve)
                track = sleeve.apply(track)
            tracks.append(track)
        inner = self._inner(tracks, gap)
        span = (-gap / 2 - self.overlaps[0], gap / 2 + self.overlaps[1])
        outer = OuterSleeve(
            "outer-sleeve", "outer sleeve", span, self.rules, properties=self.properties,
            voltage_v=self.joint.rated_voltage_v, ends=(self.a, self.b), overlap_mm=(self.overlaps[0], self.overlaps[1]),
            least_wall_mm=max(0.0, min((e.sheath.least_mm - _circle(tuple(c.insulation.greatest_mm for c in e.cores))) / 2 for e in (self.a, self.b))),
        )  # fmt: skip
        choices.append(self._outer_choice(outer, inner).with_part(outer_id))
        solution = Solution(
            (self.a, self.b),
            tuple(connectors),
            steps,
            layout,
            (),
            tuple(choices),
            tuple(tracks),
            inner,
            None,
            None,
            kept,
        )
        outer_pick = choices[-1].picked
        if outer_pick is None or len(sleeves) != len(connectors):
            return solution
        parking = self._parking(outer_pick)
        part, lot_of = self._part(outer_pick.candidate)
        outer = replace(
            outer,
            part=part,
            lot=lot_of,
            cut_length_mm=outer_pick.cut_length_mm,
            park_on="a" if parking.a else "b",
        )
        outside = outer.apply(inner)
        outer = replace(outer, cool_min=self._cool_min(outside.greatest()))
        return replace(
            solution,
            layers=self._stack(layout, crimps, sleeves, outer),
            outside=outside,
            parking=parking,
        )

    def _part(self, candidate: Candidate) -> tuple[StockSleeve, str]:
        lot = self.lots[candidate.id]
        return self.sleeves[candidate.id], lot.id if lot else ""

    def _cool_min(self, outside_mm: float) -> float:
        copper = sum(c.area_mm2 for c in self.a.cores)
        minutes = cool_min(
            outside_mm, copper, from_c=self.rules.number("cool.start_c"), to_c=self.rules.number("cool.touch_c"),
            ambient_c=self.joint.ambient_c, loss_w_m2k=self.rules.number("cool.loss_w_m2k"),
        )  # fmt: skip
        return float(ceil(min(minutes, LONGEST_WAIT_MIN)))

    def _connector_uohm(self, crimp: Crimp) -> float:
        """The greater of both conductors' resistance over the pressed barrel's length."""
        return max(
            resistance_uohm(c.area_mm2, 2 * crimp.half_mm, c.flexibility)
            for c in (self.a.core(crimp.core), self.b.core(crimp.core))
        )

    def _inner(self, tracks: Sequence[Profile], gap: float) -> Profile:
        """Sheath, the bundle of cores, sheath: what the outer sleeve goes over."""
        cores = merged(tracks, _circle)
        if self.joint.bundle_od_mm is not None:  # a measured bundle wins over the calculated circle
            scale = self.joint.bundle_od_mm / cores.greatest()
            cores = Profile.of_stretches(
                (p.x_mm, q.x_mm, p.greatest_mm * scale, p.least_mm * scale)
                for p, q in zip(cores.stations[::2], cores.stations[1::2], strict=True)
            )
        tail = max(self.overlaps) + 60
        a, b = self.a.sheath, self.b.sheath
        return Profile(
            (
                *Profile.of_stretches([(-gap / 2 - tail, -gap / 2, a.greatest_mm, a.least_mm)]).stations,
                *cores.stations,
                *Profile.of_stretches([(gap / 2, gap / 2 + tail, b.greatest_mm, b.least_mm)]).stations,
            )
        )

    def _outer_choice(self, outer: OuterSleeve, inner: Profile) -> Choice:
        window = outer.requires(inner, inner)
        assert window is not None
        return self._choice(outer.id, "outer sleeve", window, self.joint.choice.outer_sleeve)

    def _stack(
        self, layout: Stagger, crimps: list[Crimp], sleeves: list[CoreSleeve], outer: OuterSleeve
    ) -> tuple[Layer, ...]:
        names = [c.name for c in self.a.cores]
        half = layout.gap_mm / 2
        strip = {c.core: c.strip_mm for c in crimps}
        ends = [
            Preparation(
                f"preparation-{e.name}", f"end {e.name} prepared", e,
                {n: c.cut_a_mm if e.name == "A" else c.cut_b_mm for n, c in zip(names, layout.cores, strict=True)},
                strip, self.rules, (-half - 45, half + 5) if e.name == "A" else (-half - 5, half + 45),
                (self.made.setback_mm or {}).get(e.name, 0.0),
            )
            for e in (self.a, self.b)
        ]  # fmt: skip
        procedure = Procedure(
            "procedure", "gates and proofs", self.rules, tuple(names), self.joint.rated_voltage_v,
            parked=tuple(f"park.{s.id}" for s in (outer, *sleeves)), joined=tuple(f"join.{n}" for n in names),
            core_proofs=tuple(f"inspect.{s.id}" for s in sleeves), outer_done=(f"cool.{outer.id}",),
            connector_uohm={c.core: self._connector_uohm(c) for c in crimps},
        )  # fmt: skip
        return (procedure, *ends, *crimps, *sleeves, outer)
