"""Demo data: an invented practice whose history always ends today."""
