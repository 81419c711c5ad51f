"""Tokens of links and sign-ins: whoever has one holds it, and the store keeps only its hash."""

from __future__ import annotations

import base64
import hashlib


def token_hash(token: str) -> bytes:
    """What the store keeps of a token."""
    return hashlib.sha256(token.encode()).digest()


def derived(token: str, *, purpose: str) -> str:
    """A token that follows from another one and what it is for; nobody gets from it to the other."""
    return base64.urlsafe_b64encode(hashlib.sha256(f"{purpose}:{token}".encode()).digest()[:24]).decode()
