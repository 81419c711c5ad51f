"""How long what was ended or removed can be brought back."""

from __future__ import annotations

from datetime import timedelta

KEPT = timedelta(days=30)
"""From then on it is gone for good. Photographs of a client who takes their consent back go at once."""
