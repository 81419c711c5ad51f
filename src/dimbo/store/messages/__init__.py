"""Messages, the outbox, the addresses of calendar feeds."""
