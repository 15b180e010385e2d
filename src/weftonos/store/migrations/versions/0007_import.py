"""What was brought in from a file, so that it can be taken back whole."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

_BROUGHT = ("machine", "thread", "needle_packet", "bobbin_case", "bobbin", "record")


def upgrade() -> None:
    op.create_table(
        "import",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("at", sa.DateTime, nullable=False),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("brought", sa.Text, nullable=False),
        sa.Column("undone_at", sa.DateTime),
    )
    op.create_table(
        "import_change",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("import_id", sa.Integer, sa.ForeignKey("import.id"), nullable=False, index=True),
        sa.Column("place", sa.String(20), nullable=False),
        sa.Column("row", sa.Integer, nullable=False),
        sa.Column("was", sa.Text, nullable=False),
    )
    for table in _BROUGHT:
        op.add_column(table, sa.Column("import_id", sa.Integer))
