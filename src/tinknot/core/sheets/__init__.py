"""What does not add up in a kit sheet, said at once while it is typed. A sheet with a doubt is not
checked."""

from tinknot.core.errors import InputError
from tinknot.core.joint.kitsheet import TRACE_ENDS, KitSheet
from tinknot.core.rulebook import RuleBook
from tinknot.core.sheets.doubt import Doubt
from tinknot.core.sheets.figures import figures_agree
from tinknot.core.sheets.lengths import cuts_nest, tubes_reach
from tinknot.core.sheets.needs import nothing_missing
from tinknot.core.sheets.order import rows_in_order
from tinknot.core.sheets.parts import layers_agree, parts_agree
from tinknot.core.sheets.rounds import ranges_agree, steps_named_once
from tinknot.core.sheets.windows import windows_serve

__all__ = ["Doubt", "doubts"]


def doubts(sheet: KitSheet, rules: RuleBook) -> list[Doubt]:
    """Everything that keeps a sheet from being checked; empty when it adds up."""
    found: list[Doubt] = []
    try:
        sheet.check()
    except InputError as fault:
        found += [Doubt(path=e.path, message=e.message) for e in fault.errors]
    if sheet.recipe not in TRACE_ENDS:
        if sheet.leaflet is not None:
            found.append(Doubt(path="/leaflet", message="belongs to heat-trace kits only"))
        return [*found, *ranges_agree(sheet), *steps_named_once(sheet)]
    if sheet.leaflet is None:
        return [*found, Doubt(path="/leaflet", message="is empty: type the parts and the rows of the work")]
    found += figures_agree(sheet.leaflet)
    if any("is not a length" in d.message for d in found):
        return found
    found += parts_agree(sheet.leaflet)
    found += layers_agree(sheet)
    for construction in sheet.serves.constructions or ["self-regulating"]:
        found += cuts_nest(sheet, construction)
        found += nothing_missing(sheet, construction)
        found += rows_in_order(sheet, construction)
        found += tubes_reach(sheet, construction, rules)
    found += windows_serve(sheet, rules)
    if not sheet.serves.constructions:
        found.append(
            Doubt(path="/serves/constructions", message="is empty: say which kinds of cable the kit serves")
        )
    return list({(d.path, d.message): d for d in found}.values())
