"""Printers, each with how true it prints."""

import sqlalchemy as sa
from alembic import op

revision = "2"
down_revision = "1"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Make the table of printers."""
    op.create_table(
        "printer",
        sa.Column("name", sa.String, primary_key=True),
        sa.Column("nominal", sa.Float, nullable=False),
        sa.Column("measured", sa.Float, nullable=False),
        sa.Column("date", sa.String, nullable=False),
    )
