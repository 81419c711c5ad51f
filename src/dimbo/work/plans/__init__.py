"""Programs assigned: laid out on days, paused, repeated, ended."""
