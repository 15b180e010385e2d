"""The rack: bobbin cases and bobbins, and the case a record is about."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "bobbin_case",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("machine_id", sa.Integer, sa.ForeignKey("machine.id")),
        sa.Column("spec", sa.Text, nullable=False),
        sa.Column("struck_at", sa.DateTime),
    )
    op.create_table(
        "bobbin",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("thread_id", sa.Integer, sa.ForeignKey("thread.id"), nullable=False),
        sa.Column("spec", sa.Text, nullable=False),
        sa.Column("struck_at", sa.DateTime),
    )
    with op.batch_alter_table("record") as record:
        record.add_column(sa.Column("case_id", sa.Integer, nullable=True))
        record.create_foreign_key("record_case", "bobbin_case", ["case_id"], ["id"])
        record.create_index("ix_record_case_id", ["case_id"])
