"""The first store: materials, the shelf with its prices, settings."""

import sqlalchemy as sa
from alembic import op

revision = "1"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Make the first tables."""
    op.create_table(
        "material",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("both_faces_alike", sa.Integer, nullable=False),
    )
    op.create_table(
        "stock",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("position", sa.Integer, nullable=False),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("kind", sa.String, nullable=False),
        sa.Column("material", sa.String, nullable=False),
        sa.Column("thickness", sa.Float, nullable=False),
        sa.Column("outline", sa.Text, nullable=False),
        sa.Column("owned", sa.Integer, nullable=False),
        sa.Column("price", sa.String),
        sa.Column("margin", sa.Float, nullable=False),
        sa.Column("make", sa.String, nullable=False),
    )
    op.create_table(
        "setting",
        sa.Column("key", sa.String, primary_key=True),
        sa.Column("value", sa.String, nullable=False),
    )
