"""Book values of materials, and test strips."""

import sqlalchemy as sa
from alembic import op

revision = "3"
down_revision = "2"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Make the tables of book values and test strips."""
    op.create_table(
        "book",
        sa.Column("material", sa.String, primary_key=True),
        *(
            sa.Column(name, sa.Float, nullable=False)
            for name in (
                "neutral",
                "shrink_along",
                "shrink_across",
                "density",
                "dish_limit",
                "tightest",
                "springback",
            )
        ),
        sa.Column("kind", sa.String, nullable=False),
    )
    op.create_table(
        "coupon",
        sa.Column("number", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("material", sa.String, nullable=False),
        sa.Column("what", sa.String, nullable=False),
        sa.Column("date", sa.String, nullable=False),
        sa.Column("before", sa.Text, nullable=False),
        sa.Column("after", sa.Text, nullable=False),
    )
