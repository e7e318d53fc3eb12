"""The tables of the shop's store, as they are now; `migrations` says how older ones became so.

Amounts of money are text: they are exact decimals, and SQLite knows none.
"""

from sqlalchemy import Column, Float, Integer, MetaData, String, Table, Text

TABLES = MetaData()
MATERIAL = Table(
    "material",
    TABLES,
    Column("id", String, primary_key=True),
    Column("name", String, nullable=False),
    Column("both_faces_alike", Integer, nullable=False),
)
STOCK = Table(
    "stock",
    TABLES,
    Column("id", String, primary_key=True),
    Column("position", Integer, nullable=False),
    Column("name", String, nullable=False),
    Column("kind", String, nullable=False),
    Column("material", String, nullable=False),
    Column("thickness", Float, nullable=False),
    Column("outline", Text, nullable=False),
    Column("owned", Integer, nullable=False),
    Column("price", String),
    Column("margin", Float, nullable=False),
    Column("make", String, nullable=False),
    Column("supplier", String, nullable=False, server_default=""),
    Column("pack", Integer, nullable=False, server_default="1"),
    Column("available", Integer),
    Column("steps", Text, nullable=False, server_default="[]"),
    Column("measured", Float),
    Column("colour", String, nullable=False, server_default=""),
    Column("place", String, nullable=False, server_default=""),
    Column("offered", Integer, nullable=False, server_default="0"),
    Column("sides", String, nullable=False, server_default=""),
    Column("state", String, nullable=False, server_default=""),
)
SETTING = Table(
    "setting",
    TABLES,
    Column("key", String, primary_key=True),
    Column("value", String, nullable=False),
)
PRINTER = Table(
    "printer",
    TABLES,
    Column("name", String, primary_key=True),
    Column("nominal", Float, nullable=False),
    Column("measured", Float, nullable=False),
    Column("date", String, nullable=False),
)
BOOK = Table(
    "book",
    TABLES,
    Column("material", String, primary_key=True),
    Column("neutral", Float, nullable=False),
    Column("shrink_along", Float, nullable=False),
    Column("shrink_across", Float, nullable=False),
    Column("density", Float, nullable=False),
    Column("dish_limit", Float, nullable=False),
    Column("tightest", Float, nullable=False),
    Column("springback", Float, nullable=False),
    Column("stretch_along", Float, nullable=False, server_default="0"),
    Column("stretch_across", Float, nullable=False, server_default="0"),
    Column("kind", String, nullable=False),
)
COUPON = Table(
    "coupon",
    TABLES,
    Column("number", Integer, primary_key=True, autoincrement=True),
    Column("material", String, nullable=False),
    Column("what", String, nullable=False),
    Column("date", String, nullable=False),
    Column("before", Text, nullable=False),
    Column("after", Text, nullable=False),
)
FLAW = Table(
    "flaw",
    TABLES,
    Column("number", Integer, primary_key=True, autoincrement=True),
    Column("stock", String, nullable=False),
    Column("outline", Text, nullable=False),
)
SUPPLIER = Table(
    "supplier",
    TABLES,
    Column("id", String, primary_key=True),
    Column("name", String, nullable=False),
    Column("shipping", String, nullable=False),
    Column("free_from", String),
    Column("minimum", String, nullable=False),
    Column("days", Integer, nullable=False),
)
BAR = Table(
    "bar",
    TABLES,
    Column("id", String, primary_key=True),
    Column("kind", String, nullable=False),
    Column("size", Float, nullable=False),
    Column("length", Float, nullable=False),
    Column("owned", Integer, nullable=False),
    Column("price", String),
    Column("supplier", String, nullable=False),
    Column("pack", Integer, nullable=False),
    Column("available", Integer),
    Column("place", String, nullable=False),
)
CONSUMABLE = Table(
    "consumable",
    TABLES,
    Column("id", String, primary_key=True),
    Column("name", String, nullable=False),
    Column("kind", String, nullable=False),
    Column("size", Float, nullable=False),
    Column("coverage", Float, nullable=False),
    Column("coats", Integer, nullable=False),
    Column("price", String),
    Column("supplier", String, nullable=False),
    Column("left", Float, nullable=False),
    Column("opened", String, nullable=False),
    Column("months", Integer, nullable=False),
    Column("rate", String, nullable=False),
)
RESERVATION = Table(
    "reservation",
    TABLES,
    Column("project", String, primary_key=True),
    Column("item", String, primary_key=True),
    Column("name", String, nullable=False),
    Column("count", Integer, nullable=False),
)
ENTRY = Table(
    "entry",
    TABLES,
    Column("id", String, primary_key=True),
    Column("project", String, nullable=False),
    Column("moment", String, nullable=False),
    Column("body", Text, nullable=False),
)
STEP_SET = Table(
    "step_set",
    TABLES,
    Column("name", String, primary_key=True),
    Column("body", Text, nullable=False),
)
LIBRARY = Table(
    "library",
    TABLES,
    Column("id", String, primary_key=True),
    Column("name", String, nullable=False),
    Column("body", Text, nullable=False),
)
PAST_ORDER = Table(
    "past_order",
    TABLES,
    Column("number", Integer, primary_key=True, autoincrement=True),
    Column("day", String, nullable=False),
    Column("project", String, nullable=False),
    Column("shipping", String, nullable=False),
    Column("lines", Text, nullable=False),
)
