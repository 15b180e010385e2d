"""A test cloth is found again by its lines, and by the recipes that were found on it."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("record", sa.Column("cloth_id", sa.Integer))
    op.create_index("record_of_cloth", "record", ["cloth_id", "at", "id"], sqlite_where=sa.text("cloth_id IS NOT NULL"))
