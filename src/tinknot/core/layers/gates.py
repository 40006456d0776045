"""Gates and holds, as every family puts them together: isolated, measured, counted, looked at, proved,
released."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from tinknot.core.acts import Act, Attest, Bridge, Look, Note, Place, Thing
from tinknot.core.facts import (
    CONNECTED,
    DONE,
    EVERY,
    GAS_FREE,
    ISOLATED,
    PROVED,
    SCREEN_DEAD,
    Fact,
    of,
)
from tinknot.core.layers.contract import Fault, Gate, Held, Hold, Layer, Minutes, Reading, Step
from tinknot.core.rulebook import RuleBook

ATTESTS: dict[Hold, Act] = {
    "isolated": Attest(what="isolated"),
    "measured": Attest(what="measured"),
    "parked": Attest(what="counted"),
    "before-closing": Attest(what="covered"),
    "sealed-and-proved": Attest(what="proved"),
    "released": Attest(what="released"),
}  # what a hold says that is so
LABELLED = Note(thing=Thing("label", "label"))
DEFER = "Defer to the local code and the permit. If in doubt, stop."
BRIDGE = "screen bridge"
TOOLS = ("voltage tester and its proving unit", "insulation tester", "continuity tester", "calliper")


@dataclass(frozen=True)
class Procedure(Layer):
    """Gates and proofs around the layers: `told`, in the order in which they are told, and `seen`, what can
    be seen to go wrong at them."""

    around = True
    rules: RuleBook
    told: tuple[Step, ...]
    seen: tuple[Fault, ...] = ()

    def work(self) -> tuple[Step, ...]:
        """As they are told."""
        return self.told

    def faults(self) -> tuple[Fault, ...]:
        """Those of tests that are asked for here."""
        return self.seen

    def minutes(self) -> Minutes:
        """Setting up, isolating, measuring, labelling, signing."""
        return Minutes(self.rules.number("time.base_min"))

    def tools(self) -> tuple[str, ...]:
        """Proving, and looking for a current where a screen is proved dead."""
        said = {a.what for s in self.told for a in s.acts if isinstance(a, Attest)}
        return (*TOOLS, "clamp meter") if "screen-dead" in said else TOOLS


def procedure(rules: RuleBook, told: Iterable[Step], seen: Iterable[Fault] = ()) -> Procedure:
    """The gates and proofs of a joint."""
    return Procedure("procedure", "gates and proofs", rules, tuple(told), seen=tuple(seen))


def hold(rules: RuleBook, name: Hold, step: Step) -> Step:
    """A step as a hold; it says that something is so, unless it is a look."""
    second = name == "released" or name in rules.names("holds.second_person")
    said = (ATTESTS[name],) if name in ATTESTS else ()
    return replace(step, held=Held(name, second), acts=step.acts or said)


def isolated(rules: RuleBook, title: str, text: str, caution: str = DEFER) -> Step:
    """Dead, and proved so."""
    step = Step("isolated", title, "gate", "card", text=text, caution=caution)
    return hold(rules, "isolated", step)


def gas_test(rules: RuleBook, hazardous: bool) -> tuple[Step, ...]:
    """In a hazardous area: measured gas-free before anything that may spark or heat."""
    if not hazardous:
        return ()
    limit = rules.number("gas.limit_lel_pct")
    return (
        Step(
            "gas-test",
            "Gas test",
            "gate",
            "card",
            needs=(ISOLATED,),
            text="Measure where the work is, low and high. Again after every break.",
            caution=(
                "Not gas-free: no heat source of any kind, cold methods only. Testers, phones and tablets"
                " are ignition sources too."
            ),
            reading=Reading((Gate("lel", "gas, of the lower explosive limit", "%", most=limit),)),
            acts=(Attest(what="gas-free"),),
        ),
    )


def screen_dead(bridge: str) -> Step:
    """The screen proved dead, and bridged where it has an earth elsewhere, in words."""
    ends = (Place("A", skin="screen"),)
    return Step(
        "screen-dead",
        "Prove the screen dead",
        "gate",
        "card",
        needs=(ISOLATED, GAS_FREE),
        text=(
            "Clamp meter round the cable first: what it shows runs in the screen. Then screen to local"
            f" earth, AC and DC.{bridge}"
        ),
        caution="A screen earthed elsewhere carries that place's voltage when it is cut open.",
        action="It is dead",
        acts=(
            Attest(what="screen-dead"),
            *((Bridge(called=BRIDGE, ends=ends),) if bridge else ()),
        ),
    )


def measured(
    rules: RuleBook, compare: str, title: str = "Check the readings against the cable", text: str = ""
) -> Step:
    """The readings held against what is there."""
    told = text or f"{compare} A reading that is off makes a new plan."
    needs = (ISOLATED, GAS_FREE, SCREEN_DEAD)
    return hold(rules, "measured", Step("measured", title, "measure", "measure", needs=needs, text=told))


def begin(
    rules: RuleBook,
    compare: str,
    *,
    hazardous: bool,
    screen: tuple[Step, ...] = (),
    title: str = "Check the readings against the cable",
    caution: str = DEFER,
    identify: str = (
        "Identify the cable, isolate every feed at both ends, lock, prove dead and prove the prover."
        " Discharge."
    ),
) -> tuple[Step, ...]:
    """Isolated, free of gas, its `screen` dead, and the readings held against what is there."""
    return (
        isolated(rules, "Isolate and prove dead", identify, caution),
        *gas_test(rules, hazardous),
        *screen,
        measured(rules, compare, title),
    )


def counted(rules: RuleBook, threads: bool, text: str) -> tuple[Step, ...]:
    """The hold of the park list; none for one that is empty."""
    if not threads:
        return ()
    step = Step(
        "parked", "Everything is threaded on", "inspect", "park", needs=(Fact("threaded"),), text=text
    )
    return (hold(rules, "parked", step),)


def connectors(
    rules: RuleBook,
    places: Sequence[str],
    *,
    title: str,
    look: str,
    fails: str = "Any connector in doubt is cut out.",
    gates: tuple[Gate, ...] = (),
) -> Step:
    """Every connector looked at, by the core or unit it is on."""
    step = Step(
        "connectors",
        title,
        "inspect",
        "build",
        needs=(Fact("joined", Place(core=EVERY)), Fact("cold", Place(skin="connector"))),
        look=look,
        fails=fails,
        reading=Reading(gates),
        photo=True,
        pictured="connector",
        makes=(CONNECTED,),
        acts=tuple(Look(at=Place(core=c, skin="connector")) for c in places),
    )
    return hold(rules, "connectors", step)


def before_closing(
    rules: RuleBook, title: str, text: str, look: str, *, needs: tuple[Fact, ...] = (), cores: bool = False
) -> Step:
    """The last look, once what is asked before it is read; `cores` are shown as they must be."""
    step = Step(
        "before-closing",
        title,
        "inspect",
        "build",
        needs=(Fact("read", when="before"), *needs),
        text=text,
        look=look,
        photo=True,
        pictured="core-cover" if cores else "",
    )
    return hold(rules, "before-closing", step)


def proved(
    rules: RuleBook,
    text: str,
    look: str,
    *,
    title: str = "Sealed and proved",
    needs: tuple[Fact, ...] = (Fact("read", when="after"),),
    acts: tuple[Act, ...] = (),
) -> Step:
    """All of it is on, and its readings stand."""
    step = Step(
        "sealed-and-proved",
        title,
        "inspect",
        "prove",
        needs=(DONE, *needs),
        text=text,
        look=look,
        acts=acts,
    )
    return hold(rules, "sealed-and-proved", step)


def end(rules: RuleBook, label: str, title: str, after: str) -> tuple[Step, ...]:
    """Labelled and released."""
    signed = Step(
        "released",
        title,
        "sign",
        "sign",
        needs=(of("noted", LABELLED.thing.id),),
        text=f"Signed by a second person, who has read the record. {after}",
    )
    return (
        Step("label", "Fix the label", "label", "sign", needs=(PROVED,), text=label, acts=(LABELLED,)),
        hold(rules, "released", signed),
    )
