"""What Alembic needs to know: it works on the connection that the store hands it."""

from alembic import context

from ivory_quilt.shop.tables import TABLES

context.configure(
    connection=context.config.attributes["connection"],
    target_metadata=TABLES,
    render_as_batch=True,
)
context.run_migrations()
