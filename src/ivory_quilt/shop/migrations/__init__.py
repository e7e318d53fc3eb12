"""How older stores become present ones; Alembic runs it."""
