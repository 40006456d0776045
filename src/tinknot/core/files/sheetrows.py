"""Cuts of a kit sheet's leaflet as rows of the work. Before format 4 they lay in a table of their own, and
each was made with the row that frees its layer."""

from collections.abc import Iterator
from typing import Any

from tinknot.core.files.format import Body

Row = dict[str, Any]
STRIPPED = ("matrix", "overlay")  # taken off by the row that strips the core
OF = {"matrix": ["self-regulating", "power-limiting"], "overlay": ["zone"]}  # the cables that have each
WITH = {
    "outer-jacket": ("braid-pigtail", "braid-fold", "braid-trim"),
    "braid": ("braid-pigtail", "braid-fold", "braid-trim"),
    "inner-jacket": ("braid-pigtail", "braid-fold", "braid-trim"),
    "core": ("braid-pigtail", "braid-fold", "braid-trim"),
    "bus-1": ("strip-core",),
    "bus-2": ("strip-core",),
    "bus-insulation": ("crimp", "terminals"),
}  # the kinds of row that each cut was made with
BEFORE = ("outer-jacket", "bus-insulation")  # made before that row, the others after it
ORDER = tuple(WITH)


def cuts_as_rows(body: Body) -> Body:
    """The order of the rows is the order of the work: grommets first, each cut as a row where it was planned
    until now, the matrix's or overlay's figure in the row that strips it. The sheet says so."""
    leaflet = body.get("leaflet")
    if not isinstance(leaflet, dict):
        return body
    cuts, rows = leaflet.get("cuts") or [], leaflet.get("layers") or []
    if not (isinstance(cuts, list) and isinstance(rows, list) and all(map(_whole, (*cuts, *rows)))):
        return body
    first = [x for x in rows if x.get("kind") == "grommet"]
    found = [*first, *(x for x in rows if x not in first)]
    moved = found != rows
    found = list(_stripped(found, [c for c in cuts if c.get("layer") in STRIPPED]))
    others = [c for c in cuts if c.get("layer") in WITH]
    for cut in sorted(others, key=lambda c: ORDER.index(c["layer"]), reverse=True):  # each right at its row
        found = _placed(found, cut)
    notes = ["the cuts stand among the rows, where they were planned until now"] if cuts else []
    notes += ["the grommet stands first"] if moved else []
    rest = {k: v for k, v in leaflet.items() if k != "cuts"}
    return body | {"leaflet": noted(rest | {"layers": found}, notes)}


def noted(leaflet: Row, notes: list[str]) -> Row:
    """The leaflet saying what was changed when an earlier form of it was read, besides what it says."""
    if not notes:
        return leaflet
    said = f"Written in an earlier form. Now {' and '.join(notes)}: hold it against the leaflet."
    before = leaflet.get("note")
    return leaflet | {"note": f"{before} {said}"[:300] if isinstance(before, str) and before else said}


def free_id(wanted: str, rows: Any) -> str:
    """An id that no row has yet."""
    taken = {x.get("id") for x in rows if isinstance(x, dict)}
    return next(i for i in (wanted, *(f"{wanted}-{n}" for n in range(2, 999))) if i not in taken)


def _whole(row: Any) -> bool:
    return isinstance(row, dict) and isinstance(row.get("id", row.get("layer")), str)


def _stripped(rows: list[Row], cuts: list[Row]) -> Iterator[Row]:
    """Rows that strip the core say how far; one row for each figure where the ends or cables differ."""
    if {c["layer"] for c in cuts} == {*STRIPPED}:
        cuts = [c | {"constructions": c.get("constructions") or OF[c["layer"]]} for c in cuts]
    for row in rows:
        strips = row.get("kind") == "strip-core"
        mine = [(c, where) for c in cuts if strips and (where := _meets(row, c)) is not None]
        if not mine:
            yield row
            continue
        for n, (cut, where) in enumerate(mine):
            own = {"id": row["id"]} if not n else {"id": free_id(f"{row['id'][:36]}-{n + 1}", rows)}
            yield row | where | own | _figure(cut)


def _placed(rows: list[Row], cut: Row) -> list[Row]:
    """The rows with a cut at the first row of its kind for each end and cable it is for; last where there is
    none."""
    found: list[Row] = []
    layer = cut["layer"]
    for row in rows:
        where = _meets(row, cut) if row.get("kind") in WITH[layer] else None
        if where is None:
            found.append(row)
            continue
        made = _row(cut, where, [*rows, *found])
        found += [made, row] if layer in BEFORE else [row, made]
    return found if len(found) > len(rows) else [*found, _row(cut, _meets({}, cut) or {}, found)]


def _row(cut: Row, where: Row, rows: list[Row]) -> Row:
    at = where.get("at")
    own = free_id(f"cut-{cut['layer']}{f'-{at.lower()}' if at else ''}", rows)
    caution = {"caution": cut["caution"]} if cut.get("caution") else {}
    return {"id": own, "kind": "cut", "layer": cut["layer"], **where, **_figure(cut), **caution}


def _meets(row: Row, cut: Row) -> Row | None:
    """At which end and on which cables a row and a cut are both; None where on none."""
    at, end = row.get("at"), cut.get("end")
    at = None if at == "joint" else at
    if at and end and at != end:
        return None
    kinds, of = row.get("constructions") or [], cut.get("constructions") or []
    both = [k for k in kinds if k in of] if kinds and of else kinds or of
    if kinds and of and not both:
        return None
    where: Row = {"at": at or end} if at or end else {}
    return where | ({"constructions": both} if both else {})


def _figure(cut: Row) -> Row:
    found = {"length": cut.get("length") or {}, "datum": cut.get("datum") or "cable-end"}
    return found | ({"tolerance_mm": cut["tolerance_mm"]} if cut.get("tolerance_mm") else {})
