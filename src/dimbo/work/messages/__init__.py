"""What is said between coach and client, the outbox with its messenger, and the calendar feed."""
