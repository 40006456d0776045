"""Cores that were heated one after the other and cool beside each other."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from tinknot.core.facts import Fact, of
from tinknot.core.layers import batches
from tinknot.core.layers.contract import Layer, Minutes, Step, cooling
from tinknot.core.rulebook import RuleBook


@dataclass(frozen=True)
class CoresCool(Layer):
    """One wait for all cores. `heated`: each thing on them that was, by its layer, and how long it stays hot,
    min; `skin`: whether connectors were soldered or what covers them was shrunk, which is looked at while it
    is hot."""

    heated: tuple[tuple[str, float], ...]
    skin: Literal["connector", "core"]
    rules: RuleBook

    def work(self) -> tuple[Step, ...]:
        """The wait."""
        seen = self.skin == "core"
        needs: list[Fact] = [of("looked" if seen else "joined", thing) for thing, _ in self.heated]
        return (
            cooling(
                self.id,
                self.heated,
                self.rules.number("cool.touch_c"),
                needs=needs,
                skin=self.skin,
                title="Let the cores cool" if len(self.heated) > 1 else "Let it cool",
                batch=batches.INSPECT_CORES,
            ),
        )

    def minutes(self) -> Minutes:
        """As long as the slowest."""
        return Minutes(0.0, max(minutes for _, minutes in self.heated))


def cooling_together(
    name: str, heated: Sequence[tuple[str, float]], skin: Literal["connector", "core"], rules: RuleBook
) -> tuple[CoresCool, ...]:
    """The wait for what was heated core by core; none for nothing."""
    return (CoresCool(name, "the cores cool", tuple(heated), skin, rules=rules),) if heated else ()
