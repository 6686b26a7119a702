"""Keys that broke at a hyphen are put right, databases of the first version get their column, files say whose they are.

The first migration was edited after it had landed: a database of the very first version lacks `job.shelf`.
"""

import json
import re

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None

APPLICATION_ID = 0x4E61436F


def upgrade() -> None:
    on = op.get_bind()
    if "shelf" not in {column["name"] for column in sa.inspect(on).get_columns("job")}:
        op.add_column("job", sa.Column("shelf", sa.Integer(), nullable=False, server_default="1"))
    _mend_keys(on)
    op.execute("update summary set todo = -1")
    op.execute(f"PRAGMA application_id = {APPLICATION_ID}")


def _mend_keys(on: sa.Connection) -> None:
    """A what-if of a name cut at a hyphen had a key with two of them, which no page could open."""
    boxes = on.execute(sa.text("select id, job_id, key from document where kind = 'box'")).all()
    taken = {(row.job_id, row.key) for row in boxes}
    for id, job, key in boxes:
        right = re.sub(r"-+", "-", key).strip("-")[:40].strip("-")
        if right == key:
            continue
        if (job, right) in taken:
            right = next(name for n in range(2, 10_000) if (job, name := f"{right[:34].strip('-')}-{n}") not in taken)
        taken.add((job, right))
        on.execute(sa.text("update document set key = :right where id = :id"), {"right": right, "id": id})
        bodies = on.execute(sa.text("select number, body from revision where document_id = :id"), {"id": id}).all()
        for number, body in bodies:
            new = json.dumps(json.loads(body) | {"id": right}, ensure_ascii=False, separators=(",", ":"))
            of = {"body": new, "id": id, "number": number}
            on.execute(sa.text("update revision set body = :body where document_id = :id and number = :number"), of)


def downgrade() -> None:
    pass
