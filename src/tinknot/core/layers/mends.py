"""What is done about a fault, where several layers say the same."""

from tinknot.core.layers.contract import Fault, Mend

THREAD = Mend("Take off what is in its way and thread it on now", "again")
CUT_OUT = Mend("Cut the joint out and start again", "remake")
IN_TIME = Mend("It was done in time and only confirmed late: that is noted", "mended", stays=True)
END_AGAIN = Mend("Cut the end back and prepare it again", "end-again")


def not_threaded(title: str, *instead: Mend) -> Fault:
    """A part that should wait on the cable and does not: threaded on as long as nothing is joined, else what
    may be done `instead`."""
    return Fault(
        "not-threaded",
        f"The {title} was not threaded on",
        ("park list not touched",),
        (THREAD, *instead, CUT_OUT),
        forgotten=True,
    )
