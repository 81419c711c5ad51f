"""Days: which are planned, to which a moment belongs, and when a reminder or photographs are due."""
