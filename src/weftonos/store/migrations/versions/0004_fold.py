"""Records and things get a UUID and a version, documents their kind and version; set-ups are folded, not copied."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

THINGS = {
    "machine": "machine",
    "thread": "thread",
    "needle_packet": "packet",
    "bobbin_case": "case",
    "bobbin": "bobbin",
}
ROLES = ("top", "loaded", "fitted", "reading", "sandwich", "look", "change")
INDEXES = {
    "record_in_order": ["machine_id", "at", "id"],
    "record_detail": ["machine_id", "kind", "detail", "at", "id"],
    "record_detail_newest": ["kind", "detail", "at", "id"],
    "record_of_case": ["case_id", "kind", "at", "id"],
    "record_of_incident": ["incident_id", "at", "id"],
}


def upgrade() -> None:
    for table in (*THINGS, "record"):
        op.add_column(table, sa.Column("uid", sa.String(32), nullable=False, server_default=""))
        op.add_column(table, sa.Column("version", sa.Integer, nullable=False, server_default="1"))
        op.execute(f"UPDATE {table} SET uid = lower(hex(randomblob(16)))")
        op.create_index(f"ix_{table}_uid", table, ["uid"], unique=True)
    for table, document in THINGS.items():
        op.execute(
            f"UPDATE {table} SET spec = json_set(spec, '$.document', '{document}', '$.version', 1) "
            "WHERE json_valid(spec) AND json_type(spec) = 'object'"
        )
    for table, column in (("record", "payload"), ("revision", "was")):
        op.execute(
            f"UPDATE {table} SET {column} = json_set({column}, '$.version', 1) "
            f"WHERE json_valid({column}) AND json_type({column}) = 'object'"
        )
    op.drop_column("record", "setup")
    op.drop_index("ix_record_case_id", "record")
    op.drop_index("ix_record_incident_id", "record")
    op.add_column("record", sa.Column("detail", sa.String(80)))
    op.add_column("record", sa.Column("minutes", sa.Float))
    for role in ROLES:
        op.add_column("record", sa.Column(f"{role}_id", sa.Integer))
    for name, columns in INDEXES.items():
        op.create_index(name, "record", columns)
    op.create_index("record_unreadable", "record", ["id"], sqlite_where=sa.text("detail = 'unreadable'"))
