"""What a family of joints is to the rest of the program: a file, a recipe, a solved stack. Nothing outside a
family's own folder asks which family a joint is of; everything it needs to know, it asks through these."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Any, Protocol, TypeVar

from tinknot.core.choosing.choose import Ranked
from tinknot.core.choosing.park import Parking
from tinknot.core.drawing.model import Section
from tinknot.core.families.asks import Ask, Reading, body_of, doubts_of, missing_words, readings_of
from tinknot.core.families.choice import Choice, Made, Pick
from tinknot.core.formulas.sleeve import Margins
from tinknot.core.joint.head import JointHead
from tinknot.core.joint.profile import Profile
from tinknot.core.joint.questions import Question
from tinknot.core.layers.contract import Layer, Mend, Minutes
from tinknot.core.parts.sleeve import StockSleeve
from tinknot.core.plan.parts import CoreOut, PartOut
from tinknot.core.plan.plan import Plan
from tinknot.core.plan.steps import StepOut
from tinknot.core.plan.ways import Remedy, StaggerWay
from tinknot.core.rulebook import RuleBook
from tinknot.core.world.found import Found


@dataclass(frozen=True, kw_only=True)
class Solution:
    """A stack as far as it could be solved: its layers inside out, every choice of a part, where parts wait.

    `layers` is empty where something is missing for it. `seat`: from edge to edge of what is put on, mm on
    the joint's axis. `stops`: reasons why the joint is not built like this although every part fits;
    `steps`: how many positions the connectors stand in; `greedy`: where choosing layer by layer would have
    gone wrong; `rows`: by step, the row of the leaflet it is of, from 1, where one is followed."""

    layers: tuple[Layer, ...] = ()
    choices: tuple[Choice, ...] = ()
    picks: tuple[Pick, ...] = ()
    outside: Profile | None = None
    seat: tuple[float, float] | None = None
    parking: Parking | None = None
    steps: int = 1
    greedy: str = ""
    rows: Mapping[str, int] | None = None
    stops: tuple[str, ...] = ()
    warnings: tuple[str, ...] = ()

    @property
    def fits(self) -> bool:
        """Whether every choice found a part, everything can be parked, and nothing else stops it."""
        return (
            bool(self.layers)
            and all(c.picked for c in self.choices)
            and all(p.picked for p in self.picks)
            and (self.parking is None or self.parking.fits)
            and not self.stops
        )

    @property
    def finished(self) -> Profile | None:
        """The joint's outside over its seat; None where there is no stack yet."""
        return self.outside.between(*self.seat) if self.outside and self.seat else None

    @property
    def length_mm(self) -> float | None:
        """From edge to edge of what is put on, mm."""
        return self.seat[1] - self.seat[0] if self.seat else None

    def minutes(self, rules: RuleBook) -> Minutes:
        """Hands and waiting, min: of all layers, as if they waited one after the other, and for every
        position of connectors after the first."""
        each = [x.minutes() for x in self.layers]
        positions = (self.steps - 1) * rules.number("time.position_min")
        waiting = min(sum(m.waiting for m in each), LONGEST_MIN)
        return Minutes(sum(m.hands for m in each) + positions, waiting)


S = TypeVar("S", bound=Solution)
LONGEST_MIN = 1e7  # what never hardens is told as a number too


@dataclass(frozen=True)
class Way:
    """A change worth trying: what it is called and what it changes in the draft. `worked` works it through
    and raises InputError where it cannot be. `why` is given where the plan itself does not say it; one
    that `leads` is told before the others, which go by their time; `of`: what it changes, by its name."""

    id: str
    title: str
    change: dict[str, Any]
    worked: Callable[[], tuple["Recipe[Any]", Solution]]
    why: str = ""
    leads: bool = False
    of: str = ""


class Recipe(Protocol[S]):
    """One joint file worked through with one rule book, on one day. Raises InputError for a joint that
    contradicts itself or is beyond the tool."""

    @property
    def joint(self) -> JointHead:
        """The file."""
        ...

    @property
    def rules(self) -> RuleBook:
        """The rule book, a kit sheet's figures laid over it."""
        ...

    @property
    def margins(self) -> Margins:
        """How much more a sleeve must open and close."""
        ...

    @property
    def sleeves(self) -> Mapping[str, StockSleeve]:
        """Every sleeve that may be named in a choice, by id."""
        ...

    def solve(self) -> S:
        """The stack; asked again, it answers the same."""
        ...

    def ways(self, s: S) -> Iterable[Way]:
        """Every change worth working through: for a stack that fits another way to build it, else a mend."""
        ...

    def orders(self, s: S) -> list[Remedy]:
        """What else would help where nothing fits: a part to order, a longer tail."""
        ...

    def why(self, plan: Plan) -> str:
        """What speaks for a way, from its plan."""
        ...

    def staggers(self) -> list[StaggerWay]:
        """The positions of the connectors side by side; empty where there is nothing to choose."""
        ...

    def cores(self, s: S) -> list[CoreOut]:
        """Where each core is cut on both sides."""
        ...

    def first_parts(self, s: S) -> list[PartOut]:
        """Parts that no choice and no layer names: connectors, the box of a kit."""
        ...

    def why_picked(self, choice: Choice, picked: Ranked) -> str:
        """Why this part, in words."""
        ...

    @property
    def skin(self) -> str:
        """What the cable's outside is called."""
        ...

    def free_mm(self) -> dict[str, float]:
        """By end, the straight tail behind its sheath cut on which parts can wait, mm."""
        ...

    def slack_mm(self, s: S) -> dict[str, float | None]:
        """How much of the cable an end can lose, mm; None where nobody measured it."""
        ...

    @property
    def waits_from(self) -> str:
        """Behind what the parts wait that go over the whole cable, in words; empty where nothing is said of
        it."""
        ...

    @property
    def at_last(self) -> Mend | None:
        """What is left to do about any fault when its own ways are shut off; None where a fault says it."""
        ...

    @property
    def remake_spare_mm(self) -> float:
        """What a remake takes besides the cuts, mm an end."""
        ...

    def tools(self) -> Sequence[str]:
        """Tools besides those of the layers."""
        ...

    def safety(self, steps: Sequence[StepOut]) -> list[str]:
        """The usual cautions of this work."""
        ...

    def warnings(self, s: S) -> list[str]:
        """What to mind in this joint."""
        ...

    def as_found(self, s: S) -> Found | None:
        """Each end as the file has it, for the world that plays the plan; None where that is not told yet."""
        ...

    def cost(self, s: S) -> float | None:
        """What its parts cost, of those whose price is known; None when no price is."""
        ...

    def draw(self, s: S) -> Section | None:
        """The drawing, to scale; None where there is nothing to draw."""
        ...

    def extras(self, s: S) -> dict[str, Any]:
        """Fields of the plan that only this family fills."""
        ...

    def arithmetic(self, plan: Plan) -> dict[str, Any]:
        """Fields of the plan that are worked out from the rest of it, once, when it is done."""
        ...


@dataclass(frozen=True)
class Family:
    """A kind of joint: its name in files, how the card calls it, the model of its file, and its recipe.

    `form` is what the page asks its readings with: `ends` (two round ends), `flat` (a flat cable), or
    `asks`, which makes the page from the questions. `place`: where of a draft its own part lies, as a JSON
    Pointer; `body`: what of a draft its file is made of; `words`: what to say where a field is missing, by
    its name; `doubts`: readings nobody should trust; `readings`: what was entered, for the record.
    `sheets`: recipes of kit sheets that may serve it, each with what it makes in words; `needs_sheet`: it
    takes its figures from one; `branches`: B branches off A, which runs on, and may have fewer cores."""

    name: str
    title: str
    file: type[JointHead]
    recipe: Callable[[Any, RuleBook, date | None, Made | None], Recipe[Any]]
    form: str
    place: str
    body: Callable[[Mapping[str, Any]], dict[str, Any]]
    words: Mapping[str, str]
    doubts: Callable[[Mapping[str, Any]], Iterable[Question]]
    readings: Callable[[Mapping[str, Any]], Iterable[Reading]]
    sheets: Mapping[str, str] = field(default_factory=dict)
    needs_sheet: bool = False
    branches: bool = False
    asks: tuple[Ask, ...] = ()
    cautions: tuple[str, ...] = ()


def asking(
    name: str,
    title: str,
    file: type[JointHead],
    recipe: Callable[[Any, RuleBook, date | None, Made | None], Recipe[Any]],
    asks: tuple[Ask, ...],
    cautions: tuple[str, ...] = (),
) -> Family:
    """A family whose readings are asked by questions: everything but file, recipe and questions follows."""
    return Family(
        name,
        title,
        file,
        recipe,
        form="asks",
        place="/asked",
        body=lambda draft: body_of(asks, draft.get("asked", {})),
        words=missing_words(asks),
        doubts=lambda draft: doubts_of(asks, draft.get("asked", {})),
        readings=lambda draft: readings_of(asks, draft),
        asks=asks,
        cautions=cautions,
    )
