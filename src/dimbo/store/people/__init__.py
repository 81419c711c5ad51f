"""Accounts, practices and clients."""
