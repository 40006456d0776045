"""What belongs to the site: its rule book, its signing key, its lines."""

from typing import Annotated, Any, Literal
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from cryptography.hazmat.primitives.serialization import Encoding, PublicFormat
from pydantic import AfterValidator, Field

from tinknot.core.dates import Dates
from tinknot.core.errors import Conflict, InputError, NotFound
from tinknot.core.model import Result
from tinknot.core.rule import GROUPS
from tinknot.core.rulebook import DEFAULTS, RuleBook
from tinknot.services import keys, settings
from tinknot.store.database import writing
from tinknot.store.models import Line, Zone


class RuleOut(Result):
    """A rule with its default and the site's own value, if any; `sheet`: a kit sheet may set it;
    `group`: where a person looks for it; `name`: what it is called; `why`: its reason."""

    key: str
    value: Any
    default: Any
    own: bool
    reason: str
    unit: str
    why: str
    source: str
    low: float | None
    high: float | None
    sheet: bool
    group: str
    name: str


def rule_book() -> RuleBook:
    """The rule book as the site has it."""
    return RuleBook.of(own_rules())


def own_rules() -> dict[str, Any]:
    """The site's own values, by the rule they stand for; those of rules that are gone are left out."""
    return {k: v["value"] for k, v in (settings.get("rules") or {}).items() if k in DEFAULTS}


def rule_book_with(key: str, value: Any) -> RuleBook:
    """The rule book as it would be with a rule changed; None goes back to its default. Raises InputError."""
    own = own_rules() | {key: value}
    return _checked({k: v for k, v in own.items() if v is not None})


def _checked(own: dict[str, Any]) -> RuleBook:
    """The rule book with values of the site's own. Raises InputError at `/value`, which one of them was."""
    try:
        return RuleBook.of(own)
    except InputError as fault:
        raise InputError.at("/value", "; ".join(e.message for e in fault.errors)) from None


_ORDER = {group: n for n, group in enumerate(GROUPS)}


def rules() -> list[RuleOut]:
    """All rules, group by group in the order of the work."""
    own = settings.get("rules") or {}
    return [
        RuleOut(
            key=r.key,
            value=own.get(r.key, {}).get("value", r.value),
            default=r.value,
            own=r.key in own,
            reason=own.get(r.key, {}).get("reason", ""),
            unit=r.unit,
            why=r.why,
            source=r.source,
            low=r.low,
            high=r.high,
            sheet=r.sheet,
            group=r.group,
            name=r.name,
        )
        for r in sorted(DEFAULTS.values(), key=lambda r: _ORDER[r.group])
    ]


def rules_version() -> int:
    """How often the rule book was changed."""
    return int(settings.get("rules-version") or 0)


def set_rule(key: str, value: Any, reason: str, version: int) -> None:
    """The site's own value with its reason; None goes back to the default. Raises Conflict when somebody
    else changed the rule book since `version`."""
    with writing():
        if rules_version() != version:
            raise Conflict(
                "The rule book was changed by somebody else in the meantime. Look again, then change it."
            )
        settings.put("rules", _with(key, value, reason))
        settings.put("rules-version", version + 1)


def _with(key: str, value: Any, reason: str) -> dict[str, Any]:
    """The site's own rules with one changed. Raises InputError."""
    own = dict(settings.get("rules") or {})
    if value is None:
        own.pop(key, None)
    else:
        if not reason.strip():
            raise InputError.at("/reason", "say why the site does it differently")
        if key == "holds.second_person" and isinstance(value, list) and "released" not in value:
            raise InputError.at("/value", "must keep released: nobody releases their own work")
        own[key] = {"value": value, "reason": reason.strip()}
    _checked({k: v["value"] for k, v in own.items()})
    return own


def _zone(name: str) -> str:
    try:
        ZoneInfo(name)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        raise ValueError("must be a time zone by its name, such as Europe/Oslo") from None
    return name


TimeZone = Annotated[str, Field(min_length=1, max_length=60), AfterValidator(_zone)]


class Writing(Result):
    """How the site writes: dates and hours, the unit that a new device begins with, and the time zone by
    whose days lots, calibrations and permits run out (a name of the IANA data base); `version` guards
    edits."""

    dates: Dates = Dates()
    unit: Literal["mm", "inch"] = "mm"
    zone: TimeZone = "UTC"
    version: int = 0


def writing_form() -> Writing:
    """How the site writes: day month year, 24 hours and mm until an admin says otherwise."""
    return Writing.model_validate(settings.get("writing") or {})


def set_writing_form(form: Writing, version: int) -> Writing:
    """Change how the site writes. Raises Conflict when somebody else did since `version`."""
    with writing():
        if writing_form().version != version:
            raise Conflict("This was changed by somebody else in the meantime. Look again, then change it.")
        changed = form.model_copy(update={"version": version + 1})
        settings.put("writing", changed.model_dump(mode="json"))
    return changed


def public_key() -> str:
    """The site's public key, hex (Ed25519, RFC 8032)."""
    return keys.site_key().public_key().public_bytes(Encoding.Raw, PublicFormat.Raw).hex()


def sign(text: str) -> str:
    """Signature of `text` with the site's key, hex."""
    return keys.site_key().sign(text.encode()).hex()


class LineOut(Result):
    """A cable line."""

    id: int
    name: str
    length_m: float
    order: int


class ZoneOut(Result):
    """A named stretch of the site."""

    name: str
    from_m: float
    to_m: float


def lines() -> list[LineOut]:
    """All lines in their order."""
    return [
        LineOut(id=r.id, name=r.name, length_m=r.length_m, order=r.order)
        for r in Line.select().order_by(Line.order, Line.id)
    ]


def zones() -> list[ZoneOut]:
    """All zones along the site."""
    return [ZoneOut(name=z.name, from_m=z.from_m, to_m=z.to_m) for z in Zone.select().order_by(Zone.from_m)]


def add_line(name: str, length_m: float) -> LineOut:
    """A new line."""
    with writing():
        if Line.select().where(Line.name == name).exists():
            raise Conflict(f"There is a line {name} already.")
        row = Line.create(name=name, length_m=length_m, order=Line.select().count())
    return LineOut(id=row.id, name=row.name, length_m=row.length_m, order=row.order)


def add_zone(name: str, from_m: float, to_m: float) -> ZoneOut:
    """A named stretch."""
    if to_m <= from_m:
        raise InputError.at("/to_m", "must lie behind from_m")
    with writing():
        Zone.insert(name=name, from_m=from_m, to_m=to_m).on_conflict_replace().execute()
    return ZoneOut(name=name, from_m=from_m, to_m=to_m)


def line_row(line_id: int) -> Line:
    """The line's row. Raises NotFound."""
    row = Line.get_or_none(Line.id == line_id)
    if row is None:
        raise NotFound("There is no such line.")
    return row
