"""Rounds of practice, apart from the log: no record of a machine stands here."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "practice",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("person", sa.String(40), nullable=False, index=True),
        sa.Column("exercise", sa.String(20), nullable=False),
        sa.Column("seed", sa.Integer, nullable=False),
        sa.Column("level", sa.Integer, nullable=False),
        sa.Column("begun_at", sa.DateTime, nullable=False),
        sa.Column("ended_at", sa.DateTime),
        sa.Column("score", sa.Float),
        sa.Column("items", sa.Text, nullable=False),
        sa.Column("moves", sa.Text, nullable=False),
    )
