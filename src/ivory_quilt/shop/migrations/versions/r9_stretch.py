"""How far a material may be stretched, in its book."""

import sqlalchemy as sa
from alembic import op

revision = "9"
down_revision = "8"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Add both columns."""
    for name in ("stretch_along", "stretch_across"):
        op.add_column("book", sa.Column(name, sa.Float, nullable=False, server_default="0"))
