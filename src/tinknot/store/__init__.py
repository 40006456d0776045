"""SQLite through peewee: models, migrations, event log, queries, backup."""
