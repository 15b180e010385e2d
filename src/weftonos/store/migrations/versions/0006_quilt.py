"""Which quilt each record is on, and the keys of writes, so that a repeat is the same write."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("record", sa.Column("quilt_id", sa.Integer))
    op.create_index("record_of_quilt", "record", ["quilt_id", "at", "id"])
    op.create_table(
        "write_key",
        sa.Column("key", sa.String(80), primary_key=True),
        sa.Column("at", sa.DateTime, nullable=False),
    )
    op.create_index("ix_write_key_at", "write_key", ["at"])
