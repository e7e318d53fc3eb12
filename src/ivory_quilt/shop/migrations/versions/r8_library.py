"""The library: sets of pieces that the shop keeps."""

import sqlalchemy as sa
from alembic import op

revision = "8"
down_revision = "7"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Make the table."""
    op.create_table(
        "library",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("body", sa.Text, nullable=False),
    )
