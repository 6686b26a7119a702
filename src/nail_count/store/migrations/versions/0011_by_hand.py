"""Counts and limits are put right: what lists show is reckoned again when the application next opens the database."""

from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("update summary set todo = -1")


def downgrade() -> None:
    pass
