"""A jacket repair as far as it is solved."""

from dataclasses import dataclass

from tinknot.core.families.contract import Solution
from tinknot.core.joint.profile import Profile


@dataclass(frozen=True, kw_only=True)
class JacketSolution(Solution):
    """The stack over the damage. `inner`: the cable before anything is put on it; `hole`: the damage, mm;
    `closed_by`: by a sleeve or by tape, as asked for."""

    inner: Profile
    hole: tuple[float, float]
    closed_by: str = ""
