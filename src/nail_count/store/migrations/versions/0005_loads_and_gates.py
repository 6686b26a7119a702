"""Loads, heat and what may not go where are judged too: lists are reckoned again at the next start."""

from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("update summary set todo = -1")


def downgrade() -> None:
    pass
