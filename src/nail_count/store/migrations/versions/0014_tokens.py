"""Tokens by which programs may call."""

from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None

TABLE = """create table token (
    id integer not null, name varchar(60) not null, digest varchar(64) not null, made datetime not null,
    expires_at datetime, withdrawn_at datetime, used datetime, primary key (id), unique (digest))"""


def upgrade() -> None:
    op.execute(TABLE)


def downgrade() -> None:
    op.execute("drop table token")
