"""Alembic's hook: one transaction for each migration and its record, on the connection that is handed in."""

from alembic import context

context.configure(connection=context.config.attributes["connection"], transactional_ddl=True, transaction_per_migration=False, render_as_batch=True)
context.run_migrations()
