"""Questions a family asks, as data: the card and the measuring page are made from them, and so is the
joint file."""

from collections.abc import Iterator, Mapping, Sequence
from typing import Annotated, Any, Literal

from pydantic import Field

from tinknot.core.joint.questions import Question
from tinknot.core.model import Result, Told
from tinknot.core.tolerance import at_least, at_most

Answer = float | bool | Annotated[str, Field(max_length=1500)]
Asked = Annotated[dict[Annotated[str, Field(max_length=60)], Answer], Field(max_length=100)]


class Option(Told):
    """An answer to choose, and what it is called."""

    value: str
    words: str


class When(Result):
    """A question is asked only where the answer to `ask` is one of `answers`."""

    ask: str
    answers: list[str]


class Ask(Told):
    """One question. `id` is the field of the joint file it fills, with its unit at the end; `kind`: a
    `length` in mm (typed in mm or inch), a `number` in `unit`, a `choice` of `options`, `yes` or no, a
    `text`, or a `make-up`, a text that is read back as a drawing. `least` and `most` are what is likely:
    outside them the answer is kept and doubted."""

    id: str
    label: str
    kind: Literal["length", "number", "choice", "yes", "text", "make-up"]
    unit: str = ""
    hint: str = ""
    group: str = ""
    options: list[Option] = []
    required: bool = True
    when: When | None = None
    least: float | None = None
    most: float | None = None


def options(*pairs: tuple[str, str]) -> list[Option]:
    """Answers to choose from, each with what it is called."""
    return [Option(value=value, words=words) for value, words in pairs]


def length(id_: str, label: str, group: str, least: float, most: float, hint: str = "", **more: Any) -> Ask:
    """A length in mm, with what is likely."""
    own = {"id": id_, "label": label, "kind": "length", "unit": "mm", "group": group, "hint": hint}
    return Ask.model_validate(own | {"least": least, "most": most} | more)


class Reading(Result):
    """Something entered about a cable, in words, for the record: where, what, the figure and the one at
    90°."""

    where: str
    what: str
    value: str
    across: str = ""


def asked_now(asks: Sequence[Ask], answers: Mapping[str, Any]) -> list[Ask]:
    """The questions that are asked with these answers."""
    return [a for a in asks if a.when is None or str(answers.get(a.when.ask, "")) in a.when.answers]


def body_of(asks: Sequence[Ask], answers: Mapping[str, Any]) -> dict[str, Any]:
    """What of a joint file the answers fill; what is not asked any more is left out."""
    wanted = {a.id for a in asked_now(asks, answers)}
    return {k: v for k, v in answers.items() if k in wanted}


def missing_words(asks: Sequence[Ask]) -> dict[str, str]:
    """What to say where an answer is missing, by the field."""
    return {a.id: f"{a.label[:1].lower()}{a.label[1:]} is not entered yet" for a in asks}


def doubts_of(asks: Sequence[Ask], answers: Mapping[str, Any]) -> Iterator[Question]:
    """Answers nobody should trust: figures outside what is likely."""
    for a in asked_now(asks, answers):
        value = answers.get(a.id)
        if isinstance(value, bool) or not isinstance(value, (int, float)):
            continue
        if a.least is not None and not at_least(value, a.least):
            yield Question(
                f"/asked/{a.id}", f"{a.label} reads {value:g} {a.unit}, unlikely little. Read it again."
            )
        if a.most is not None and not at_most(value, a.most):
            yield Question(
                f"/asked/{a.id}", f"{a.label} reads {value:g} {a.unit}, unlikely much. Read it again."
            )


def readings_of(asks: Sequence[Ask], draft: Mapping[str, Any]) -> Iterator[Reading]:
    """The answers in words."""
    answers, played = draft.get("asked", {}), set(draft.get("simulated", []))
    for a in asked_now(asks, answers):
        if a.id not in answers:
            continue
        value = answers[a.id]
        if a.kind == "yes":
            said = "yes" if value else "no"
        elif isinstance(value, (int, float)):
            said = f"{value:g} {a.unit}".strip()
        else:
            said = next((o.words for o in a.options if o.value == value), str(value))
        stem = a.id.removesuffix("_mm")
        where = a.group or "joint"
        yield Reading(
            where=where, what=a.label + (" (simulated)" if f"/asked/{stem}" in played else ""), value=said
        )
