"""Add photos, what-if copies, marks, the last use of a sheet, open survey points, and deleted jobs."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None

_OF_DOCUMENT = ("copy_of", "copied_at", "as_found", "as_planned", "as_built")


def upgrade() -> None:
    op.add_column("job", sa.Column("gone", sa.DateTime()))
    for name in _OF_DOCUMENT:
        op.add_column("document", sa.Column(name, sa.Integer()))
    op.add_column("document", sa.Column("used", sa.DateTime()))
    op.create_index("ix_document_copy_of", "document", ["copy_of"])
    # −1: not reckoned yet; done when the application next opens the database.
    op.add_column("summary", sa.Column("todo", sa.Integer(), nullable=False, server_default="-1"))
    op.create_table(
        "photo",
        sa.Column("id", sa.String(64), primary_key=True),
        sa.Column("body", sa.LargeBinary(), nullable=False),
        sa.Column("small", sa.LargeBinary(), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("made", sa.DateTime(), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("photo")
    op.drop_column("summary", "todo")
    op.drop_index("ix_document_copy_of", "document")
    for name in ("used", *reversed(_OF_DOCUMENT)):
        op.drop_column("document", name)
    op.drop_column("job", "gone")
