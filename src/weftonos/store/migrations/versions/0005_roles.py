"""What the bobbin is set for, where the knob stands, what is good enough, which recipe is put back, and the mark."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for role in ("purpose", "knob", "good", "recipe", "mark"):
        op.add_column("record", sa.Column(f"{role}_id", sa.Integer))
