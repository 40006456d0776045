"""A straight joint as it is worked through: its file with the rule book, and what its kind has of its own."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property

from tinknot.core.families.lowvoltage.connectors import Set
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.straight.cores import Cores, Groups
from tinknot.core.families.straight.covers import Cover, Other
from tinknot.core.joint.cable import CableEnd
from tinknot.core.layers.cover_sleeve import CoverSleeve
from tinknot.core.layers.preparation import Preparation


@dataclass(frozen=True)
class Kind:
    """What a cable and a single wire differ in. `covers`: what goes over the joined cores, inside out; `end`,
    `sleeve`: the layers that ends and covers are made of; `groups`: the choices of the cores' own sleeves;
    `join`: the cores joined and insulated; `wall_mm`: the wall of an end that the closing sleeve takes over;
    `covered`: its cores are covered, and proved, before something else closes over them; `skin`: what its
    outside is called; `ways`: what is worth changing, empty for all."""

    covers: Callable[[Job], Sequence[Cover | Other]]
    end: type[Preparation]
    sleeve: type[CoverSleeve]
    groups: Callable[[Job, Set], Groups]
    join: Callable[[Job, int, Set, Groups], Cores]
    wall_mm: Callable[[CableEnd], float]
    covered: bool = True
    skin: str = "sheath"
    ways: tuple[str, ...] = ()


@dataclass(frozen=True)
class Work:
    """One joint of one kind."""

    job: Job
    kind: Kind

    @cached_property
    def order(self) -> list[Cover | Other]:
        """The covers, and what goes on between them."""
        return list(self.kind.covers(self.job))

    @cached_property
    def covers(self) -> list[Cover]:
        """The covers alone."""
        return [x for x in self.order if isinstance(x, Cover)]
