"""Steps that belong to the whole joint: isolation, holds, tests, label, release."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from tinknot.core.layers.contract import Gate, Layer, Minutes, Step
from tinknot.core.rulebook import RuleBook


@dataclass(frozen=True)
class Procedure(Layer):
    """Gates and proofs around the layers. `parked`, `joined`, `core_proofs` and `outer_done` are ids
    of the steps the holds wait for; `connector_uohm` is the resistance in µΩ of each connector's length of
    conductor."""

    rules: RuleBook
    cores: tuple[str, ...]
    rated_voltage_v: float
    parked: tuple[str, ...] = ()
    joined: tuple[str, ...] = ()
    core_proofs: tuple[str, ...] = ()
    outer_done: tuple[str, ...] = ()
    connector_uohm: Mapping[str, float] = field(default_factory=dict)

    def minutes(self) -> Minutes:
        """Setting up, isolating, measuring, labelling, signing."""
        return Minutes(self.rules.number("time.base_min"))

    def tools(self) -> tuple[str, ...]:
        """Proving."""
        return ("voltage tester and its proving unit", "insulation tester", "continuity tester", "calliper")

    def steps(self) -> tuple[Step, ...]:
        """The seven holds and what is proved between them."""
        before = ("test.before.continuity", "test.before.insulation")
        after = ("test.after.continuity", "test.after.insulation")
        return (
            self._hold(
                "isolated", "Isolate and prove dead", "gate", "card", (),
                text="Identify the cable, isolate every feed at both ends, lock, prove dead and prove the prover. Discharge.",
                caution="Defer to the local code and the permit. If in doubt, stop.",
            ),
            self._hold(
                "measured", "Check the readings against the cable", "measure", "measure", ("isolated",),
                text="Lay both ends beside each other and compare them with the plan. A reading that is off makes a new plan.",
            ),
            self._hold(
                "parked", "Everything is threaded on", "inspect", "park", self.parked,
                text="Touch every parked part and count. After joining none of them can be put on.",
            ),
            self._hold(
                "connectors", "Look at every connector", "inspect", "build", self.joined,
                look="Conductor at the sight hole, full press marks, no strand outside, core joined to the same core.",
                fails="Any barrel in doubt is cut out.", gates=self._connector_gates(), photo=True,
            ),
            self._continuity(before[0], self.core_proofs, "build"),
            self._insulation(before[1], (before[0],), "build"),
            self._hold(
                "before-closing", "Before the joint is closed", "inspect", "build", (*self.core_proofs, *before),
                text="Last look at the cores. Take a photograph.", look="Every core sleeved, nothing sharp, tests noted.", photo=True,
            ),
            self._continuity(after[0], self.outer_done, "prove"),
            self._insulation(after[1], (after[0],), "prove"),
            self._hold(
                "sealed-and-proved", "Sealed and proved", "inspect", "prove", (*self.outer_done, *after),
                text="The joint is cold, sealed at both ends and its readings stand.",
                look="Both ends closed, readings within their limits.",
            ),
            Step("label", "Fix the label", "label", "sign", ("sealed-and-proved",),
                 text="Print the label and fix it beside the joint.", layer=self.id),
            self._hold(
                "released", "Release the joint", "sign", "sign", ("sealed-and-proved", "label"),
                text="Signed by a second person, who has read the record. Electrically sound, weak in pull: relieve the strain.",
            ),
        )  # fmt: skip

    def _hold(
        self, name: str, title: str, kind: str, station: str, needs: Sequence[str], **more: Any
    ) -> Step:
        return Step(
            name, title, kind, station, tuple(needs), hold=name, layer=self.id,  # type: ignore[arg-type]  # literals above
            second_person=name in self.rules.names("holds.second_person"), **more,
        )  # fmt: skip

    def _connector_gates(self) -> tuple[Gate, ...]:
        factor = self.rules.number("connector.resistance_factor")
        return tuple(
            Gate(
                f"uohm-{core}",
                f"connector {core}",
                "µΩ",
                most=round(factor * uohm),
                required=False,
                instrument="low-ohm-meter",
            )
            for core, uohm in self.connector_uohm.items()
        )

    def _continuity(self, step: str, needs: Sequence[str], station: str) -> Step:
        limit = self.rules.number("continuity.limit_ohm")
        return Step(
            step, "Continuity, core by core", "test", station, tuple(needs), layer=self.id,  # type: ignore[arg-type]
            text="End to end, each core to its own name: this is the core map too. Null the leads first.",
            gates=tuple(Gate(f"core-{c}", f"core {c}", "Ω", most=limit, instrument="low-ohm-meter") for c in self.cores),
            tools=("low-ohm-meter",),
        )  # fmt: skip

    def _insulation(self, step: str, needs: Sequence[str], station: str) -> Step:
        high = self.rated_voltage_v > 500
        volts = self.rules.number("insulation.test_high_v" if high else "insulation.test_v")
        limit = self.rules.number("insulation.limit_mohm")
        others = "the rest" if len(self.cores) > 1 else "earth"
        gates = (
            *tuple(
                Gate(f"core-{c}", f"core {c} to {others}", "MΩ", least=limit, instrument="insulation-tester")
                for c in self.cores
            ),
            Gate("temperature", "cable", "°C", required=False, instrument="thermometer"),
        )
        return Step(
            step, f"Insulation resistance at {volts:g} V DC", "test", station, tuple(needs), layer=self.id,  # type: ignore[arg-type]
            text="Each core against all others and earth.", caution="Discharge after every reading.", gates=gates, tools=("insulation-tester",),
        )  # fmt: skip
