"""What queries look for in documents stands in columns of its own: a quilt's name, meters, a thread's line, unreadable.

A thread's fiber is spelled so. The columns are filled from the documents when the file is opened
(:mod:`weftonos.store.folding`).
"""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("record", sa.Column("quilt", sa.String(80)))
    op.add_column("record", sa.Column("length_m", sa.Float))
    op.add_column("record", sa.Column("unreadable", sa.Boolean, nullable=False, server_default=sa.false()))
    op.add_column("thread", sa.Column("line", sa.String(80), nullable=False, server_default=""))
    op.execute("ALTER TABLE thread RENAME COLUMN fibre TO fiber")
    op.drop_index("record_unreadable", "record")
    op.create_index("record_unreadable", "record", ["id"], sqlite_where=sa.text("unreadable"))
    op.create_index("record_named", "record", ["kind", "quilt", "at", "id"], sqlite_where=sa.text("quilt IS NOT NULL"))
