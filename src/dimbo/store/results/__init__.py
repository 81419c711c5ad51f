"""What came of it: letters, a client's own notes on photographs, and the sums that a practice learns from."""
