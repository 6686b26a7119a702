"""A box can be removed and brought back."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("document", sa.Column("gone", sa.DateTime()))


def downgrade() -> None:
    op.drop_column("document", "gone")
