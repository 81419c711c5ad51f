"""What was removed and can be brought back."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID

from .wire import Wire


class RemovedView(Wire):
    id: UUID
    client_id: UUID | None
    name: str
    """A title, or the name of a photograph's file."""
    removed_at: datetime
    gone_at: datetime
    """From then on it is gone for good."""
