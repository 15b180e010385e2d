"""Troubles: the incident a record belongs to."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("record") as record:
        record.add_column(sa.Column("incident_id", sa.Integer, nullable=True))
        record.create_foreign_key("record_incident", "record", ["incident_id"], ["id"])
        record.create_index("ix_record_incident_id", ["incident_id"])
        record.create_index("record_kind_newest", ["kind", "at", "id"])
