"""Columns under the field's standard names: latest, deleted_at, source_revision, cache_version."""

from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

RENAMED = (
    ("job", "shelf", "cache_version"),
    ("job", "gone", "deleted_at"),
    ("document", "head", "latest"),
    ("document", "gone", "deleted_at"),
    ("revision", "origin", "source_revision"),
)


def upgrade() -> None:
    for table, old, new in RENAMED:
        op.execute(f"alter table {table} rename column {old} to {new}")  # in place: no row is rewritten


def downgrade() -> None:
    for table, old, new in reversed(RENAMED):
        op.execute(f"alter table {table} rename column {new} to {old}")
