"""The stand-in for a mail server that ships: a real SMTP server on loopback that keeps what arrives in a folder, to be looked at.

It is as moody as mail is, and predictable: one message in six is put off the first time it comes, and addresses that end in
``.unreachable.example`` are refused for good.
"""

from __future__ import annotations

import asyncio
import hashlib
import sys
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime
from email import policy
from email.parser import BytesParser
from email.utils import parsedate_to_datetime
from pathlib import Path
from typing import Any

from aiosmtpd.smtp import SMTP

KEPT = 200


class Postbox:
    """Takes messages in; each is a file, named by its moment of arrival."""

    def __init__(self, folder: Path) -> None:
        self.folder, self.put_off, self.count = folder, set[bytes](), 0
        folder.mkdir(parents=True, exist_ok=True)

    async def handle_RCPT(self, server: Any, session: Any, envelope: Any, address: str, options: list[str]) -> str:  # noqa: ANN401
        if address.casefold().endswith(".unreachable.example"):
            return "550 no such mailbox here"
        envelope.rcpt_tos.append(address)
        return "250 OK"

    async def handle_DATA(self, server: Any, session: Any, envelope: Any) -> str:  # noqa: ANN401
        message = BytesParser(policy=policy.default).parsebytes(envelope.content)
        known = hashlib.sha256(str(message["Message-ID"]).encode()).digest()
        if known[0] % 6 == 0 and known not in self.put_off:
            self.put_off.add(known)
            return "451 the mailbox is busy"
        self.count += 1
        stamp = f"{asyncio.get_running_loop().time():017.6f}-{self.count:06d}"
        (self.folder / f"{stamp}.eml").write_bytes(envelope.content)
        for old in sorted(self.folder.glob("*.eml"))[:-KEPT]:
            old.unlink(missing_ok=True)
        return "250 kept"


@dataclass(frozen=True)
class Arrived:
    """A message that arrived."""

    to: str
    subject: str
    at: datetime
    text: str


def arrived(folder: Path, most: int = 60) -> list[Arrived]:
    """What the stand-in took in, the newest first."""
    out = []
    for file in sorted(folder.glob("*.eml"), reverse=True)[:most]:
        with suppress(FileNotFoundError):
            message = BytesParser(policy=policy.default).parsebytes(file.read_bytes())
            body = message.get_body(("plain",))
            text = "\n".join(body.get_content().splitlines()) if body else ""
            at = parsedate_to_datetime(str(message["Date"]))
            out.append(Arrived(to=str(message["To"]), subject=str(message["Subject"]), at=at, text=text))
    return out


async def serve(port: int, folder: Path) -> None:
    """Until it is stopped."""
    box = Postbox(folder)
    loop = asyncio.get_running_loop()
    listening = await loop.create_server(lambda: SMTP(box, hostname="localhost", ident="stand-in"), "127.0.0.1", port)
    async with listening:
        await listening.serve_forever()


if __name__ == "__main__":
    with suppress(KeyboardInterrupt):
        asyncio.run(serve(int(sys.argv[1]), Path(sys.argv[2])))
