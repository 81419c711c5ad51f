"""Letters about an account: what they hold opens it, so they are carried and their text goes (``store.messages.messages.tried``)."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID, uuid4

from dimbo.store.database import Conn
from dimbo.store.messages import messages
from dimbo.store.messages.messages import Letter


def post(conn: Conn, practice_id: UUID, address: str, subject: str, body: str, now: datetime) -> None:
    """Put a letter into the outbox; it is carried like every other."""
    letter = Letter(
        client_id=None, to_coach=True, address=address, kind="account", subject=subject, body=body, key=f"account:{uuid4()}", due_at=now
    )
    messages.post_new(conn, practice_id, letter)
