"""Alembic's entry: runs the versions on the connection it is handed."""

from alembic import context

connection = context.config.attributes["connection"]
context.configure(connection=connection, version_table_schema="fresh_chair", transactional_ddl=True)
with context.begin_transaction():
    context.run_migrations()
