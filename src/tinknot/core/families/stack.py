"""Layers put on each other, inside out, with what was chosen for them."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from tinknot.core.families.choice import Choice, Pick
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.cover_sleeve import CoverSleeve


@dataclass(frozen=True)
class Stack:
    """What is put on so far. `outside`: of all of it; `pending`: the sleeve whose part is to be named next,
    at place `at` of the order, None when all are on; `stuck`: something is missing for the next layer."""

    outside: Profile
    layers: tuple[Layer, ...] = ()
    choices: tuple[Choice, ...] = ()
    picks: tuple[Pick, ...] = ()
    warnings: tuple[str, ...] = ()
    pending: CoverSleeve | None = None
    at: int = 0
    stuck: bool = False

    def on(self, *layers: Layer) -> "Stack":
        """With more layers over all."""
        outside = self.outside
        for x in layers:
            outside = x.apply(outside)
        return replace(self, layers=(*self.layers, *layers), outside=outside)

    def chosen(
        self, choices: Sequence[Choice] = (), picks: Sequence[Pick] = (), *, stuck: bool = False
    ) -> "Stack":
        """With more that was chosen; `stuck`: nothing was found."""
        return replace(
            self, choices=(*self.choices, *choices), picks=(*self.picks, *picks), stuck=self.stuck or stuck
        )

    def warned(self, *words: str) -> "Stack":
        """With more to be minded."""
        return replace(self, warnings=(*self.warnings, *words))
