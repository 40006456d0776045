"""Calculator of the whole plan of a joint."""

from tinknot.core.families.file import AnyJoint
from tinknot.core.plan.plan import Plan
from tinknot.core.planning.solve import plan_joint


def plan(given: AnyJoint) -> Plan:
    """The whole plan of a joint file: cuts, parts, park list, steps, or the remedies."""
    return plan_joint(given.root)
