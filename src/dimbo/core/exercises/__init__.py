"""What is prescribed: an exercise card with its figure, and a dose with its line and its rungs."""
