"""Alembic's entry: runs on the engine that the program hands over, in one transaction, tables and all."""

from alembic import context

from weftonos.store.models import Base

engine = context.config.attributes["engine"]
with engine.connect() as connection:
    # A table that gets a column is copied and dropped; with foreign keys on, rows that point to it forbid that.
    # SQLite takes this only outside a transaction, so it is said to the driver.
    driver = connection.connection.driver_connection
    driver.execute("PRAGMA foreign_keys=OFF")
    try:
        with connection.begin():
            context.configure(
                connection=connection,
                target_metadata=Base.metadata,
                render_as_batch=True,
                transactional_ddl=True,
            )
            with context.begin_transaction():
                context.run_migrations()
            broken = connection.exec_driver_sql("PRAGMA foreign_key_check").fetchall()
            if broken:
                raise RuntimeError(f"the migration left {len(broken)} rows that point nowhere")
    finally:
        driver.execute("PRAGMA foreign_keys=ON")
