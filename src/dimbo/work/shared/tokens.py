"""Tokens of links and sign-ins: whoever has one holds it, and the store keeps only its hash."""

from __future__ import annotations

import hashlib


def token_hash(token: str) -> bytes:
    """What the store keeps of a token."""
    return hashlib.sha256(token.encode()).digest()
