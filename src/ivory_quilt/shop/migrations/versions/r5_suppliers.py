"""Suppliers, packs and price steps; bars; what is used up; what projects hold of the shelf."""

import sqlalchemy as sa
from alembic import op

revision = "5"
down_revision = "4"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Make the tables, and give stock what it lacks."""
    for column in (
        sa.Column("supplier", sa.String, nullable=False, server_default=""),
        sa.Column("pack", sa.Integer, nullable=False, server_default="1"),
        sa.Column("available", sa.Integer),
        sa.Column("steps", sa.Text, nullable=False, server_default="[]"),
        sa.Column("measured", sa.Float),
        sa.Column("colour", sa.String, nullable=False, server_default=""),
        sa.Column("place", sa.String, nullable=False, server_default=""),
        sa.Column("offered", sa.Integer, nullable=False, server_default="0"),
    ):
        op.add_column("stock", column)
    op.create_table(
        "supplier",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("shipping", sa.String, nullable=False),
        sa.Column("free_from", sa.String),
        sa.Column("minimum", sa.String, nullable=False),
        sa.Column("days", sa.Integer, nullable=False),
    )
    op.create_table(
        "bar",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("kind", sa.String, nullable=False),
        sa.Column("size", sa.Float, nullable=False),
        sa.Column("length", sa.Float, nullable=False),
        sa.Column("owned", sa.Integer, nullable=False),
        sa.Column("price", sa.String),
        sa.Column("supplier", sa.String, nullable=False),
        sa.Column("pack", sa.Integer, nullable=False),
        sa.Column("available", sa.Integer),
        sa.Column("place", sa.String, nullable=False),
    )
    op.create_table(
        "consumable",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("kind", sa.String, nullable=False),
        sa.Column("size", sa.Float, nullable=False),
        sa.Column("coverage", sa.Float, nullable=False),
        sa.Column("coats", sa.Integer, nullable=False),
        sa.Column("price", sa.String),
        sa.Column("supplier", sa.String, nullable=False),
        sa.Column("left", sa.Float, nullable=False),
        sa.Column("opened", sa.String, nullable=False),
        sa.Column("months", sa.Integer, nullable=False),
        sa.Column("rate", sa.String, nullable=False),
    )
    op.create_table(
        "reservation",
        sa.Column("project", sa.String, primary_key=True),
        sa.Column("item", sa.String, primary_key=True),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("count", sa.Integer, nullable=False),
    )
