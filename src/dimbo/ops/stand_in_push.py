"""The stand-in for a push service and for the browser behind it: takes notices on loopback, checks who sends them (VAPID) and that
only the device can read them, and keeps what a device would have shown in a folder, to be looked at.

``POST /devices`` makes a device: its address and the keys that a browser would have made. ``POST /notices/{id}`` is that address.
"""

from __future__ import annotations

import json
import os
import sys
from base64 import urlsafe_b64decode, urlsafe_b64encode
from contextlib import suppress
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from uuid import UUID, uuid4

import http_ece
import requests
import uvicorn
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.hazmat.primitives.serialization import Encoding, PublicFormat
from py_vapid import Vapid02
from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, Response
from starlette.routing import Route

KEPT = 200


def _text(data: bytes) -> str:
    return urlsafe_b64encode(data).decode().rstrip("=")


class PushService:
    """Devices and what came for them. A device that was taken off is answered for with 410."""

    def __init__(self, address: str, folder: Path) -> None:
        self.address, self.folder, self.count = address, folder, 0
        self.devices: dict[UUID, tuple[ec.EllipticCurvePrivateKey, bytes]] = {}
        folder.mkdir(parents=True, exist_ok=True)

    async def make(self, _: Request) -> Response:
        key, secret, device = ec.generate_private_key(ec.SECP256R1()), os.urandom(16), uuid4()
        self.devices[device] = key, secret
        point = key.public_key().public_bytes(Encoding.X962, PublicFormat.UncompressedPoint)
        keys = {"p256dh": _text(point), "auth": _text(secret)}
        return JSONResponse({"endpoint": f"{self.address}/notices/{device}", "keys": keys}, 201)

    async def take_off(self, request: Request) -> Response:
        self.devices.pop(request.path_params["device"], None)
        return Response(status_code=204)

    async def take_in(self, request: Request) -> Response:
        device = self.devices.get(request.path_params["device"])
        if device is None:
            return Response("no such device", 410)
        if request.headers.get("content-encoding") != "aes128gcm" or not request.headers.get("ttl", "").isdigit():
            return Response("a notice has a time to live and is sealed", 400)
        if not self._known(request.headers.get("authorization", "")):
            return Response("who are you", 403)
        try:
            shown = json.loads(http_ece.decrypt(await request.body(), private_key=device[0], auth_secret=device[1], version="aes128gcm"))
        except (ValueError, http_ece.ECEException):
            return Response("this cannot be read", 400)
        self.count += 1
        now = datetime.now(UTC)
        kept = {"device": str(request.path_params["device"]), "at": now.isoformat(), "shown": shown}
        (self.folder / f"{now.timestamp():017.6f}-{self.count:06d}.json").write_text(json.dumps(kept), encoding="utf-8")
        for old in sorted(self.folder.glob("*.json"))[:-KEPT]:
            old.unlink(missing_ok=True)
        return Response(status_code=201)

    def _known(self, authorization: str) -> bool:
        """Whether the sender signed for this service, lately, with the key that it names."""
        with suppress(Exception):  # whatever is wrong with it, it is not known
            if Vapid02.verify(authorization):
                body = authorization.split("t=")[1].split(".")[1]
                claims = json.loads(urlsafe_b64decode(body + "=" * (-len(body) % 4)))
                now = datetime.now(UTC).timestamp()
                return bool(claims["aud"] == self.address and now < claims["exp"] <= now + 86_460 and claims["sub"])
        return False


@dataclass(frozen=True)
class Notice:
    """A notice that a device would have shown."""

    device: str
    at: datetime
    title: str
    body: str
    opens: str


def arrived(folder: Path, most: int = 60) -> list[Notice]:
    """What the stand-in took in, the newest first."""
    out = []
    for file in sorted(folder.glob("*.json"), reverse=True)[:most]:
        with suppress(FileNotFoundError):
            kept = json.loads(file.read_text(encoding="utf-8"))
            shown = kept["shown"]
            at = datetime.fromisoformat(kept["at"])
            out.append(Notice(kept["device"], at=at, title=shown["title"], body=shown["body"], opens=shown["opens"]))
    return out


def make_device(address: str) -> dict[str, Any]:
    """Have the stand-in at an address make a device; what a browser would have answered."""
    answer = requests.post(f"{address}/devices", timeout=5)
    answer.raise_for_status()
    return dict(answer.json())


def service(address: str, folder: Path) -> Starlette:
    """The push service at an address."""
    own = PushService(address, folder)
    routes = [
        Route("/devices", own.make, methods=["POST"]),
        Route("/notices/{device:uuid}", own.take_in, methods=["POST"]),
        Route("/notices/{device:uuid}", own.take_off, methods=["DELETE"]),
    ]
    return Starlette(routes=routes)


if __name__ == "__main__":
    port = int(sys.argv[1])
    uvicorn.run(service(f"http://127.0.0.1:{port}", Path(sys.argv[2])), host="127.0.0.1", port=port, log_level="warning")
