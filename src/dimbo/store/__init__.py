"""PostgreSQL through psycopg and plain SQL: the only place with SQL. One module per aggregate."""
