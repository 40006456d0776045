# Generated from a schema diff on 2026-11-24 04:10.
from peewee import *


def up(migrator, db):
    class Line(Model):
        name = CharField(unique=True)
        length_m = FloatField()
        order = IntegerField(default=0)

        class Meta:
            database = db
            table_name = "line"

    db.create_tables([Line])

    class Joint(Model):
        ref = CharField(unique=True)
        title = CharField()
        line = ForeignKeyField(Line, null=True)
        at_m = FloatField(null=True)
        draft = TextField()
        state = CharField(index=True, default="draft")
        version = IntegerField(default=1)
        revision = IntegerField(default=0)
        created = CharField()
        updated = CharField()
        created_by = CharField()
        signed_hash = CharField(null=True)
        signature = CharField(null=True)

        class Meta:
            database = db
            table_name = "joint"

    db.create_tables([Joint])

    class EventRow(Model):
        joint = ForeignKeyField(Joint)
        number = IntegerField()
        event_id = CharField(unique=True)
        body = TextField()
        hash = CharField()

        class Meta:
            database = db
            table_name = "eventrow"
            indexes = ((("joint", "number"), True),)

    db.create_tables([EventRow])

    class Part(Model):
        part_id = CharField(unique=True)
        kind = CharField(index=True)
        data = TextField()
        retired = BooleanField(default=False)
        version = IntegerField(default=1)

        class Meta:
            database = db
            table_name = "part"

    db.create_tables([Part])

    class Lot(Model):
        part = ForeignKeyField(Part)
        name = CharField()
        quantity = FloatField()
        use_by = CharField(null=True)
        opened = BooleanField(default=False)
        place = CharField(default="")

        class Meta:
            database = db
            table_name = "lot"
            indexes = ((("part", "name"), True),)

    db.create_tables([Lot])

    class Move(Model):
        lot = ForeignKeyField(Lot, null=True)
        joint = ForeignKeyField(Joint, null=True)
        layer = CharField(default="")
        kind = CharField()
        quantity = FloatField()
        at = CharField()
        who = CharField()
        note = CharField(default="")

        class Meta:
            database = db
            table_name = "move"

    db.create_tables([Move])

    class PlanRevision(Model):
        joint = ForeignKeyField(Joint)
        number = IntegerField()
        file = TextField()
        plan = TextField()
        made = TextField()
        differences = TextField()
        actor = CharField()
        created = CharField()

        class Meta:
            database = db
            table_name = "planrevision"
            indexes = ((("joint", "number"), True),)

    db.create_tables([PlanRevision])

    class Repeat(Model):
        key = CharField(primary_key=True)
        status = IntegerField()
        body = TextField()

        class Meta:
            database = db
            table_name = "repeat"

    db.create_tables([Repeat])

    class Setting(Model):
        key = CharField(primary_key=True)
        value = TextField()

        class Meta:
            database = db
            table_name = "setting"

    db.create_tables([Setting])

    class User(Model):
        username = CharField(unique=True)
        name = CharField()
        role = CharField()
        password_hash = CharField()
        active = BooleanField(default=True)
        must_change = BooleanField(default=False)
        session_key = CharField()

        class Meta:
            database = db
            table_name = "user"

    db.create_tables([User])

    class Zone(Model):
        name = CharField(unique=True)
        from_m = FloatField()
        to_m = FloatField()

        class Meta:
            database = db
            table_name = "zone"

    db.create_tables([Zone])


def down(migrator, db):
    migrator.migrate(migrator.drop_table("zone"))
    migrator.migrate(migrator.drop_table("user"))
    migrator.migrate(migrator.drop_table("setting"))
    migrator.migrate(migrator.drop_table("repeat"))
    migrator.migrate(migrator.drop_table("planrevision"))
    migrator.migrate(migrator.drop_table("move"))
    migrator.migrate(migrator.drop_table("lot"))
    migrator.migrate(migrator.drop_table("part"))
    migrator.migrate(migrator.drop_table("eventrow"))
    migrator.migrate(migrator.drop_table("joint"))
    migrator.migrate(migrator.drop_table("line"))
