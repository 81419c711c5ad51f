"""The study of how true the readings are, on made-up heads of its own."""
