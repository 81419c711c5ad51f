"""Assignments with their plans, sessions and pauses; clients who start together."""
