"""Facts of a client, what an intake is made of, the client's own intake, texts of causes."""
