"""The page of one kit sheet."""

import re
from typing import Any

from playwright.sync_api import Locator, Page, expect

MOST = 6  # touches and fields that a row may cost
PARTS = {
    "tube": "shrink tube without",
    "cap": "end cap, pushed on",
    "boot": "boot",
    "sealant": "sealant",
    "tape": "tape",
    "sleeve": "plain sleeve",
    "crimp": "crimps",
    "twist-on": "twist-on connectors",
    "ferrule": "ferrules",
    "terminals": "terminals",
    "grommet": "grommet or gland",
    "plug": "plug",
    "strap": "strap",
    "box": "box or enclosure",
}
ROWS = {
    "receive": "lay the kit out",
    "drill": "drill the entry",
    "knock-out": "knock the entry out",
    "base": "set the base on the pipe",
    "strap": "strap it to the pipe",
    "turn": "turn the box so that it drains",
    "pierce": "pierce the grommet",
    "grommet": "take the cable through the grommet",
    "push-back": "push the cable back",
    "tighten": "tighten gland or grommet",
    "loop": "lay the loop, tape it down",
    "cut outer-jacket": "cut the outer jacket",
    "cut braid": "cut the braid",
    "cut inner-jacket": "cut the inner jacket",
    "cut core": "cut all the braid holds",
    "cut bus-1": "cut bus wire 1",
    "cut bus-2": "cut bus wire 2",
    "cut bus-insulation": "strip the bus wires' own insulation",
    "braid-pigtail": "braid: pull through, pigtail",
    "braid-fold": "braid: lay back",
    "braid-trim": "braid: trim flush",
    "braid-forward": "braid: draw forward, tape down",
    "strip-core": "strip matrix or heating wire",
    "bus-stagger": "tape the bus wires apart",
    "tube": "shrink tube",
    "tube pinched": "shrink tube, its end pinched",
    "tube between": "shrink tube, pinched between the bus wires",
    "wire-sleeve": "sleeve the bus wires",
    "wire-sleeve braid": "sleeve the pigtail",
    "sealant": "sealant",
    "boot": "boot",
    "cap": "end cap",
    "tape": "tape",
    "crimp": "join wires: crimps, connectors",
    "ferrule": "ferrules",
    "terminals": "land the cable on terminals",
    "supply": "land the supply wires",
    "spare-holes": "close the spare holes",
    "gasket": "look at the gasket",
    "box": "close box or enclosure",
    "label": "fix the label",
    "step": "another step",
}
DATUMS = {
    "outer-jacket-cut": "the outer jacket's cut",
    "inner-jacket-cut": "the inner jacket's cut",
    "cable-end": "the cable's end",
}
NUMBERS = {
    "wall_mm": "Wall",
    "count": "Count",
    "hold_s": "held for",
    "torque_least_nm": "Torque from",
    "torque_most_nm": "to",
    "turns": "or turns",
    "minutes": "then wait",
    "title": "Title",
}
PLACED = {
    "width_least_mm": ("Width from", 0),
    "width_most_mm": ("to", 0),
    "area_least_mm2": ("Takes from", 0),
    "area_most_mm2": ("to", 0),
    "skin_min": ("Skins in", 0),
    "cure_min": ("cures in", 0),
    "at_c": ("at ", 0),
    "also_c": ("and at", 0),
    "also_skin_min": ("skins in", 0),
    "also_cure_min": ("cures in", 1),
    "least_c": ("Laid from", 0),
}  # fields of a part, and the how manieth of that name each is
WIRES = {"bus-1": "bus wire 1", "bus-2": "bus wire 2", "braid": "pigtail", "supply": "supply wires"}


class SheetPage:
    """Types a leaflet as an electrician would; counts what each row costs."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.touches = 0

    def serves(self, kinds: list[str], figures: dict[int, str]) -> None:
        """The cables served: kinds, and limits by their place in the row."""
        region = self.page.get_by_role("region", name="Cables served")
        for kind in kinds:
            region.get_by_role("checkbox", name=kind).check()
        for place, value in figures.items():
            region.get_by_role("textbox").nth(place).fill(value)

    def _added(self, region_name: str, menu: str, what: str) -> Locator:
        """One more row; it comes last."""
        region = self.page.get_by_role("region", name=region_name)
        rows = region.get_by_role("listitem")
        count = rows.count()
        region.get_by_role("combobox", name=menu).select_option(label=what)
        expect(rows).to_have_count(count + 1)
        self.touches = 1
        return rows.nth(count)

    def _fill(self, row: Locator, name: str | re.Pattern[str], value: object) -> None:
        row.get_by_role("textbox", name=name).first.fill(
            f"{value:g}" if isinstance(value, float) else str(value)
        )
        self.touches += 1

    def _figure(self, row: Locator, words: str, figure: dict[str, Any]) -> None:
        for unit in ("mm", "inch"):
            if figure.get(unit) is not None:
                self._fill(row, re.compile(f"{words}, {unit}$"), figure[unit])

    def _pick(self, row: Locator, name: str, value: str, label: str | None = None) -> None:
        """Picked, where it is not what the row begins with."""
        box = row.get_by_role("combobox", name=name, exact=True)
        if box.input_value() != value:
            box.select_option(label=label) if label else box.select_option(value)
            self.touches += 1

    def _ticks(self, row: Locator, on: dict[str, bool]) -> None:
        for words, wanted in on.items():
            box = row.get_by_role("checkbox", name=words, exact=True)
            if box.is_checked() != wanted:
                box.set_checked(wanted)
                self.touches += 1

    def part(self, what: str, given: dict[str, Any]) -> Locator:
        """One more part with its sizes."""
        row = self._added("Parts", "One more part", what)
        if "name" in given:
            self._fill(row, re.compile("^Name of the"), given["name"])
        for key, words in (("opens", "opens to"), ("closes", "closes to"), ("length", "long")):
            if key in given:
                self._figure(row, words, given[key])
        for key in ("wall_mm", "count"):
            if given.get(key) is not None:
                self._fill(row, re.compile(f"^{NUMBERS[key]}"), given[key])
        self._openings(row, given)
        if "lined" in given:
            self._ticks(row, {"adhesive": given["lined"]})
        self._ticks(row, {"in the box": given.get("supplied", True)})
        if given.get("id"):
            mark = row.get_by_role("textbox", name="Mark")
            mark.fill(given["id"])
        return row

    def _openings(self, row: Locator, given: dict[str, Any]) -> None:
        """What it takes, and the times of sealant, each in its field."""
        for key, (words, nth) in PLACED.items():
            if given.get(key) is not None:
                row.get_by_role("textbox", name=re.compile(f"^{words}")).nth(nth).fill(str(given[key]))

    def row(self, given: dict[str, Any]) -> Locator:
        """One more row of the work with its figures; at most six touches."""
        row = self._added("Rows", "One more row", ROWS[_kind(given)])
        if row.get_by_role("combobox", name="at", exact=True).count():
            self._pick(row, "at", given.get("at", ""))
        if row.get_by_role("combobox", name="Part", exact=True).count():
            self._pick(row, "Part", given.get("part", ""))
        if "length" in given:
            words = {
                "drill": "hole",
                "push-back": "by",
                "wire-sleeve": "leaves bare",
                "ferrule": "on bare wire",
            }
            self._figure(row, words.get(given["kind"], "length"), given["length"])
        if "reach" in given:
            self._figure(row, "reaches onto", given["reach"])
        if "datum" in given:
            behind = "measured from" if given["kind"] in ("cut", "strip-core") else "behind"
            self._pick(row, behind, given["datum"], DATUMS[given["datum"]])
        for key in ("hold_s", "torque_least_nm", "torque_most_nm", "turns", "minutes", "title"):
            if given.get(key) is not None:
                self._fill(row, re.compile(f"^{NUMBERS[key]}"), given[key])
        self._wires(row, given)
        if "school" in given:
            self._pick(row, "how", given["school"])
        assert self.touches <= MOST, f"{given}: {self.touches} touches"
        if given.get("text"):
            row.locator("summary").click()
            row.get_by_role("textbox", name="In its own words").fill(given["text"])
        return row

    def _wires(self, row: Locator, given: dict[str, Any]) -> None:
        if "on" in given:
            self._ticks(row, {words: wire in given["on"] for wire, words in WIRES.items()})
        if "joins" in given:
            names = WIRES | {"braid": "braid"}
            self._ticks(row, {names[w]: w in given["joins"] for w in ("bus-1", "bus-2", "braid")})
        if "spring" in given:
            self._ticks(row, {"hold by springs": given["spring"]})

    def leaflet(self, given: dict[str, Any]) -> None:
        """The whole of it: the cables served, the parts, the rows."""
        s = given["serves"]
        limits = ("width_least_mm", "width_most_mm", "thickness_least_mm", "thickness_most_mm")
        keys = (*limits, "bus_least_mm2", "bus_most_mm2", "voltage_most_v")
        self.serves(s["constructions"], {n: str(s[k]) for n, k in enumerate(keys)})
        for p in given["leaflet"]["parts"]:
            what = PARTS[p["what"]]
            if p.get("lined"):
                what = {"tube": "shrink tube with adhesive", "cap": "end cap, heat shrinks it"}[p["what"]]
            self.part(what, p)
        for x in given["leaflet"]["layers"]:
            self.row(x)

    def adds_up(self) -> None:
        """Nothing is doubted any more, and it is kept."""
        expect(self.page.get_by_role("heading", name="It adds up")).to_be_visible()
        expect(self.page.get_by_text("saving …")).to_have_count(0)


def _kind(given: dict[str, Any]) -> str:
    if given["kind"] == "cut":
        return f"cut {given['layer']}"
    if given["kind"] == "tube" and given.get("pinched"):
        return "tube between" if given.get("between") else "tube pinched"
    if given["kind"] == "wire-sleeve" and given.get("on") == ["braid"]:
        return "wire-sleeve braid"
    return str(given["kind"])
