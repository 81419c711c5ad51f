"""What came of it: results in a client's words, letters, and what a practice can learn from its own records."""
