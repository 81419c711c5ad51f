"""Notices on devices: the same letters that go by mail, through the push service of each browser (web push with VAPID).

A notice says who and what kind, never what was written: it lies on a locked screen. The push service sees neither.
"""

from __future__ import annotations

import ipaddress
import json
import socket
from base64 import urlsafe_b64decode, urlsafe_b64encode
from collections.abc import Callable, Mapping
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum
from typing import Protocol
from urllib.parse import urlsplit
from uuid import UUID

import requests
import structlog
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.hazmat.primitives.serialization import Encoding, PublicFormat
from py_vapid import Vapid02, VapidException
from pywebpush import WebPusher, WebPushException

from dimbo.store.database import Database
from dimbo.store.messages import devices
from dimbo.store.messages.devices import Device, NewDevice
from dimbo.store.messages.messages import Posted
from dimbo.store.people.accounts import Person
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.tokens import token_hash

log = structlog.get_logger()
ENOUGH = frozenset({"reminder", "message"})
"""Kinds of letters that go by mail only when no device took them; the others go both ways."""
LASTS = timedelta(hours=6)
"""How long a push service keeps a notice for a device that is switched off."""
PATIENCE_S = 10
MOST_DEVICES = 10
_BODIES: Mapping[str, str] = {
    "reminder": "Your session is ready.",
    "message": "Open Dimbo to read it.",
    "letter": "Open Dimbo to read it.",
    "pain": "Open Dimbo to see where.",
    "urgent": "Open Dimbo now.",
    "health": "Open Dimbo to see it.",
    "keeping": "Open Dimbo to see what that means.",
}


class Sent(StrEnum):
    TAKEN = "taken"
    GONE = "gone"
    """The browser does not want notices any more: it is never asked again."""
    NOT_NOW = "not now"


class Pusher(Protocol):
    """Brings a notice to a device."""

    def push(self, device: Device, notice: Mapping[str, str]) -> Sent: ...


class NoPush:
    """Of an installation, or a test, without notices."""

    def push(self, device: Device, notice: Mapping[str, str]) -> Sent:
        return Sent.NOT_NOW


@dataclass(frozen=True)
class WebPush:
    """By the push services of the browsers. ``private_key`` reads the installation's key, ``contact`` is whom a service writes to;
    ``stand_in`` is the address of the demo's own service, the only one on this machine that is asked."""

    private_key: Callable[[], str]
    contact: str
    stand_in: str = ""

    def push(self, device: Device, notice: Mapping[str, str]) -> Sent:
        where = urlsplit(device.endpoint)
        if not may_ask(device.endpoint, stand_in=self.stand_in):
            return Sent.GONE
        session = requests.Session()
        session.max_redirects = 0
        keys = {"endpoint": device.endpoint, "keys": {"p256dh": device.p256dh, "auth": device.auth}}
        try:
            key = Vapid02.from_raw(self.private_key().encode())
            signed = key.sign({"aud": f"{where.scheme}://{where.netloc}", "sub": self.contact})
            with session:
                answer = WebPusher(keys, requests_session=session).send(
                    data=json.dumps(dict(notice)),
                    headers={**signed, "urgency": "high"},
                    ttl=int(LASTS.total_seconds()),
                    content_encoding="aes128gcm",
                    timeout=PATIENCE_S,
                )
        except (requests.RequestException, VapidException, WebPushException, ValueError) as error:  # the mail goes all the same
            log.warning("no notice could be sent", error=type(error).__name__)
            return Sent.NOT_NOW
        code = answer.status_code if not isinstance(answer, str) else 0
        return Sent.TAKEN if code in (200, 201, 202) else Sent.GONE if code in (404, 410) else Sent.NOT_NOW


def may_ask(endpoint: str, stand_in: str) -> bool:
    """Whether an address that a browser named may be asked by this server: over https and out in the world, so that nobody has the
    server ask its own network; or the demo's stand-in."""
    if stand_in and endpoint.startswith(f"{stand_in.rstrip('/')}/"):
        return True
    try:
        where = urlsplit(endpoint)
        if where.scheme != "https" or not where.hostname or where.username or where.port not in (None, 443):
            return False
        found = socket.getaddrinfo(where.hostname, 443, type=socket.SOCK_STREAM)
    except (OSError, ValueError, UnicodeError):
        return False
    return bool(found) and all(ipaddress.ip_address(str(f[4][0])).is_global for f in found)


def _new_key() -> str:
    """A private key on P-256, its number in base64 for addresses."""
    number = ec.generate_private_key(ec.SECP256R1()).private_numbers().private_value
    return urlsafe_b64encode(number.to_bytes(32, "big")).decode().rstrip("=")


def public_key(db: Database) -> str:
    """What a browser subscribes with: the public half of the installation's key as an uncompressed point, in base64 for addresses."""
    with db.anyone() as conn:
        private = devices.kept_push_key(conn) or devices.push_key(conn, _new_key())
    number = int.from_bytes(urlsafe_b64decode(private + "="), "big")
    point = ec.derive_private_key(number, ec.SECP256R1()).public_key().public_bytes(Encoding.X962, PublicFormat.UncompressedPoint)
    return urlsafe_b64encode(point).decode().rstrip("=")


def private_key(db: Database) -> str:
    with db.anyone() as conn:
        return devices.kept_push_key(conn)


def subscribe(db: Database, person: Person, token: str, wanted: NewDevice, stand_in: str) -> None:
    """Notices for this account come to this device from now on, as long as the sign-in lasts. Raises Refused."""
    _check(wanted, stand_in)
    with db.of(person) as conn:
        known = devices.of_account(conn, person.id)
        if len(known) >= MOST_DEVICES and wanted.endpoint not in {d.endpoint for d in known}:
            raise Refused(Why.TOO_MANY, f"Notices go to at most {MOST_DEVICES} devices. Take one off first.")
        devices.keep(
            conn,
            wanted,
            practice_id=person.practice_id,
            account_id=person.id,
            client_id=person.client_id,
            sign_in=token_hash(token),
        )


def _check(wanted: NewDevice, stand_in: str) -> None:
    for text, length, field in ((wanted.p256dh, 65, "p256dh"), (wanted.auth, 16, "auth")):
        with suppress(ValueError):
            if len(urlsafe_b64decode(text + "=" * (-len(text) % 4))) == length:
                continue
        raise Refused(Why.UNREADABLE, "This is no key of a browser. Switch the notices off and on again.", field)
    if not may_ask(wanted.endpoint, stand_in=stand_in):
        raise Refused(Why.UNREADABLE, "The push service of this browser cannot be reached from here.", "endpoint")


def unsubscribe(db: Database, person: Person, endpoint: str) -> None:
    """No notices on this device any more; doing it twice is harmless."""
    with db.of(person) as conn:
        devices.forget_own(conn, person.id, endpoint)


def of_account(db: Database, person: Person) -> list[Device]:
    with db.of(person) as conn:
        return devices.of_account(conn, person.id)


def notice_of(letter: Posted) -> dict[str, str]:
    """What a device shows of a letter, and the page that it opens."""
    client = f"/clients/{letter.client_id}"
    opens = {"reminder": "/today", "message": "/today", "keeping": "/my-record"}.get(letter.kind, "/today")
    if letter.to_coach:
        opens = f"{client}/record" if letter.kind == "keeping" else client
    return {"title": letter.subject, "body": _BODIES.get(letter.kind, ""), "opens": opens, "tag": str(letter.id)}


def reach(db: Database, practice_id: UUID, pusher: Pusher, letter: Posted, *, idle: timedelta, now: datetime) -> bool:
    """Bring a letter to the devices of whom it is for; whether one of them took it. A device that is gone is forgotten."""
    if letter.client_id is None or letter.kind not in _BODIES:
        return False
    with db.practice(practice_id) as conn:
        found = devices.to_reach(conn, letter.client_id, to_coach=letter.to_coach, idle=idle)
    taken = False
    for device in found:
        sent = pusher.push(device, notice_of(letter))
        taken |= sent is Sent.TAKEN
        with db.practice(practice_id) as conn:
            if sent is Sent.TAKEN:
                devices.reached(conn, device.id, now)
            elif sent is Sent.GONE:
                devices.forget(conn, device.id)
    return taken
