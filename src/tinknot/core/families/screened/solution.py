"""A screened cable's joint as far as it is solved."""

from dataclasses import dataclass

from tinknot.core.families.contract import Solution
from tinknot.core.families.screened.file import Fixing
from tinknot.core.families.screened.layout import Layout
from tinknot.core.joint.profile import Profile


@dataclass(frozen=True, kw_only=True)
class ScreenedSolution(Solution):
    """The stack over the spliced units. `layout`: where each splice stands; `inner`: the cable and its
    bundle before anything is put over it; `fixed`: what holds the donor braid."""

    layout: Layout | None = None
    inner: Profile | None = None
    fixed: Fixing = "spring"
