"""A straight joint with some of its covers on."""

from collections.abc import Iterable
from dataclasses import dataclass, replace

from tinknot.core.families.choice import Choice, Pick
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.cover_sleeve import CoverSleeve
from tinknot.core.layers.shell import ResinShell


@dataclass(frozen=True)
class Covered:
    """The covers put on so far: their layers inside out, choices, picks and the profile over them. `pending`
    is the cover whose part is to be named next, at place `at` of the order; None when all are on, or when
    something is missing (`stuck`)."""

    outside: Profile
    layers: tuple[Layer, ...] = ()
    choices: tuple[Choice, ...] = ()
    picks: tuple[Pick, ...] = ()
    warnings: tuple[str, ...] = ()
    pending: CoverSleeve | None = None
    at: int = 0
    stuck: bool = False

    def on(self, layer: Layer) -> "Covered":
        """With one more layer over all."""
        return replace(self, layers=(*self.layers, layer), outside=layer.apply(self.outside))


def shell_of(layers: Iterable[Layer]) -> ResinShell | None:
    """The shell among layers, where there is one."""
    return next((x for x in layers if isinstance(x, ResinShell)), None)
