"""What a change of the rule book would alter in the joints that are open."""

from collections.abc import Iterator
from dataclasses import dataclass, field
from time import monotonic
from typing import Any

from tinknot.core.errors import InputError, Unreadable
from tinknot.core.model import Result, Told
from tinknot.core.plan.plan import Plan
from tinknot.core.planning.differences import differences
from tinknot.core.rulebook import RuleBook
from tinknot.services import planning, site
from tinknot.store.models import Joint

AT_MOST_S = 6.0  # of looking: somebody waits at the page


class JointChange(Told):
    """A joint that would be planned differently, and how."""

    ref: str
    title: str
    words: list[str]


class RuleEffect(Result):
    """What a rule's new value would alter: of `open` planned joints `looked_at` were looked at, the ones
    touched last first."""

    open: int
    looked_at: int
    changes: list[JointChange]


@dataclass(frozen=True)
class _Asked(RuleBook):
    """A rule book that knows which of its rules were asked for."""

    keys: set[str] = field(default_factory=set)

    def __getitem__(self, key: str) -> Any:
        self.keys.add(key)
        return super().__getitem__(key)


def effect_of(key: str, value: Any) -> RuleEffect:
    """What the site's value of a rule would alter; None stands for its default. Nothing is stored, and what
    is planned stays planned. Raises InputError for a value that cannot be."""
    now, then = site.rule_book(), site.rule_book_with(key, value)
    found = list(
        Joint.select()
        .where((Joint.revision > 0) & ~(Joint.state.startswith("released")))
        .order_by(Joint.updated.desc())
    )
    changes, looked_at, until = [], 0, monotonic() + AT_MOST_S
    for row in found:
        if looked_at and monotonic() > until:
            break
        looked_at += 1
        if words := list(_changed(row, key, now, then)):
            changes.append(JointChange(ref=row.ref, title=row.title, words=words))
    return RuleEffect(open=len(found), looked_at=looked_at, changes=changes)


def _changed(row: Joint, key: str, now: RuleBook, then: RuleBook) -> Iterator[str]:
    asked = _Asked(now.own)
    try:
        before = planning.by_rules(row, asked)
    except (InputError, Unreadable):
        return  # it cannot be planned as it is; no rule makes that worse
    if key not in asked.keys:
        return
    try:
        after = planning.by_rules(row, then)
    except InputError as fault:
        yield f"It could not be planned any more: {fault}"
        return
    if before.verdict == "planned" and after.verdict != "planned":
        yield "Nothing in stock would fit any more"
    elif before.verdict != "planned" and after.verdict == "planned":
        yield "It would fit"
    yield from _told(before, after)


def _told(before: Plan, after: Plan) -> Iterator[str]:
    if words := differences(before, after):
        yield from words
        return
    stamps = {s.id: s.stamp for s in before.steps}
    other = [s.title for s in after.steps if stamps.get(s.id) != s.stamp]
    gone = stamps.keys() - {s.id for s in after.steps}
    if other:
        yield f"Other limits or times: {', '.join(other[:3])}" + (
            f" and {len(other) - 3} more" if len(other) > 3 else ""
        )
    if gone:
        yield f"{len(gone)} steps fewer"
    if not other and not gone and before != after:
        yield "Other words, times or warnings; the work stays the same"
