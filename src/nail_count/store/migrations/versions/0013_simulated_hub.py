"""What the simulated hub of a job remembers."""

from alembic import op

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None

TABLE = """create table simulated_hub (
    job_id integer not null references job (id), body text not null, primary key (job_id))"""


def upgrade() -> None:
    op.execute(TABLE)


def downgrade() -> None:
    op.execute("drop table simulated_hub")
