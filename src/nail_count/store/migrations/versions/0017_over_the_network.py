"""What a box's devices work over the network, in a column that lists read: such boxes are looked at together."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None

PLANNED = sa.text(
    """select s.document_id, r.body from summary s join document d on d.id = s.document_id
    join revision r on r.document_id = d.id and r.number = d.latest where r.body like '%"commands":"%'"""
)
FILL = sa.text("update summary set works = :works where document_id = :document")


def upgrade() -> None:
    op.execute("alter table summary add column works text not null default '[]'")
    on = op.get_bind()
    for document, body in on.execute(PLANNED).all():
        planned = json.loads(body).get("planned") or {}
        items = [*planned.get("devices", ()), *planned.get("modules", ())]
        works = [item["commands"] for item in items if item.get("commands")]
        if works:
            on.execute(FILL, {"document": document, "works": json.dumps(works)})


def downgrade() -> None:
    op.execute("alter table summary drop column works")
