"""What is said of a client: facts entered, consents, the client's own intake, clients from a table, texts of causes."""
