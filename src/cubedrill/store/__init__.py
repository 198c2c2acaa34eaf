"""What is kept, in PostgreSQL: tables, migrations, and one module of queries a thing kept."""
