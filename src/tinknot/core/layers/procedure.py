"""Gates and proofs of a cable that is joined, core by core; of a wire, and of a screened cable."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from tinknot.core.acts import Attest, Place, Read, TakeOff
from tinknot.core.facts import DONE, Fact
from tinknot.core.layers import gates
from tinknot.core.layers.contract import Gate, Reading, Step
from tinknot.core.layers.proofs import CORES_COVERED, SEEN, Proofs, flexed, sheath_tested


@dataclass(frozen=True, kw_only=True)
class Joined:
    """What is special about a joint. `places`: each core or unit that is looked at by itself; `threads`:
    something waits on the cable or its cores; `insulated`: how the cores are again; `state`: what the joint
    must have come to; `connector_uohm`: of each connector's length of conductor, µΩ; `sheath`: armour on both
    sides lies in the ground or under water and can tell of a sheath let through; `covered`: cores are proved
    before something else closes over them; `more`: what else is read when it is closed; `off`: that the
    bridge of a screen comes off, in words, where no reading of it says so."""

    proofs: Proofs
    places: Sequence[str]
    threads: bool
    hazardous: bool
    insulated: str = "sleeved"
    state: str = "cold"
    connector_uohm: Mapping[str, float] = field(default_factory=dict)
    mandrel_mm: float | None = None
    sheath: str = ""
    covered: bool = True
    screen: tuple[Step, ...] = ()
    named: tuple[Step, ...] = ()
    more: tuple[Step, ...] = ()
    off: str = ""


def joint_procedure(j: Joined) -> gates.Procedure:
    """The holds and what is proved between them."""
    p, several = j.proofs, len(j.proofs.cores) > 1
    r = p.rules
    return gates.procedure(
        r,
        (
            *gates.begin(
                r,
                "Lay both ends beside each other and compare them with the plan.",
                hazardous=j.hazardous,
                screen=j.screen,
            ),
            *gates.counted(
                r,
                j.threads,
                "Touch every parked part and count. After joining none of them can be put on."
                if several
                else "Touch what is threaded on. After joining it cannot be put on.",
            ),
            gates.connectors(
                r,
                j.places,
                title="Look at every connector" if several else "Look at the connector",
                look=(
                    "Conductor seen in every connector, fully made, no strand outside, core joined to the"
                    " same core."
                    if several
                    else "Both conductors seen in it, fully made, no strand outside."
                ),
                gates=_connector_gates(j),
            ),
            *(_before(j) if j.covered else ()),
            *p.core_by_core("after", (DONE,)),
            *flexed(j.mandrel_mm),
            *sheath_tested(r, j.sheath),
            *j.more,
            gates.proved(
                r,
                f"The joint is {j.state}, closed at both ends, and its readings stand.{j.off}",
                "Both ends closed, readings within their limits.",
                acts=(*((TakeOff(called=gates.BRIDGE),) if j.off else ()), Attest(what="proved")),
            ),
            *gates.end(
                r,
                "Print the label and fix it beside the joint.",
                "Release the joint",
                "Electrically sound, weak in pull: relieve the strain.",
            ),
        ),
        SEEN,
    )


def _before(j: Joined) -> tuple[Step, ...]:
    """What is read and looked at while the cores can still be reached."""
    named = tuple(fact for s in j.named for fact in s.makes)
    return (
        *j.named,
        *j.proofs.core_by_core("before", (*CORES_COVERED, *named)),
        gates.before_closing(
            j.proofs.rules,
            "Before the joint is closed",
            "Last look at the cores. Take a photograph.",
            f"Every core {j.insulated}, nothing sharp, tests noted.",
            cores=True,
        ),
    )


def _connector_gates(j: Joined) -> tuple[Gate, ...]:
    factor = j.proofs.rules.number("connector.resistance_factor")
    return tuple(
        Gate(
            f"uohm-{core}",
            f"connector {core}",
            "µΩ",
            most=round(factor * uohm),
            required=False,
            instrument="low-ohm-meter",
        )
        for core, uohm in j.connector_uohm.items()
    )


def rung_through(cores: Sequence[str], units: Sequence[str]) -> tuple[Step, ...]:
    """Every core to its own terminal; only what rings elsewhere is typed. `units`: the unit of each core."""
    if len(cores) < 2:
        return ()
    in_order = f"1 is core {cores[0]}, {len(cores)} is core {cores[-1]}"
    return (
        Step(
            "map.cores",
            "Ring every core through to its own terminal",
            "identify",
            "build",
            needs=CORES_COVERED,
            text=f"Terminals counted in the order of the cores: {in_order}. Type only what rings elsewhere.",
            look="Every core at its own, and at no other.",
            action="All ring at their own",
            acts=(Read(what="continuity"),),
            makes=(Fact("named", Place("A")),),
            reading=Reading(
                tuple(
                    Gate(
                        f"map-{c}",
                        f"core {c} rings at",
                        "no.",
                        float(n),
                        tolerance=0.0,
                        required=False,
                        name=f"core {c}",
                        group=unit,
                    )
                    for n, (c, unit) in enumerate(zip(cores, units, strict=True), 1)
                )
            ),
        ),
    )


OFF = " Take the screen's bridge off, one end first."


def screen_through(uohm: float, by: str = "sound screen") -> tuple[Step, ...]:
    """The screen through the joint, at most so many µΩ, its bridge off, read on what it is read by; nothing
    where none is made good that can be read (0)."""
    if not uohm:
        return ()
    return (
        Step(
            "test.after.screen",
            "Screen through the joint",
            "test",
            "prove",
            needs=(DONE,),
            reading=Reading(
                (
                    Gate(
                        "screen",
                        "screen to screen" if by == "sound screen" else f"{by} to {by}",
                        "µΩ",
                        most=round(uohm),
                        excuse=True,
                        instrument="low-ohm-meter",
                    ),
                ),
                taken="after",
            ),
            text=(
                "Take its bridge off, one end first; with a current in it, once its far end is isolated."
                f" Four wires, from {by} to {by} at the cable's ends or test points."
            ),
            acts=(
                TakeOff(called=gates.BRIDGE),
                Read(what="resistance", between=(Place("A", skin="screen"), Place("B", skin="screen"))),
            ),
            tools=("low-ohm-meter",),
        ),
    )
