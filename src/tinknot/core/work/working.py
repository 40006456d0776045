"""What counts as having worked at a joint: one definition, for the fold, the server and the page (the browser
says the same without connection, tests/vectors)."""

from tinknot.core.work.events import Event

WORK = ("done", "undone", "reading", "photo", "remedy")


def is_work(kind: str, about: str, hold: str | None) -> bool:
    """Whether whoever makes an event of this `kind` did part of the work by it; `about`: what it answers;
    `hold`: which hold its step is, None for any other step.

    To confirm a step is work, also one that only proves something dead or gas-free; so is taking it back,
    reading, taking a picture, mending. To sign a hold or take that back is none, nor is a fault seen or taken
    back, a note, a flag settled: whoever does these has looked.

    >>> is_work("done", "", None), is_work("done", "", "parked"), is_work("note", "", None)
    (True, False, False)
    """
    signs = kind in ("done", "undone") and hold is not None
    withdraws = kind == "undone" and bool(about)
    return kind in WORK and not signs and not withdraws


def worked(e: Event, hold: str | None, step_kind: str) -> bool:
    """Whether the person who made `e` counts as having worked. Events of format 3 were judged before gates
    without a hold were work."""
    gate = e.format == 3 and e.kind in ("done", "undone") and step_kind in ("sign", "gate")
    return is_work(e.kind, e.about, hold) and not gate
