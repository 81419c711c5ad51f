"""Photographs measured, compared and rated, with how far a reading can be trusted."""
