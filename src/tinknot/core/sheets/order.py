"""The order of a leaflet's rows: what no hand can do before something else is done."""

from collections.abc import Iterator, Sequence

from tinknot.core.joint.kitsheet import TRACE_ENDS, KitSheet
from tinknot.core.joint.leaflet import BRAIDS, LeafletLayer
from tinknot.core.sheets.doubt import Doubt

Rows = Sequence[tuple[int, LeafletLayer]]
BARE = ("bus-stagger", "ferrule", "terminals", "bus-insulation", "crimp-bus", "wire-sleeve-bus")
AFTER: dict[str, tuple[str, ...]] = {
    **dict.fromkeys(BRAIDS, ("outer-jacket",)),
    "inner-jacket": ("outer-jacket", *BRAIDS),
    "core": ("outer-jacket", *BRAIDS),
    "strip-core": ("outer-jacket", *BRAIDS, "inner-jacket"),
    **dict.fromkeys(BARE, ("strip-core",)),
    **dict.fromkeys(("terminals", "crimp-bus"), ("strip-core", "grommet")),
    **dict.fromkeys(("tube", "boot", "cap", "sealant"), ("grommet",)),
    "grommet": ("pierce",),
    "push-back": ("grommet",),
    "tighten": ("grommet",),
    "box": (
        "terminals",
        "supply",
        "ferrule",
        "crimp-bus",
        "gasket",
        "spare-holes",
        "turn",
        "knock-out",
        "drill",
    ),
}  # what each waits for, where the leaflet has it at the same end
WHY = {
    "outer-jacket": "the outer jacket is still on",
    "inner-jacket": "the inner jacket is still on",
    "strip-core": "the bus wires are not bare yet",
    "pierce": "it is not pierced yet",
    "grommet": "the cable is not through it yet",
    **dict.fromkeys(BRAIDS, "the braid is still in the way"),
}


def rows_in_order(sheet: KitSheet, construction: str) -> Iterator[Doubt]:
    """Each row that stands before what it needs, with both rows and where it goes."""
    leaflet = sheet.leaflet
    assert leaflet is not None
    mine = leaflet.layers_for(construction)
    for end in TRACE_ENDS[sheet.recipe]:
        rows = [(i, x) for i, x in enumerate(leaflet.layers) if x in mine and x.at in (None, "joint", end)]
        yield from _at_end(rows)


def _at_end(rows: Rows) -> Iterator[Doubt]:
    names = {i: _name(x) for i, x in rows}
    for i, x in rows:
        late = [n for n, name in names.items() if n > i and name in AFTER.get(names[i], ())]
        if late:
            why = WHY.get(names[late[0]], "nothing inside is reached once it is closed")
            yield Doubt(
                path=f"/leaflet/layers/{i}/{'layer' if x.kind == 'cut' else 'kind'}",
                message=f"{why}: that is layer {late[0] + 1}. Put this one after layer {late[-1] + 1}",
            )


def _name(x: LeafletLayer) -> str:
    """A row as the order knows it: a cut by its layer, what works on bus wires apart from the braid's."""
    if x.kind == "cut":
        return x.layer or ""
    if x.kind == "crimp" and x.joined != ("braid",):
        return "crimp-bus"
    if x.kind == "wire-sleeve" and (not x.on or "bus-1" in x.on or "bus-2" in x.on):
        return "wire-sleeve-bus"
    return x.kind
