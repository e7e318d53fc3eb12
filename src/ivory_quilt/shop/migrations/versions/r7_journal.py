"""The journal, and sets of steps that are kept for next time."""

import sqlalchemy as sa
from alembic import op

revision = "7"
down_revision = "6"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Make the tables."""
    op.create_table(
        "entry",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("project", sa.String, nullable=False),
        sa.Column("moment", sa.String, nullable=False),
        sa.Column("body", sa.Text, nullable=False),
    )
    op.create_table(
        "step_set",
        sa.Column("name", sa.String, primary_key=True),
        sa.Column("body", sa.Text, nullable=False),
    )
