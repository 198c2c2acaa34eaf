"""Storage in PostgreSQL: tables, migrations, and one module of queries for each stored thing."""
