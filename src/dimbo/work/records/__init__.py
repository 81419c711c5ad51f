"""A client's record as a whole: what is held, taken out, archived, kept for how long, erased, and who looked at it."""
