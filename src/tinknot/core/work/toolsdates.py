"""Tools and their dates: with what a reading was taken, and whether that was good then."""

from collections.abc import Collection, Iterator
from typing import get_args

from tinknot.core.layers.contract import ToolKind
from tinknot.core.plan.steps import StepOut
from tinknot.core.work.events import Event

KINDS: tuple[str, ...] = get_args(ToolKind)
MAY_VOUCH = ("verifier", "admin")


def day_of(event: Event) -> str:
    """The site's day on which it happened (ISO 8601); of events before format 4 the day in UTC."""
    return event.facts.get("day", "") or event.at[:10]


def tool_kinds(step: StepOut, values: Collection[str]) -> set[str]:
    """The kinds of tool that whoever does `step` should name: those it needs, and what read the figures given
    (gate ids)."""
    return {*step.tools, *(g.instrument for g in step.gates if g.id in values and g.instrument in KINDS)}


def overdue(step: StepOut, event: Event) -> list[str]:
    """In words, which tools of an event were past their date when it happened, and which kind nobody named
    although the site keeps some."""
    kinds = tool_kinds(step, event.values)
    return list(_faults(event, kinds, kinds))


def refused_tools(step: StepOut, event: Event) -> str:
    """Why the tools of an event do not serve, in words; empty when they do, or when somebody who may has said
    why one serves all the same. Before format 4 only the tools that a step names were looked at, and no word
    helped."""
    if event.format < 4:
        late = [*_faults(event, set(step.tools), set())]
        return f"{late[0]}; take another" if late else ""
    late = [*_faults(event, tool_kinds(step, event.values), set(step.tools))]
    if not late or (event.role in MAY_VOUCH and event.text.strip()):
        return ""
    return f"{'; '.join(late)}. Take another, or have a verifier say why it serves"


def _faults(event: Event, kinds: set[str], named: set[str]) -> Iterator[str]:
    """Tools of these `kinds` that were past their date; and of `named`, which ought to be said, which are
    not."""
    day = day_of(event)
    for kind in sorted(kinds | named):
        until = event.facts.get(f"due:{kind}", "")
        if until and until < day:
            yield f"{event.tools[kind]} was due for calibration on {until}"
        elif kind in named and event.facts.get(f"unnamed:{kind}"):
            yield f"nobody said which {kind.replace('-', ' ')} it was done with"
