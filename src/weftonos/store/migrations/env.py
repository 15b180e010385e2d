"""Alembic's entry: runs on the engine that the program hands over."""

from alembic import context

from weftonos.store.models import Base

engine = context.config.attributes["engine"]
with engine.begin() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata, render_as_batch=True)
    with context.begin_transaction():
        context.run_migrations()
