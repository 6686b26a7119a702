"""The first tables: jobs, their documents as numbered revisions, and what lists show of a box."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "job",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("key", sa.String(60), nullable=False, unique=True),
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("made", sa.DateTime(), nullable=False),
        sa.Column("shelf", sa.Integer(), nullable=False),
    )
    op.create_table(
        "document",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("job_id", sa.Integer(), sa.ForeignKey("job.id"), nullable=False),
        sa.Column("kind", sa.String(10), nullable=False),
        sa.Column("key", sa.String(60), nullable=False),
        sa.Column("place", sa.Integer(), nullable=False),
        sa.Column("head", sa.Integer(), nullable=False),
        sa.UniqueConstraint("job_id", "kind", "key"),
        sa.CheckConstraint("kind in ('terms', 'sheet', 'box')", name="kind_known"),
    )
    op.create_index("ix_document_job_id", "document", ["job_id"])
    op.create_table(
        "revision",
        sa.Column("document_id", sa.Integer(), sa.ForeignKey("document.id"), primary_key=True),
        sa.Column("number", sa.Integer(), primary_key=True),
        sa.Column("body", sa.Text(), nullable=False),
        sa.Column("sentence", sa.Text(), nullable=False),
        sa.Column("made", sa.DateTime(), nullable=False),
        sa.Column("back", sa.Integer()),
        sa.Column("forth", sa.Integer()),
        sa.Column("origin", sa.Integer(), nullable=False),
    )
    op.create_table(
        "summary",
        sa.Column("document_id", sa.Integer(), sa.ForeignKey("document.id"), primary_key=True),
        sa.Column("room", sa.String(60), nullable=False),
        sa.Column("name", sa.String(60), nullable=False),
        sa.Column("circuit", sa.String(20)),
        sa.Column("gangs", sa.Integer(), nullable=False),
        sa.Column("state", sa.String(10), nullable=False),
        sa.Column("binds", sa.Text(), nullable=False),
        sa.Column("rail", sa.Text(), nullable=False),
    )
    op.create_index("ix_summary_state", "summary", ["state"])


def downgrade() -> None:
    for table in ("summary", "revision", "document", "job"):
        op.drop_table(table)
