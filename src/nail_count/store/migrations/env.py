"""Runs the migrations on the connection handed over by `migrate`."""

from alembic import context

from nail_count.store.tables import Base

context.configure(
    connection=context.config.attributes["connection"], target_metadata=Base.metadata, render_as_batch=True
)
with context.begin_transaction():
    context.run_migrations()
