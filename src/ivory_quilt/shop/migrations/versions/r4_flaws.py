"""Marked flaws of sheets."""

import sqlalchemy as sa
from alembic import op

revision = "4"
down_revision = "3"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Make the table of flaws."""
    op.create_table(
        "flaw",
        sa.Column("number", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("stock", sa.String, nullable=False),
        sa.Column("outline", sa.Text, nullable=False),
    )
