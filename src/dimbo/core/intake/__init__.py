"""What a client says of face and health, and what follows: causes, sides, what to ask next; and the tables that clients come in."""
