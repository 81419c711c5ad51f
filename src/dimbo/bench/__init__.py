"""Benchmarks: each row against a baseline measured in the same run, so that the ratio travels between machines."""
