"""Gates and proofs of a screened cable."""

from dataclasses import dataclass, replace

from tinknot.core.acts import Look, Place, Read
from tinknot.core.layers.contract import Gate, Reading, Step
from tinknot.core.layers.procedure import Procedure

Span = tuple[float, float]


@dataclass(frozen=True)
class ScreenedProcedure(Procedure):
    """As every joint's, with the screen proved dead before it is cut, cores rung through one to one, and the
    screen read from sound to sound after. `screen_uohm`: the most it may read, µΩ; 0 where no braid is made
    good. `units`: the unit of each core, in the order of the cores; `tried`: steps by
    which it is known how what goes over it lies."""

    screen_uohm: float = 0.0
    elsewhere: bool = False
    units: tuple[str, ...] = ()
    tried: tuple[str, ...] = ()

    def work(self) -> tuple[Step, ...]:
        """Those of every joint, with its own between them."""
        found = []
        for s in super().work():
            if s.id == "test.before.continuity" and len(self.cores) > 1:
                through = self._rung_through(s.needs)
                found += [through, replace(s, needs=(through.id,))]
            elif s.id == "connectors":
                units = dict.fromkeys(self.units)
                found.append(replace(s, acts=tuple(Look(at=Place(core=u, skin="connector")) for u in units)))
            elif s.id == "before-closing":
                found.append(replace(s, needs=(*s.needs, *self.tried)))
            else:
                found.append(s)
        return tuple(found)

    def _screen_dead(self, needs: str) -> tuple[Step, ...]:
        """Before it is cut open."""
        bridge = " Bridge it across the place before it is cut." if self.elsewhere else ""
        return (self._dead(needs, bridge),)

    def _rung_through(self, needs: tuple[str, ...]) -> Step:
        """Every core to its own terminal; only what rings elsewhere is typed."""
        in_order = f"1 is core {self.cores[0]}, {len(self.cores)} is core {self.cores[-1]}"
        return Step(
            "map.cores",
            "Ring every core through to its own terminal",
            "identify",
            "build",
            needs,
            text=f"Terminals counted in the order of the cores: {in_order}. Type only what rings elsewhere.",
            look="Every core at its own, and at no other.",
            action="All ring at their own",
            acts=(Read(what="continuity"),),
            reading=Reading(
                tuple(
                    Gate(
                        f"map-{c}",
                        f"core {c} rings at",
                        "no.",
                        float(n),
                        0.0,
                        required=False,
                        name=f"core {c}",
                        group=unit,
                    )
                    for n, (c, unit) in enumerate(zip(self.cores, self.units, strict=True), 1)
                )
            ),
        )

    def _sheath(self) -> tuple[Step, ...]:
        """The screen through the joint."""
        if not self.screen_uohm:
            return super()._sheath()
        return (
            *super()._sheath(),
            Step(
                "test.after.screen",
                "Screen through the joint",
                "test",
                "prove",
                self.outer_done,
                reading=Reading(
                    (
                        Gate(
                            "screen",
                            "screen to screen",
                            "µΩ",
                            most=round(self.screen_uohm),
                            excuse=True,
                            instrument="low-ohm-meter",
                        ),
                    ),
                    taken="after",
                ),
                text="Four wires, from sound screen to sound screen at the cable's ends or test points.",
                acts=(
                    Read(what="resistance", between=(Place("A", skin="screen"), Place("B", skin="screen"))),
                ),
                tools=("low-ohm-meter",),
            ),
        )
