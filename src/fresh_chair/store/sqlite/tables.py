"""The tables of a study file, as the newest migration leaves them."""

from typing import Any

from sqlalchemy import (
    JSON,
    BigInteger,
    Boolean,
    Column,
    ForeignKey,
    Integer,
    LargeBinary,
    MetaData,
    String,
    Table,
    Text,
    UniqueConstraint,
)

metadata = MetaData()


def _entry_columns() -> list[Column[Any]]:
    """The columns that the tables of all ledgers have, after their keys."""
    return [
        Column("kind", String, nullable=False),
        Column("version", Integer, nullable=False),
        Column("ticks_ns", BigInteger, nullable=False),
        Column("boot", String, nullable=False),
        Column("wall_ns", BigInteger, nullable=False),
        Column("author", String, nullable=False),
        Column("body", Text, nullable=False),
    ]


study = Table(
    "study",
    metadata,
    Column("id", String, primary_key=True),
    Column("title", Text, nullable=False),
    Column("question", Text, nullable=False),
    Column("sample", Boolean(create_constraint=False), nullable=False),
    Column("seed", Integer, nullable=False),
    Column("made_wall_ns", BigInteger, nullable=False),
    Column("sheet", JSON, nullable=False, server_default="{}"),
)
machine = Table(
    "machine",
    metadata,
    Column("id", String, primary_key=True),
    Column("place", Integer, nullable=False),
    Column("body", JSON, nullable=False),
)
carried = Table(
    "carried",
    metadata,
    Column("id", String, primary_key=True),
    Column("place", Integer, nullable=False),
    Column("body", JSON, nullable=False),
)
# The script as its author wrote it, comments and all; the newest one holds, the cards are read from it.
script = Table(
    "script",
    metadata,
    Column("number", Integer, primary_key=True, autoincrement=False),
    Column("wall_ns", BigInteger, nullable=False),
    Column("author", String, nullable=False),
    Column("text", Text, nullable=False),
)
change = Table(
    "change",
    metadata,
    Column("number", Integer, primary_key=True, autoincrement=False),
    Column("wall_ns", BigInteger, nullable=False),
    Column("author", String, nullable=False),
    Column("place", Text, nullable=False),
    Column("before", Text, nullable=False),
    Column("after", Text, nullable=False),
    Column("sittings", Integer, nullable=False),
)
hunch = Table(
    "hunch",
    metadata,
    Column("id", String, primary_key=True),
    Column("card", String, nullable=False),
    Column("chair", String, nullable=False),
    Column("words", Text, nullable=False),
    Column("severity", Integer, nullable=False),
    Column("written_wall_ns", BigInteger, nullable=False),
    Column("sealed_wall_ns", BigInteger),
    Column("late", Boolean(create_constraint=False), nullable=False),
)
fixture_check = Table(
    "fixture_check",
    metadata,
    Column("number", Integer, primary_key=True, autoincrement=False),
    Column("wall_ns", BigInteger, nullable=False),
    Column("name", Text, nullable=False),
    Column("presence", String, nullable=False),
    Column("note", Text, nullable=False),
)
erasure = Table(
    "erasure",
    metadata,
    Column("participant", String, primary_key=True),
    Column("wall_ns", BigInteger, nullable=False),
    Column("author", String, nullable=False),
    Column("figures_kept", Boolean(create_constraint=False), nullable=False),
)
chair = Table(
    "chair",
    metadata,
    Column("letter", String, primary_key=True),
    Column("place", Integer, nullable=False),
    Column("body", JSON, nullable=False),
)
card = Table(
    "card",
    metadata,
    Column("id", String, primary_key=True),
    Column("place", Integer, nullable=False),
    Column("body", JSON, nullable=False),
)
person = Table(
    "person",
    metadata,
    Column("code", String, primary_key=True),
    Column("place", Integer, nullable=False),
    Column("body", JSON, nullable=False),
)
seat = Table(
    "seat",
    metadata,
    Column("number", Integer, primary_key=True, autoincrement=False),
    Column("participant", String, ForeignKey("person.code"), nullable=False),
    Column("chair", String, ForeignKey("chair.letter"), nullable=False),
    Column("position", Integer, nullable=False),
    Column("cards", JSON, nullable=False),
    UniqueConstraint("participant", "chair"),
)
entry = Table(
    "entry",
    metadata,
    Column("sitting", Integer, ForeignKey("seat.number"), primary_key=True),
    Column("number", Integer, primary_key=True),
    Column("id", String, nullable=False, unique=True),
    *_entry_columns(),
)
sort_entry = Table(
    "sort_entry",
    metadata,
    Column("number", Integer, primary_key=True, autoincrement=False),
    *_entry_columns(),
)
# What is known of the chairs: entries that are only ever appended.
chair_entry = Table(
    "chair_entry",
    metadata,
    Column("number", Integer, primary_key=True, autoincrement=False),
    Column("chair", String, nullable=False),
    *_entry_columns(),
)
# Whole states that an entry speaks of, as compressed JSON; read only where one is compared.
chair_state = Table(
    "chair_state",
    metadata,
    Column("number", Integer, primary_key=True, autoincrement=False),
    Column("body", LargeBinary, nullable=False),
)
# Not a record of anything that happened: only how long the program is known to have lived.
pulse = Table(
    "pulse",
    metadata,
    Column("sitting", Integer, ForeignKey("seat.number"), primary_key=True),
    Column("ticks_ns", BigInteger, nullable=False),
    Column("boot", String, nullable=False),
    Column("wall_ns", BigInteger, nullable=False),
)
