"""The covers of a straight joint put on one after the other, inside out, each chosen for what is under it."""

from collections.abc import Callable
from dataclasses import replace
from math import ceil

from tinknot.core.families.choice import Choice, Pick
from tinknot.core.families.lowvoltage.job import Job, circle
from tinknot.core.families.straight import base, earth, pouring
from tinknot.core.families.straight.assembly import Assembly
from tinknot.core.families.straight.cores import Cores
from tinknot.core.families.straight.covered import Covered
from tinknot.core.families.straight.covers import Cover, Other, inside_out, sealed_mm, thin
from tinknot.core.families.straight.inside import Inside, OpenCores, Sleeved
from tinknot.core.joint.cable import CableEnd
from tinknot.core.layers.cover_sleeve import CoverSleeve
from tinknot.core.layers.crutch import CrutchFill, between_mm2
from tinknot.core.layers.tapes import PlainWrap, grows_mm
from tinknot.core.tolerance import at_least


class Covering(Assembly):
    """What goes over the joined cores. `sleeve_layer` is the layer of a cover."""

    sleeve_layer: type[CoverSleeve] = CoverSleeve

    def __init__(self, job: Job) -> None:
        super().__init__(job)
        self.order = self.inside_out()
        self.covers = [x for x in self.order if isinstance(x, Cover)]

    def inside_out(self) -> list[Cover | Other]:
        """The covers, and what goes on between them."""
        return inside_out(self.job)

    def _go_on(self, cores: Cores, c: Covered) -> Covered:
        """Everything up to the next sleeve that has to be chosen: earth bond, shell, mastic, build-up."""
        for at in range(c.at, len(self.order)):
            put = self.order[at]
            if isinstance(put, Cover):
                return self._choose_next(cores, replace(c, at=at), put)
            c = PUT_ON[put](self, cores, c)
            if c.stuck:
                return c
        return c

    def _fill_crutch(self, cores: Cores, c: Covered) -> Covered:
        """Mastic, or else self-amalgamating tape, where the cores part."""
        job = self.job
        if len(job.a.cores) < 2 or job.made.began_without("wrap.crutch.A"):
            return c
        tape = job.tape("mastic") or job.tape("self-amalgamating")
        if tape is None:
            words = "The crutches are to be filled: neither mastic nor self-amalgamating tape is in stock."
            return replace(c, warnings=(*c.warnings, words))
        cores_mm = {e.name: tuple(x.insulation.greatest_mm for x in e.cores) for e in job.ends}
        at = {
            end: (x, between_mm2(circle(cores_mm[end]), cores_mm[end]))
            for end, x in zip(("A", "B"), cores.crutch_mm, strict=True)
        }
        return c.on(CrutchFill("crutch", "crutch filled", tape, tape.first_lot(job.today), at, job.rules))

    def _cast(self, cores: Cores, c: Covered) -> Covered:
        """The shell with its pour."""
        within: Inside
        if not any(x.closes for x in self.covers):
            within = OpenCores(self.job, cores, [y for x in c.layers for y in x.solids()])
        else:
            spans = [x.closes_mm() or (0.0, 0.0) for x in c.layers]
            within = Sleeved(self.job, c.outside, (min(a for a, _ in spans), max(b for _, b in spans)))
        shell, picks = pouring.poured(self.job, within, c.outside)
        c = replace(c, picks=(*c.picks, *picks), stuck=shell is None)
        return c.on(shell) if shell else c

    def _bond(self, cores: Cores, c: Covered) -> Covered:
        """The earth bond over all there is so far, where armour is to be earthed."""
        if not earth.needed(self.job):
            return c
        around = c.outside.between(*cores.crutch_mm).greatest()
        bond, picks = earth.bond(self.job, cores, around)
        warnings = list(c.warnings)
        if not self.job.build.earth:
            warnings.append("No fault current on the card: the strap is only the rule book's least.")
        if bond and bond.mesh is None and earth.restores(self.job):
            warnings.append("No metal mesh in stock: the strap joins the armour, its screen stays open.")
        c = replace(c, picks=(*c.picks, *picks), warnings=tuple(warnings), stuck=bond is None)
        if bond is None:
            return c
        c = c.on(bond)
        over, words = earth.over_springs(self.job, bond, c.outside)
        for wrap in over:
            c = c.on(wrap)
        return replace(c, warnings=(*c.warnings, *words))

    def _choose_next(self, cores: Cores, c: Covered, cover: Cover) -> Covered:
        """The choice of the next sleeve, on what lies under it."""
        job = self.job
        if cover.closes:
            filled, words = base.fill(job, c.outside, cover.lies(job, cores))
            c = replace(c, warnings=(*c.warnings, *words))
            built, picks = self._build_up(cores, c)
            c = replace(c, picks=(*c.picks, *picks))
            for wrap in (*filled, *built):
                c = c.on(wrap)
        sleeve = self._sleeve(cores, cover)
        way = sleeve.span_mm
        if cover.slides:
            low, high = sealed_mm(job, cores)
            way = min(way[0], low), max(way[1], high)
        window = sleeve.requires(c.outside, c.outside.between(*way))
        assert window is not None
        limp = any(e.flat for e in job.ends) and cover.drawn != "barrier"
        choice = job.sleeve_choice(cover.id, cover.title, window, cover.form, cover.slot, limp=limp)
        if cover.form != "wrap-around" and all(job.landed):
            choice = _none_closed(choice)
        return replace(c, choices=(*c.choices, choice), pending=sleeve)

    def _put_on(self, cores: Cores, c: Covered, part_id: str) -> Covered:
        """The pending sleeve with its part named, and on to the next."""
        pending = c.pending
        assert pending is not None
        choice = c.choices[-1].with_part(part_id)
        c = replace(c, choices=(*c.choices[:-1], choice))
        if choice.picked is None:
            return replace(c, pending=None, stuck=True)
        cover: CoverSleeve = replace(
            pending,
            part=self.job.sleeves[part_id],
            lot=self.job.lots[part_id],
            cut_length_mm=choice.picked.cut_length_mm,
        )
        if cover.hot:
            over = cover.apply(c.outside).between(*cover.span_mm).greatest()
            cover = replace(
                cover, cool_min=self.job.cool_min(over, sum(x.area_mm2 for x in self.job.a.cores))
            )
        return self._go_on(cores, replace(c.on(cover), pending=None, at=c.at + 1))

    def _sleeve(self, cores: Cores, cover: Cover) -> CoverSleeve:
        """The layer of a cover, its part still to be named."""
        job = self.job
        return self.sleeve_layer(
            cover.id,
            cover.title,
            cover.lies(job, cores),
            job.rules,
            properties=cover.properties(job),
            voltage_v=job.joint.rated_voltage_v if cover.bears else None,
            ends=cover.ends(job),
            overlap_mm=cover.overlaps_mm(job, cores),
            least_wall_mm=min(self.replaced_wall_mm(e) for e in job.ends) if cover.closes else 0.0,
            seals=cover.seals,
            over=cover.over,
            closes=cover.closes,
            drawn=cover.drawn,
            flexes="moving" in job.joint.duties and not {"buried", "immersed"} & {*job.joint.duties},
        )

    def replaced_wall_mm(self, e: CableEnd) -> float:
        """The wall that the closing sleeve takes over, mm: the sheath's."""
        if e.flat:  # the cores lie beside each other
            return max(0.0, (e.sheath.least_mm - max(c.insulation.greatest_mm for c in e.cores)) / 2)
        inner = (
            e.armour.bedding.least_mm + 2 * e.armour.thickness_mm
            if e.armour
            else circle(tuple(c.insulation.greatest_mm for c in e.cores))
        )
        return max(0.0, (e.sheath.least_mm - inner) / 2)

    def _build_up(self, cores: Cores, c: Covered) -> tuple[list[PlainWrap], list[Pick]]:
        """Tape on the thinner sheath until the best sleeve that passes grips it."""
        job = self.job
        if job.build.thin_side != "tape":
            return [], []
        pick = job.tape_pick(
            "build-up", "tape on the thin side", "self-amalgamating", "up to what a sleeve grips"
        )
        tape = job.tape("self-amalgamating")
        thinner = thin(job.ends)
        half, over = cores.layout.gap_mm / 2, base.over_sheath_mm(job)
        spot = (-half - over[0] - 10, -half) if thinner.name == "A" else (half, half + over[1] + 10)
        need = job.margins.needed_expanded_mm(c.outside.between(*sealed_mm(job, cores)).greatest())
        passing = [
            x.tube.recovered_id_mm
            for form, x in job.candidates
            if form == "tube" and at_least(x.tube.expanded_id_mm, need) and job.properties <= x.properties
        ]
        if tape is None or not passing:
            return [], [pick]
        wanted = job.margins.least_gripped_mm(min(passing))
        passes = ceil(max(0.0, wanted - thinner.sheath.least_mm) / grows_mm(tape) * (1 - 1e-9))
        if passes < 1:
            return [], [pick]
        wrap = PlainWrap(
            "build-up",
            f"tape on the thinner sheath, {thinner.name}",
            tape,
            tape.first_lot(job.today),
            spot,
            passes,
            thinner.sheath.greatest_mm,
            job.rules,
            text="Roughen and degrease the sheath first. Wind it even: the sleeve grips on it.",
        )
        return [wrap], [pick]


PUT_ON: dict[Other, Callable[[Covering, Cores, Covered], Covered]] = {
    "crutch": Covering._fill_crutch,
    "bond": Covering._bond,
    "cast": Covering._cast,
}


def _none_closed(choice: Choice) -> Choice:
    return replace(choice, ranked=(), barred="both ends sit in glands: nothing closed can be threaded on")
