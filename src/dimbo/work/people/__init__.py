"""Accounts: signing in, invitations, and who somebody is."""
