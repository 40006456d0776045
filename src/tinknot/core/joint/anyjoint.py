"""A joint file of any family."""

from typing import Annotated, Any

from pydantic import Discriminator, RootModel, Tag

from tinknot.core.joint.file import JointFile
from tinknot.core.joint.tracefile import TraceFile


def _which(given: Any) -> str:
    family = given.get("family") if isinstance(given, dict) else getattr(given, "family", "")
    return "[heat-trace]" if family == "heat-trace" else "[low-voltage]"


class AnyJoint(
    RootModel[
        Annotated[
            Annotated[JointFile, Tag("[low-voltage]")] | Annotated[TraceFile, Tag("[heat-trace]")],
            Discriminator(_which),
        ]
    ]
):
    """The file's `family` says which it is."""
