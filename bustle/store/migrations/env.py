"""Alembic's entry: runs the migrations on the connection it is handed."""

from alembic import context

from bustle.store.models import Base

connection = context.config.attributes["connection"]
context.configure(connection=connection, target_metadata=Base.metadata)
with context.begin_transaction():
    context.run_migrations()
