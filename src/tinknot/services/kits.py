"""Which kit's sheet serves a joint, and why the others do not; how often an end can still be remade."""

from tinknot.core.families.draft import joint_file
from tinknot.core.families.registry import family
from tinknot.core.model import Told
from tinknot.core.sheets import doubts
from tinknot.services import joints, sheets, stock
from tinknot.services.site import rule_book


class KitOffer(Told):
    """A sheet: whether it serves this cable, else why not; `on_hand` boxes of it, None where none is
    listed."""

    id: str
    name: str
    recipe: str
    revision: int
    state: str
    serves: bool
    reason: str
    on_hand: float | None


def offers(ref: str) -> list[KitOffer]:
    """Every sheet for this joint's family, those that serve it first. Raises InputError for what is not
    measured yet."""
    row = joints.row_of(ref)
    draft = joints.draft_of(row)
    file = joint_file(draft, stock.for_planning(row.id), row.ref, row.title)
    kind = family(draft.family)
    found = []
    for s in sheets.sheets():
        if s.recipe not in kind.sheets:
            continue
        words = s.why_not(file)
        if kind.needs_sheet and s.state == "draft" and (off := doubts(s, rule_book())):
            words.append(f"it does not add up: {off[0].message}")
        boxes = [k for k in file.stock.kits if k.sheet == s.id]
        found.append(
            KitOffer(
                id=s.id,
                name=s.name,
                recipe=s.recipe,
                revision=s.revision,
                state=s.state,
                serves=not words,
                reason="; ".join(words),
                on_hand=sum(b.free(None) or 0 for b in boxes) if boxes else None,
            )
        )
    return sorted(found, key=lambda o: (not o.serves, o.state != "checked", not o.on_hand, o.name))
