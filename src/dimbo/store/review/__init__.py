"""What the coach looks at: the desk, reviews, logs as tables."""
