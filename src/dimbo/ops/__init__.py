"""Running Dimbo: configuration, the project's own PostgreSQL cluster, supervision and the command line."""
