"""Dimbo: face yoga programs, designed, practised, measured and reviewed."""
