"""The exercises of a practice: which it may use, its own written, with clip and picture, in and out as files."""
