"""A time zone in which it is about noon now: a test of a day's practice must not be cut by the day's end at three."""

from __future__ import annotations

from datetime import UTC, datetime

_AHEAD = 12 - datetime.now(UTC).hour
MIDDAY = f"Etc/GMT{-_AHEAD:+d}"
"""Named the other way round: east of Greenwich carries a minus."""
