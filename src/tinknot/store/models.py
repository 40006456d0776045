"""The tables. Figures of parts, drafts and plans are JSON the core has checked; the rest is columns."""

from typing import TYPE_CHECKING

from peewee import (
    AutoField,
    BooleanField,
    CharField,
    CompositeKey,
    FloatField,
    ForeignKeyField,
    IntegerField,
    Model,
    ModelSelect,
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
    pin_hash = CharField(null=True)
    version = IntegerField(default=1)


class AccountChange(Base):
    """A change of somebody's account: when, who made it (0: whoever sat at the server), whose it is, and what
    was changed, in words."""

    id = AutoField()
    at = CharField()
    by_id = IntegerField()
    by_name = CharField()
    user = IntegerField(column_name="user_id")
    user_name = CharField()
    what = TextField()

    class Meta:
        table_name = "account_change"


class SignIn(Base):
    """Somebody signed in on a device: the digest of what its cookie says."""

    token = CharField(primary_key=True)
    user = IntegerField(column_name="user_id", index=True)
    created = CharField()

    class Meta:
        table_name = "sign_in"


class Try(Base):
    """Tries of a secret under a name, up to the moment (seconds since 1970) from which they count anew."""

    key = CharField(primary_key=True)
    count = IntegerField()
    until = FloatField()


class Worker(Base):
    """Who measured, chose or planned at a joint."""

    joint = IntegerField(column_name="joint_id")
    user = IntegerField(column_name="user_id")

    class Meta:
        primary_key = CompositeKey("joint", "user")


class Picture(Base):
    """Under which name (SHA-256) a picture is kept that was sent under another; only the picture itself is
    kept."""

    sent = CharField(primary_key=True)
    kept = CharField()


class Part(Base):
    """A catalogue line: `kind` is sleeve or connector, `data` its figures as JSON."""

    if TYPE_CHECKING:
        lots: "ModelSelect[Lot]"  # named by `Lot.part`

    id = AutoField()
    part_id = CharField(unique=True)
    kind = CharField(index=True)
    data = TextField()
    retired = BooleanField(default=False)
    version = IntegerField(default=1)


class Lot(Base):
    """What is on hand of a part: mm of sleeve or pieces of a connector."""

    if TYPE_CHECKING:
        part_id: int

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
    """A joint: `draft` is its joint file as far as it is filled in, `version` guards edits; `late`: what came
    after its release and nobody has settled yet. At its release
    `signed_hash` is the last event's hash, `signed_content` the digest of the rest, `sealed` a copy of
    what stood round the joint (JSON), `scheme` which of these the `signature` covers."""

    if TYPE_CHECKING:
        line_id: int | None
        revisions: "ModelSelect[PlanRevision]"  # named by `PlanRevision.joint`

    id = AutoField()
    ref = CharField(unique=True)
    title = CharField()
    line = ForeignKeyField(Line, null=True, backref="joints")
    at_m = FloatField(null=True)
    draft = TextField()
    state = CharField(default="draft", index=True)
    limits = CharField(default="")
    late = CharField(default="")
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


class SummaryRow(Base):
    """What lists show of a joint: `body` as JSON, and what lists count and order by. `through`: the moment
    from which nothing cures any more. Triggers take it away when anything it was made from changes."""

    joint = ForeignKeyField(Joint, primary_key=True)
    minutes = FloatField()
    through = CharField(null=True)
    remakes = IntegerField(null=True)
    unreadable = BooleanField()
    body = TextField()

    class Meta:
        table_name = "summary"


class Mark(Base):
    """One row: another value after every change of what the board shows, drawn by triggers."""

    value = IntegerField()

    class Meta:
        table_name = "mark"
        primary_key = False


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

    if TYPE_CHECKING:
        lot_id: int  # of a move without one, which only old databases have, nothing is asked

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
    """A tool with a calibration date; `kind` as the steps name it, `data` its calibration points as JSON;
    who said so last, and when."""

    id = AutoField()
    name = CharField(unique=True)
    kind = CharField(index=True)
    due = CharField(null=True)
    data = TextField(default="{}")
    retired = BooleanField(default=False)
    version = IntegerField(default=1)
    set_by = CharField(default="")
    set_at = CharField(default="")


class Repeat(Base):
    """An answer kept for a repeated request: `key` and `digest` say whose request it was and what it
    asked."""

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
    """A revision of a kit sheet: `body` is the sheet as JSON, `authors` and `author_ids` who wrote it
    (JSON lists of names and of people's numbers)."""

    id = AutoField()
    sheet_id = CharField()
    revision = IntegerField()
    state = CharField()
    body = TextField()
    authors = TextField()
    author_ids = TextField(default="[]")
    version = IntegerField(default=1)
    updated = CharField()

    class Meta:
        table_name = "kit_sheet"
        indexes = ((("sheet_id", "revision"), True),)


TABLES = (
    User,
    AccountChange,
    SignIn,
    Try,
    Worker,
    Picture,
    Part,
    Lot,
    Line,
    Zone,
    Joint,
    PlanRevision,
    EventRow,
    SummaryRow,
    Move,
    Tool,
    Repeat,
    Setting,
    KitSheetRow,
)
