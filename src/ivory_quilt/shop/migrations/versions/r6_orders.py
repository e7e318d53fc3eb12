"""Which sides of a tile interlock, and how stock is; orders of the past."""

import sqlalchemy as sa
from alembic import op

revision = "6"
down_revision = "5"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Give stock what it lacks, and make the table."""
    op.add_column("stock", sa.Column("sides", sa.String, nullable=False, server_default=""))
    op.add_column("stock", sa.Column("state", sa.String, nullable=False, server_default=""))
    op.create_table(
        "past_order",
        sa.Column("number", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("day", sa.String, nullable=False),
        sa.Column("project", sa.String, nullable=False),
        sa.Column("shipping", sa.String, nullable=False),
        sa.Column("lines", sa.Text, nullable=False),
    )
