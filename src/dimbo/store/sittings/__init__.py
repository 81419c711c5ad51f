"""Sittings, photographs with their analyses and points, rounds of rating."""
