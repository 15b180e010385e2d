"""What is written down: one SQLite file, its migrations, and the queries."""
