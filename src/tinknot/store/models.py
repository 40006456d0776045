"""The tables. Figures of parts, drafts and plans are JSON the core has checked; the rest is columns."""

from peewee import (
    AutoField,
    BooleanField,
    CharField,
    FloatField,
    ForeignKeyField,
    IntegerField,
    Model,
    TextField,
)

from tinknot.store.database import db


class Base(Model):
    """Bound to the one database."""

    class Meta:
        database = db


class User(Base):
    """A person who signs in. `role`: viewer, jointer, verifier, admin."""

    id = AutoField()
    username = CharField(unique=True)
    name = CharField()
    role = CharField()
    password_hash = CharField()
    active = BooleanField(default=True)
    must_change = BooleanField(default=False)
    session_key = CharField()
    pin_hash = CharField(null=True)
    pin_misses = IntegerField(default=0)
    pin_locked_until = CharField(null=True)


class Part(Base):
    """A catalogue line: `kind` is sleeve or connector, `data` its figures as JSON."""

    id = AutoField()
    part_id = CharField(unique=True)
    kind = CharField(index=True)
    data = TextField()
    retired = BooleanField(default=False)
    version = IntegerField(default=1)


class Lot(Base):
    """What is on hand of a part: mm of sleeve or pieces of a connector."""

    id = AutoField()
    part = ForeignKeyField(Part, backref="lots")
    name = CharField()
    quantity = FloatField()
    use_by = CharField(null=True)
    opened = BooleanField(default=False)
    place = CharField(default="")

    class Meta:
        indexes = ((("part", "name"), True),)


class Line(Base):
    """A cable that runs through the site, on which joints lie."""

    id = AutoField()
    name = CharField(unique=True)
    length_m = FloatField()
    order = IntegerField(default=0)


class Zone(Base):
    """A named stretch of the site, drawn behind the lines."""

    id = AutoField()
    name = CharField(unique=True)
    from_m = FloatField()
    to_m = FloatField()


class Joint(Base):
    """A joint: `draft` is its joint file as far as it is filled in, `version` guards edits. At its release
    `signed_hash` is the last event's hash, `signed_content` the digest of the rest, `sealed` a copy of what stood
    round the joint (JSON), `scheme` which of these the `signature` covers."""

    id = AutoField()
    ref = CharField(unique=True)
    title = CharField()
    line = ForeignKeyField(Line, null=True, backref="joints")
    at_m = FloatField(null=True)
    draft = TextField()
    state = CharField(default="draft", index=True)
    version = IntegerField(default=1)
    revision = IntegerField(default=0)
    created = CharField()
    updated = CharField()
    created_by = CharField()
    signed_hash = CharField(null=True)
    signature = CharField(null=True)
    signed_content = CharField(null=True)
    scheme = IntegerField(null=True)
    sealed = TextField(null=True)


class PlanRevision(Base):
    """A plan, frozen, with the joint file it was made from and what it changed."""

    id = AutoField()
    joint = ForeignKeyField(Joint, backref="revisions")
    number = IntegerField()
    file = TextField()
    plan = TextField()
    made = TextField()
    differences = TextField()
    actor = CharField()
    created = CharField()

    class Meta:
        indexes = ((("joint", "number"), True),)


class EventRow(Base):
    """An accepted event; `body` is the canonical JSON that was hashed."""

    id = AutoField()
    joint = ForeignKeyField(Joint, backref="events")
    number = IntegerField()
    event_id = CharField(unique=True)
    body = TextField()
    hash = CharField()

    class Meta:
        indexes = ((("joint", "number"), True),)


class Move(Base):
    """Stock in and out: received, counted, reserved, consumed, returned; quantity signed."""

    id = AutoField()
    lot = ForeignKeyField(Lot, backref="moves", null=True)
    joint = ForeignKeyField(Joint, backref="moves", null=True)
    layer = CharField(default="")
    kind = CharField()
    quantity = FloatField()
    at = CharField()
    who = CharField()
    note = CharField(default="")


class Tool(Base):
    """A tool with a calibration date; `kind` as the steps name it, `data` its calibration points as JSON."""

    id = AutoField()
    name = CharField(unique=True)
    kind = CharField(index=True)
    due = CharField(null=True)
    data = TextField(default="{}")
    retired = BooleanField(default=False)


class Repeat(Base):
    """An answer kept for a repeated request: `key` and `digest` say whose request it was and what it asked."""

    key = CharField(primary_key=True)
    digest = CharField()
    created = CharField(index=True)
    status = IntegerField()
    body = TextField()


class Setting(Base):
    """A value of the site: its rules, its key."""

    key = CharField(primary_key=True)
    value = TextField()


class KitSheetRow(Base):
    """A revision of a kit sheet: `body` is the sheet as JSON, `authors` who wrote it (JSON list of names)."""

    id = AutoField()
    sheet_id = CharField()
    revision = IntegerField()
    state = CharField()
    body = TextField()
    authors = TextField()
    version = IntegerField(default=1)
    updated = CharField()

    class Meta:
        table_name = "kit_sheet"
        indexes = ((("sheet_id", "revision"), True),)


TABLES = (
    User,
    Part,
    Lot,
    Line,
    Zone,
    Joint,
    PlanRevision,
    EventRow,
    Move,
    Tool,
    Repeat,
    Setting,
    KitSheetRow,
)
