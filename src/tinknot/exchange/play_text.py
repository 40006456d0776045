"""A plan played, as text: each step with its acts, what is so after it, and every law that it breaks."""

from collections.abc import Iterator

from tinknot.core.figures import unmarked
from tinknot.core.joint.head import JointHead
from tinknot.core.planning.playing import told
from tinknot.core.world.telling import act_words, world_words


def play_text(joint: JointHead) -> str:
    """The world of a joint's plan, step by step. Raises InputError like the plan itself."""
    return unmarked("\n".join(_lines(joint)) + "\n")


def _lines(joint: JointHead) -> Iterator[str]:
    broken = 0
    steps, last = 0, set[str]()
    for number, (step, breaks, world) in enumerate(told(joint), 1):
        steps = number
        yield f"{number:3} {step.title}"
        yield from (f"      {act_words(a)}" for a in step.acts)
        now = list(world_words(world))
        yield from (f"      [{words}]" for words in now if words not in last)
        last = set(now)
        for b in breaks:
            broken += 1
            yield f"   !! law {b.law}, {b.place}: {b.words} {b.mend}"
    if not steps:
        yield "This plan cannot be played: nothing fits, or its kind of cable is not told to the world yet."
    else:
        yield f"{steps} steps played, {broken} times a law is broken."
