"""The tables of a study file, as the newest migration leaves them."""

from sqlalchemy import (
    JSON,
    BigInteger,
    Boolean,
    Column,
    ForeignKey,
    Integer,
    MetaData,
    String,
    Table,
    Text,
    UniqueConstraint,
)

metadata = MetaData()

study = Table(
    "study",
    metadata,
    Column("id", String, primary_key=True),
    Column("title", Text, nullable=False),
    Column("question", Text, nullable=False),
    Column("audience", Text, nullable=False),
    Column("sample", Boolean(create_constraint=False), nullable=False),
    Column("seed", Integer, nullable=False),
    Column("made_wall_ns", BigInteger, nullable=False),
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
    Column("kind", String, nullable=False),
    Column("version", Integer, nullable=False),
    Column("ticks_ns", BigInteger, nullable=False),
    Column("boot", String, nullable=False),
    Column("wall_ns", BigInteger, nullable=False),
    Column("author", String, nullable=False),
    Column("body", Text, nullable=False),
)
sort_entry = Table(
    "sort_entry",
    metadata,
    Column("number", Integer, primary_key=True, autoincrement=False),
    Column("kind", String, nullable=False),
    Column("version", Integer, nullable=False),
    Column("ticks_ns", BigInteger, nullable=False),
    Column("boot", String, nullable=False),
    Column("wall_ns", BigInteger, nullable=False),
    Column("author", String, nullable=False),
    Column("body", Text, nullable=False),
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
