"""What lies in a cable under its sheath: units of cores, what screens each and all of them, and what is
otherwise of single cores."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import accumulate, groupby

from tinknot.core.errors import InputError

UNIT = {1: "core", 2: "pair", 3: "triple", 4: "quad"}
SCREENS = ("foil", "drain", "braid")  # inside out
MOST_SAID = 4  # names of single cores that are said one by one


@dataclass(frozen=True)
class Unit:
    """`cores` twisted together (1: a single core) of `area_mm2` each, and the `screens` of its own, inside
    out."""

    cores: int
    area_mm2: float
    screens: tuple[str, ...] = ()

    @property
    def kind(self) -> str:
        """What it is called by its number of cores."""
        return UNIT[self.cores]

    @property
    def written(self) -> str:
        """As it is written after how many there are, without its screens."""
        return (f"{self.cores} × " if self.cores > 1 else "") + f"{self.area_mm2:g} mm²"


@dataclass(frozen=True)
class MakeUp:
    """The units in their order, and what screens all of them, inside out, of foil, drain and braid; `names`:
    of the cores, unit by unit, where they have some. `called`: cores by their numbers that are called
    otherwise; `spare`: units, from 1, that are joined to none; `coloured`: named by the site's colours in
    their order; `numbers`: of the units that are left, where some are taken out."""

    members: tuple[Unit, ...]
    overall: tuple[str, ...] = ()
    names: tuple[tuple[str, ...], ...] = ()
    called: tuple[tuple[str, str], ...] = ()
    spare: tuple[int, ...] = ()
    coloured: bool = False
    numbers: tuple[int, ...] = ()

    @classmethod
    def alike(
        cls,
        units: int,
        cores: int,
        area_mm2: float,
        each: tuple[str, ...] = (),
        overall: tuple[str, ...] = (),
    ) -> "MakeUp":
        """Of `units` units that are all alike."""
        return cls((Unit(cores, area_mm2, each),) * units, overall)

    @property
    def units(self) -> int:
        """How many there are."""
        return len(self.members)

    @property
    def cores(self) -> int:
        """How many there are in all units."""
        return sum(u.cores for u in self.members)

    @property
    def most_cores(self) -> int:
        """Of the unit that has most."""
        return max(u.cores for u in self.members)

    @property
    def sections(self) -> int:
        """How many sections of conductor there are among its cores."""
        return len({u.area_mm2 for u in self.members})

    @property
    def unit_word(self) -> str:
        """What a unit of several cores is called, if all of these are alike; else a unit."""
        kinds = {u.kind for u in self.members if u.cores > 1} or {UNIT[1]}
        return kinds.pop() if len(kinds) == 1 else "unit"

    @property
    def settled(self) -> "MakeUp":
        """Where there is one unit only, what screens it screens all of the cable."""
        one = self.members[0]
        if self.units > 1 or not one.screens or set(one.screens) & set(self.overall):
            return self
        over = tuple(s for s in SCREENS if s in (*one.screens, *self.overall))
        return replace(self, members=(replace(one, screens=()),), overall=over)

    def screened_by(self, screen: str) -> tuple[int, ...]:
        """The units (from 0) that have this screen of their own."""
        return tuple(n for n, u in enumerate(self.members) if screen in u.screens)

    def unit(self, n: int) -> tuple[str, ...]:
        """The names of the cores of unit `n` (from 0)."""
        if self.names:
            return self.names[n]
        called = dict(self.called)
        return tuple(called.get(x, x) for x in self.labels(n))

    def labels(self, n: int) -> tuple[str, ...]:
        """The numbers of the cores of unit `n` (from 0)."""
        number, cores = self.number(n), self.members[n].cores
        return (number,) if cores == 1 else tuple(number + "abcd"[i] for i in range(cores))

    def number(self, n: int) -> str:
        """The number of unit `n` (from 0)."""
        return str(self.numbers[n] if self.numbers else n + 1)

    def named(self, colours: tuple[str, ...], path: str = "/make_up") -> "MakeUp":
        """With the names that `colours` give in their order, if it is named by them. Raises InputError under
        `path` where there are too few."""
        if not self.coloured:
            return self
        if len(colours) < self.cores:
            raise InputError.at(
                path, f"has {self.cores} cores by colour, the rule book lists {len(colours)} colours"
            )
        called, first = dict(self.called), [0, *accumulate(u.cores for u in self.members)]
        each = [tuple(zip(self.labels(n), colours[first[n] :], strict=False)) for n in range(self.units)]
        return replace(self, names=tuple(tuple(called.get(x, c) for x, c in unit) for unit in each))

    def only(self, units: tuple[int, ...]) -> "MakeUp":
        """With these of its units (from 0), which keep their numbers and names."""
        return replace(
            self,
            members=tuple(self.members[n] for n in units),
            names=tuple(self.unit(n) for n in units),
            numbers=tuple(int(self.number(n)) for n in units),
            called=(),
            spare=(),
            coloured=False,
        )

    def calling(self, label: str, name: str) -> "MakeUp":
        """With the core of that number called `name`; by its number again where the name is empty."""
        rest = tuple((x, y) for x, y in self.called if x != label)
        return replace(self, called=(*rest, (label, name)) if name and name != label else rest)

    def sparing(self, unit: int, spare: bool) -> "MakeUp":
        """With a unit (from 1) spare or not."""
        rest = {n for n in self.spare if n != unit}
        return replace(self, spare=tuple(sorted(rest | ({unit} if spare else set()))))

    def screening(self, unit: int, screens: tuple[str, ...]) -> "MakeUp":
        """With these screens of its own on a unit (from 1)."""
        members = (replace(u, screens=screens) if n == unit else u for n, u in enumerate(self.members, 1))
        return replace(self, members=tuple(members))

    @property
    def groups(self) -> list[tuple[int, Unit]]:
        """Units that are alike and follow each other: how many, and what they are."""
        return [(len(list(g)), u) for u, g in groupby(self.members)]

    @property
    def written(self) -> str:
        """As it is written in one line, so that it can be read again."""
        groups = self.groups
        comma = "," if len(groups) == 1 else ""
        said = [
            f"{n} × {u.written}" + (f"{comma} each {_listed(u.screens)}" if u.screens else "")
            for n, u in groups
        ]
        over = f", {_listed(self.overall)} over all" if self.overall else ""
        return " + ".join(said) + over + "".join(f", {x}" for x in self._otherwise)

    @property
    def _otherwise(self) -> list[str]:
        """What is otherwise of single cores and units, in words that can be read again."""
        return [*(["by colour"] if self.coloured else []), *self._called, *self._spare]

    @property
    def _called(self) -> list[str]:
        return [f"core {label} is {name}" for label, name in self.called]

    @property
    def _spare(self) -> list[str]:
        kinds = {n: u.kind for n, u in enumerate(self.members, 1)}
        return [f"{kinds.get(n, 'unit')} {n} spare" for n in self.spare]

    @property
    def said(self) -> str:
        """In words, as it is read back."""
        what = [
            f"{n} {u.kind}{'s' if n != 1 else ''} of {u.area_mm2:g} mm²"
            + (f", each {u.kind} with {_listed(u.screens)}" if u.screens else "")
            for n, u in self.groups
        ]
        over = f", {_listed(self.overall)} over all" if self.overall else ""
        called = self._called
        if len(called) > MOST_SAID:
            called = [f"{len(called)} of the cores by names of their own"]
        own = [*(["by colour"] if self.coloured else []), *called, *self._spare]
        return "; ".join(what) + over + "".join(f", {x}" for x in own)


def _listed(names: tuple[str, ...]) -> str:
    return " and ".join(names)


def insulated(cable: MakeUp, thickest_mm: float, thinnest_mm: float | None) -> tuple[float, ...]:
    """The diameter of a core of each unit, mm, where the thickest was measured and, if not all are alike,
    the thinnest: between them it goes with the conductor's diameter, an estimate. Cores of one section are
    all taken as the thickest."""
    wide = [u.area_mm2**0.5 for u in cable.members]
    low, high = min(wide), max(wide)
    if thinnest_mm is None or high - low < 1e-9:
        return (thickest_mm,) * cable.units
    return tuple(thinnest_mm + (thickest_mm - thinnest_mm) * (w - low) / (high - low) for w in wide)


@dataclass(frozen=True)
class Joined:
    """What is joined of two cables, unit by unit in the same order, and what is `spare` on each."""

    a: MakeUp
    b: MakeUp
    spare: tuple[tuple[str, ...], tuple[str, ...]]


def joined(a: MakeUp, b: MakeUp) -> Joined:
    """Units of the same names to each other, core to core of its name in whatever order they stand; the rest
    in their order, those of a section to those of the same, and pairs to pairs: as many as both have."""
    left, right = (tuple(n for n in range(x.units) if n + 1 not in x.spare) for x in (a, b))
    names_a, names_b = ({frozenset(x.unit(n)): n for n in of} for x, of in ((a, left), (b, right)))
    alike = [(names_a[u], names_b[u]) for u in names_a if u in names_b]
    if len(alike) < min(len(left), len(right)):  # numbers that nobody gave count from the first unit on
        alike = [(x, y) for x, y in alike if {*a.unit(x)} != {*a.labels(x)}]
    rest = _in_order(
        a,
        b,
        [n for n in left if n not in {x for x, _ in alike}],
        [n for n in right if n not in {y for _, y in alike}],
    )
    two = sorted([*alike, *rest])
    spare = tuple(
        tuple(name for n in range(x.units) if n not in taken for name in x.unit(n))
        for x, taken in ((a, {n for n, _ in two}), (b, {n for _, n in two}))
    )
    of_b = b.only(tuple(n for _, n in two))
    return Joined(
        a.only(tuple(n for n, _ in two)),
        replace(of_b, names=tuple(_turned(a.unit(x), b.unit(y)) for x, y in two)),
        (spare[0], spare[1]),
    )


def _turned(a: tuple[str, ...], b: tuple[str, ...]) -> tuple[str, ...]:
    """The cores of a unit of B beside those of A they are joined to: their namesakes, the others in order."""
    others = iter(name for name in b if name not in a)
    return tuple(name if name in b else next(others) for name in a)


def _in_order(a: MakeUp, b: MakeUp, left: Sequence[int], right: Sequence[int]) -> list[tuple[int, int]]:
    """Which unit of A goes to which of B: the first of its kind and section that is left, else of its
    kind."""
    found: dict[int, int] = {}
    for same in (
        lambda x, y: (x.cores, x.area_mm2) == (y.cores, y.area_mm2),
        lambda x, y: x.cores == y.cores,
    ):
        for n in left:
            if n not in found:
                free = (m for m in right if m not in found.values() and same(a.members[n], b.members[m]))
                if (first := next(free, None)) is not None:
                    found[n] = first
    return sorted(found.items())
