"""What is left where no moulded part fits: another one, a mouth built up, a split one, an adapter."""

from collections.abc import Iterator, Sequence
from math import ceil, floor

from tinknot.core.families.boot.file import BootFile
from tinknot.core.families.choice import Choice
from tinknot.core.families.moulded.choosing import PART
from tinknot.core.formulas.sleeve import Margins
from tinknot.core.plan.ways import Remedy
from tinknot.core.tolerance import at_most


def remedies(joint: BootFile, choices: Sequence[Choice], title: str, margins: Margins) -> Iterator[Remedy]:
    """In the order they are worth trying; figures in mm."""
    mouths = "; ".join(_wanted(c, margins) for c in choices)
    yield Remedy(id=f"order-{PART}", title=f"Order a {title}", why=f"{mouths}.", change={})
    if joint.landed != "no":
        why = (
            "Closed parts are out where both ends are landed: a split part, a wrap-around sleeve, or one end"
            " taken off."
            if joint.landed == "both"
            else "A split part goes round what is in the way."
        )
        yield Remedy(id="split-part", title="Take a split part", why=why, change={})
    for c in choices:
        yield from _built_up(c, margins)
    if joint.job == "fitting":
        yield Remedy(
            id="adapter",
            title="Put an adapter on the fitting",
            why="One whose groove suits a boot that fits the cable; measure it and plan again.",
            change={},
        )
        yield Remedy(
            id="end-pieces",
            title="Take a straight shape with end pieces",
            why="A short sleeve of a higher ratio over each cooled end that stays open.",
            change={},
        )


def _wanted(c: Choice, margins: Margins) -> str:
    opens = ceil(margins.needed_expanded_mm(c.window.pass_od_mm) * 10 - 1e-6) / 10
    closes = floor(margins.allowed_recovered_mm(c.window.seal_od_mm) * 10 + 1e-6) / 10
    return f"{c.title} opens past {opens:g} mm and closes under {closes:g} mm"


def _built_up(c: Choice, margins: Margins) -> Iterator[Remedy]:
    """The mouth that is least too wide: built up under it until it grips, as long as it still passes."""
    loose = [r for r in c.rejected() if r.fit.grip_short_by_mm > 0 and r.fit.pass_short_by_mm <= 0]
    for r in sorted(loose, key=lambda r: (r.fit.grip_short_by_mm, r.candidate.id)):
        tube = r.candidate.tube
        need = ceil(tube.recovered_id_mm / margins.allowed_recovered_mm(1.0) * 10 - 1e-6) / 10
        if at_most(margins.needed_expanded_mm(need), tube.expanded_id_mm):
            yield Remedy(
                id=f"build-up-{c.layer}",
                title=f"Build up under {c.title if c.of else 'it'}",
                why=(
                    f"Self-amalgamating tape to {need:g} mm, then measure and plan again: {r.candidate.id}"
                    " grips it."
                ),
                change={},
            )
            return
