"""Cores that were heated one after the other and cool beside each other."""

from collections.abc import Sequence
from dataclasses import dataclass

from tinknot.core.layers import batches
from tinknot.core.layers.contract import Layer, Minutes, Step, cooling
from tinknot.core.rulebook import RuleBook


@dataclass(frozen=True)
class CoresCool(Layer):
    """One wait for all cores: `heated` names the step that heated each and how long it stays hot, min;
    `looked_at`: what is seen to while they are hot."""

    heated: tuple[tuple[str, float], ...]
    looked_at: tuple[str, ...]
    rules: RuleBook

    def work(self) -> tuple[Step, ...]:
        """The wait."""
        touch = self.rules.number("cool.touch_c")
        return (
            cooling(
                self.id,
                self.heated,
                self.looked_at,
                touch,
                title="Let the cores cool" if len(self.heated) > 1 else "Let it cool",
                batch=batches.INSPECT_CORES,
            ),
        )

    def minutes(self) -> Minutes:
        """As long as the slowest."""
        return Minutes(0.0, max(minutes for _, minutes in self.heated))


def cooling_together(
    name: str, heated: Sequence[tuple[str, float, str]], rules: RuleBook
) -> tuple[CoresCool, ...]:
    """The wait for what was heated core by core: (step, min, the step that looks at it); none for nothing."""
    if not heated:
        return ()
    looked_at = tuple(seen for *_, seen in heated)
    return (CoresCool(name, "the cores cool", tuple((h, m) for h, m, _ in heated), looked_at, rules),)
