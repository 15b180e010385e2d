"""Machines, threads, needles, the logbook and its revisions."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "machine",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("spec", sa.Text, nullable=False),
    )
    op.create_table(
        "thread",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("name", sa.String(80), nullable=False, index=True),
        sa.Column("tex", sa.Float, nullable=False),
        sa.Column("diameter_mm", sa.Float, nullable=False),
        sa.Column("fibre", sa.String(20), nullable=False),
        sa.Column("light", sa.Boolean, nullable=False),
        sa.Column("words", sa.Text, nullable=False),
        sa.Column("spec", sa.Text, nullable=False),
        sa.Column("struck_at", sa.DateTime),
    )
    op.create_table(
        "needle_packet",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("spec", sa.Text, nullable=False),
        sa.Column("struck_at", sa.DateTime),
    )
    op.create_table(
        "record",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("machine_id", sa.Integer, sa.ForeignKey("machine.id"), nullable=False),
        sa.Column("kind", sa.String(30), nullable=False),
        sa.Column("at", sa.DateTime, nullable=False),
        sa.Column("noted_at", sa.DateTime, nullable=False),
        sa.Column("packet_id", sa.Integer, sa.ForeignKey("needle_packet.id"), index=True),
        sa.Column("payload", sa.Text, nullable=False),
        sa.Column("setup", sa.Text, nullable=False),
        sa.Column("struck_at", sa.DateTime),
    )
    op.create_index("record_at_machine", "record", ["machine_id", "kind", "at", "id"])
    op.create_index("record_newest", "record", ["at", "id"])
    op.create_table(
        "revision",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("record_id", sa.Integer, sa.ForeignKey("record.id"), nullable=False, index=True),
        sa.Column("at", sa.DateTime, nullable=False),
        sa.Column("action", sa.String(12), nullable=False),
        sa.Column("was_at", sa.DateTime),
        sa.Column("was", sa.Text),
    )
