"""A campaign of faults and attacks on a whole installation: people go on writing and sending photographs while processes are killed,
the database is held up, hostile bodies arrive and passwords are guessed; afterwards what was acknowledged is compared with what is
there. ``./dimbo bench faults`` runs it for ten minutes; ``tests/ops/test_faults.py`` for half a minute.
"""

from __future__ import annotations

import http.client
import io
import json
import os
import random
import secrets
import shutil
import signal
import subprocess
import sys
import tempfile
import threading
import time
import zlib
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field
from pathlib import Path
from uuid import uuid4

import psycopg
from PIL import Image

from dimbo.ops import supervise
from dimbo.ops.cluster import OWNER, Cluster, children_of, free_port
from dimbo.ops.supervise import Supervisor
from dimbo.store.migrate import migrate
from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import Scene
from dimbo.work.people.passwords import hash_password

PASSWORD = "seven otters keep lanterns"
PEOPLE = 4
LONG_S, CALM_S, BACK_S = 600.0, 90.0, 20.0
ROOM_MB, FULL_S = 800, 4.0
Body = bytes | str | Iterator[bytes] | None
MOST_MEMORY = 500 * 2**20
"""Of the web process, in bytes."""


@dataclass
class Outcome:
    """What came of it: how many entries were acknowledged, and are not there or there twice; photographs that were taken in and
    never judged; seconds until everything answered again after each fault; the most memory (bytes) that a web process held; and
    answers that were a fault without words."""

    acknowledged: int = 0
    lost: list[str] = field(default_factory=list)
    doubled: list[str] = field(default_factory=list)
    photographs: int = 0
    unjudged: int = 0
    faults: dict[str, int] = field(default_factory=dict)
    back_s: list[tuple[str, float]] = field(default_factory=list)
    memory: int = 0
    wordless: list[str] = field(default_factory=list)
    attacks: int = 0

    def sentence(self) -> str:
        slowest = max(self.back_s, key=lambda b: b[1], default=("nothing", 0.0))
        did = ", ".join(f"{n} times {what}" for what, n in sorted(self.faults.items()))
        return (
            f"{self.acknowledged} entries and {self.photographs} photographs acknowledged, lost {len(self.lost)}, doubled "
            f"{len(self.doubled)}, never judged {self.unjudged}; {did}; {self.attacks} hostile requests, {len(self.wordless)} answered "
            f"without words; back after {slowest[1]:.1f} s at most ({slowest[0]}); web {self.memory / 2**20:.0f} MB at most"
        )


def keep(folder: Path, port: int, database_port: int) -> None:
    """Be the supervisor of an installation in a folder, until killed."""
    supervise.HOME, supervise.PID_FILE = folder, folder / "pid"
    supervise.MAIL, supervise.NOTICES = folder / "mail", folder / "notices"
    supervisor = Supervisor(port)
    supervisor.cluster = Cluster(folder / "postgres", durable=True, port=database_port)
    supervisor.cluster.start()
    migrate(supervisor.cluster.url(OWNER))
    supervisor.start_web_and_worker()
    supervisor.watch()


def _bounded(folder: Path) -> bool:
    """Whether a folder could be made a file system of its own with little room, so that it can be filled; not every machine lets."""
    if os.geteuid() != 0:
        return False
    done = subprocess.run(["mount", "-t", "tmpfs", "-o", f"size={ROOM_MB}m", "tmpfs", str(folder)], capture_output=True)
    return done.returncode == 0


class Site:
    """The installation under attack, and whoever starts its supervisor again, as a machine does."""

    def __init__(self) -> None:
        base = "/var/tmp" if os.access("/var/tmp", os.W_OK) else None
        self.folder = Path(tempfile.mkdtemp(prefix="dimbo-faults-", dir=base))
        self.bounded = _bounded(self.folder)
        self.folder.chmod(0o755)
        self.port, self.database_port = free_port(), free_port()
        self.keeper: subprocess.Popen[bytes] | None = None
        self.over = threading.Event()
        self.cluster = Cluster(self.folder / "postgres", durable=True, port=self.database_port)

    def start(self) -> None:
        with (self.folder / "keeper.log").open("ab") as out:
            command = [sys.executable, "-m", "dimbo.bench.faults", str(self.folder), str(self.port), str(self.database_port)]
            self.keeper = subprocess.Popen(["setpriv", "--pdeathsig", "TERM", "--", *command], stdout=out, stderr=out)

    def keep_going(self) -> None:
        while not self.over.wait(0.3):
            if self.keeper and self.keeper.poll() is not None:
                self.start()

    def stop(self) -> None:
        self.over.set()
        if self.keeper and self.keeper.poll() is None:
            self.keeper.send_signal(signal.SIGINT)
            with suppress(subprocess.TimeoutExpired):
                self.keeper.wait(20)
            self.keeper.kill()
            self.keeper.wait()
        for pid in self.pids("postgres", "serve", "worker", "stand_in"):
            with suppress(OSError):
                os.kill(pid, signal.SIGKILL)
        if kept := os.environ.get("DIMBO_KEEP_LOGS"):
            shutil.copytree(self.folder, kept, ignore=shutil.ignore_patterns("postgres"), dirs_exist_ok=True)
        if self.bounded:
            subprocess.run(["umount", "--lazy", str(self.folder)], capture_output=True)
        shutil.rmtree(self.folder, ignore_errors=True)

    def pids(self, *what: str) -> list[int]:
        """Processes of this installation whose command names one of the words; its folder stands in their environment."""
        out = []
        for entry in Path("/proc").iterdir():
            if not entry.name.isdigit():
                continue
            with suppress(OSError, IndexError, ValueError):
                words = (entry / "cmdline").read_bytes().replace(b"\0", b" ").decode(errors="replace")
                if any(w in words for w in what) and str(self.folder) in words + (entry / "environ").read_text(errors="replace"):
                    out.append(int(entry.name))
        return out

    def postmaster(self) -> int | None:
        with suppress(OSError, ValueError, IndexError):
            return int((self.cluster.data / "postmaster.pid").read_text().split()[0])
        return None

    def backends(self) -> list[int]:
        parent = self.postmaster()
        return children_of(parent) if parent else []

    def ask(
        self, method: str, path: str, *, body: Body = None, headers: dict[str, str] | None = None, wait_s: float = 15
    ) -> tuple[int, bytes]:
        """Raises OSError when nobody answers."""
        conn = http.client.HTTPConnection("127.0.0.1", self.port, timeout=wait_s)
        try:
            conn.request(method, path, body, {"x-dimbo": "1", **(headers or {})})
            answer = conn.getresponse()
            return answer.status, answer.read()
        except http.client.HTTPException as error:
            raise OSError(str(error)) from error
        finally:
            conn.close()

    def well(self) -> bool:
        with suppress(OSError, ValueError):
            status, body = self.ask("GET", path="/api/health", wait_s=2)
            return status == 200 and json.loads(body)["worker"] == "up"
        return False

    def wait_well(self, most_s: float) -> float:
        """Seconds until everything answers; ``most_s`` when it does not."""
        began = time.monotonic()
        while time.monotonic() - began < most_s:
            if self.well():
                return time.monotonic() - began
            time.sleep(0.2)
        return most_s


def _practice(site: Site) -> tuple[str, list[str], str]:
    """A practice in the database: the coach's address, its clients' addresses, and a client's id."""
    with psycopg.connect(site.cluster.url(OWNER), autocommit=True) as conn:
        hashed = hash_password(PASSWORD)
        row = conn.execute("insert into practices (name, begun) values ('Attacked', '{ways,colleague}') returning id").fetchone()
        assert row
        added = (
            "insert into accounts (practice_id, role, standing, client_id, name, email, password_hash) "
            "values (%s, %s, %s, %s, %s, %s, %s) returning id"
        )
        coach = conn.execute(added.encode(), (row[0], "coach", "owner", None, "Coach", "coach@a.example", hashed)).fetchone()
        assert coach
        mails, first = [], None
        for n in range(PEOPLE):
            client = conn.execute(
                "insert into clients (practice_id, name, birth_year, time_zone, coach_id) values (%s, %s, 1980, 'UTC', %s) returning id",
                (row[0], f"Client {n}", coach[0]),
            ).fetchone()
            assert client
            first = first or client[0]
            mails.append(f"client{n}@a.example")
            conn.execute(added.encode(), (row[0], "client", "client", client[0], f"Client {n}", mails[-1], hashed))
    return "coach@a.example", mails, str(first)


class _Person:
    """Somebody signed in, who sends what was not acknowledged again, as the pages do."""

    def __init__(self, site: Site, email: str, over: threading.Event) -> None:
        self.site, self.email, self.over, self.cookie = site, email, over, ""
        self.acknowledged: list[str] = []
        self.sitting = ""
        """Where their photographs go."""

    def until(self, method: str, path: str, *, body: Body, kind: str = "application/json", most_s: float = 120) -> tuple[int, bytes]:
        """Send until it is answered with something else than a fault of the server."""
        end = time.monotonic() + most_s
        while time.monotonic() < end:
            with suppress(OSError):
                status, answer = self.site.ask(method, path=path, body=body, headers={"content-type": kind, "cookie": self.cookie})
                if status < 500 and status != 429:
                    return status, answer
            time.sleep(0.3 + random.random() * 0.3)
        raise OSError(f"{path} was never answered")

    def sign_in(self) -> None:
        while not self.cookie and not self.over.is_set():
            with suppress(OSError):
                conn = http.client.HTTPConnection("127.0.0.1", self.site.port, timeout=10)
                body = json.dumps({"email": self.email, "password": PASSWORD})
                conn.request("POST", "/api/sign-in", body, {"x-dimbo": "1", "content-type": "application/json"})
                answer = conn.getresponse()
                answer.read()
                self.cookie = "; ".join(c.split(";")[0] for c in answer.headers.get_all("set-cookie") or [])
                conn.close()
            time.sleep(0.2)

    def write(self) -> None:
        """Messages, one after the other; what is acknowledged is noted."""
        while not self.over.is_set():
            said = str(uuid4())
            now = time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime())
            entry = {"kind": "message", "id": said, "text": f"said {said}", "written_at": now}
            status, answer = self.until("POST", path="/api/hand-in", body=json.dumps({"sent_at": now, "entries": [entry]}))
            if status == 200 and not json.loads(answer).get("refused"):
                self.acknowledged.append(said)
            time.sleep(0.05)


def _form(name: str, data: bytes, fields: dict[str, str]) -> tuple[bytes, str]:
    line = secrets.token_hex(8)
    parts = [f'--{line}\r\nContent-Disposition: form-data; name="{k}"\r\n\r\n{v}\r\n'.encode() for k, v in fields.items()]
    parts.append(f'--{line}\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n'.encode() + data + b"\r\n")
    return b"".join([*parts, f"--{line}--\r\n".encode()]), f"multipart/form-data; boundary={line}"


def _bomb(side: int) -> bytes:
    """A small file that would be a huge picture."""
    head = b"\x89PNG\r\n\x1a\n"

    def chunk(kind: bytes, data: bytes) -> bytes:
        return len(data).to_bytes(4, "big") + kind + data + zlib.crc32(kind + data).to_bytes(4, "big")

    size = side.to_bytes(4, "big") * 2 + b"\x08\x00\x00\x00\x00"
    return head + chunk(b"IHDR", size) + chunk(b"IDAT", zlib.compress(bytes(side) * 64)) + chunk(b"IEND", b"")


def _large_picture() -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (5600, 4200), (120, 90, 80)).save(out, "JPEG", quality=60)
    return out.getvalue()


class Campaign:
    """One run; ``seconds`` of faults, then calm until everything that was begun is answered."""

    def __init__(self, seconds: float, seed: int) -> None:
        self.seconds, self.random, self.outcome = seconds, random.Random(seed), Outcome()
        self.site, self.over = Site(), threading.Event()
        self._lock = threading.Lock()

    def run(self) -> Outcome:
        self.site.start()
        try:
            assert self.site.wait_well(CALM_S) < CALM_S, "it does not start"
            coach, mails, client = _practice(self.site)
            people = [_Person(self.site, m, self.over) for m in mails]
            photographer = _Person(self.site, coach, self.over)
            for p in (*people, photographer):
                p.sign_in()
            threading.Thread(target=self.site.keep_going, daemon=True).start()
            work = [*(p.write for p in people), lambda: self._photograph(photographer, client), self._watch_memory]
            work += [self._guess, lambda: self._flood(photographer), lambda: self._flood(None)]
            threads = [threading.Thread(target=w, daemon=True) for w in work]
            for t in threads:
                t.start()
            self._break_things()
            self.over.set()
            for t in threads:
                t.join(150)
            self.site.wait_well(CALM_S)
            self._settle()
            self._compare([i for p in people for i in p.acknowledged])
        finally:
            self.over.set()
            self.site.stop()
        return self.outcome

    def _break_things(self) -> None:
        end = time.monotonic() + self.seconds
        faults: list[tuple[str, Callable[[], None]]] = [
            ("web killed", lambda: self._kill(self.site.pids("cli serve"))),
            ("worker killed", lambda: self._kill(self.site.pids("cli worker"))),
            ("a backend killed", lambda: self._kill(self.site.backends()[-3:])),
            ("postmaster killed", lambda: self._kill([p for p in [self.site.postmaster()] if p])),
            ("supervisor killed", lambda: self._kill([self.site.keeper.pid] if self.site.keeper else [])),
            ("database held", lambda: self._hold(min(self.seconds / 10, 60))),
        ]
        if self.site.bounded:
            faults.append(("disk filled", self._fill))
        turn = 0
        while time.monotonic() < end:
            name, fault = faults[turn] if turn < len(faults) else self.random.choice(faults)
            turn += 1
            time.sleep(self.random.uniform(0.5, 2.5))
            fault()
            self.outcome.faults[name] = self.outcome.faults.get(name, 0) + 1
            self.outcome.back_s.append((name, self.site.wait_well(CALM_S)))

    def _kill(self, pids: list[int]) -> None:
        if pids:
            with suppress(OSError):
                os.kill(self.random.choice(pids), signal.SIGKILL)
            time.sleep(0.3)

    def _hold(self, seconds: float) -> None:
        """Nobody of the database answers for a while."""
        pids = [p for p in [self.site.postmaster(), *self.site.backends()] if p]
        for pid in pids:
            with suppress(OSError):
                os.kill(pid, signal.SIGSTOP)
        time.sleep(seconds)
        for pid in pids:
            with suppress(OSError):
                os.kill(pid, signal.SIGCONT)

    def _fill(self) -> None:
        """No room is left on the disk for a while."""
        filler = self.site.folder / "filler"
        with suppress(OSError), filler.open("wb", buffering=0) as out:
            while True:
                out.write(bytes(2**20))
        time.sleep(FULL_S)
        filler.unlink(missing_ok=True)

    def _photograph(self, coach: _Person, client: str) -> None:
        """Photographs, each sent until it is taken in."""
        consents = f"/api/clients/{client}/consents/photographs"
        coach.until("PUT", path=consents, body=json.dumps({"given": True, "version": 1}))
        coach.until("POST", path=f"/api/clients/{client}/asked", body="{}")
        status, answer = coach.until("POST", path=f"/api/clients/{client}/sittings", body="{}")
        assert status == 201, answer
        coach.sitting = json.loads(answer)["id"]
        path = f"/api/sittings/{coach.sitting}/photographs"
        n = 0
        while not self.over.is_set():
            n += 1
            data = shoot(Scene(identity="aster", state="even", seed=n)).jpeg(None)
            body, kind = _form("a.jpg", data, {"photograph_id": str(uuid4()), "view": "front-neutral"})
            status, answer = coach.until("POST", path=path, body=body, kind=kind)
            if status == 202:
                self.outcome.photographs += 1
            self.over.wait(1.5)

    def _attack(self, method: str, path: str, *, body: Body, kind: str, cookie: str = "") -> None:
        with suppress(OSError):
            status, answer = self.site.ask(method, path=path, body=body, headers={"content-type": kind, "cookie": cookie}, wait_s=30)
            with self._lock:
                self.outcome.attacks += 1
                if status >= 500 and b'"message"' not in answer:
                    self.outcome.wordless.append(f"{status} {path}")

    def _guess(self) -> None:
        """Wrong passwords in parallel."""

        def guess() -> None:
            while not self.over.is_set():
                body = json.dumps({"email": "coach@a.example", "password": secrets.token_urlsafe(9)})
                self._attack("POST", path="/api/sign-in", body=body, kind="application/json")
                time.sleep(0.05)

        with _several(guess, 6):
            self.over.wait()

    def _flood(self, somebody: _Person | None) -> None:
        """Large and hostile bodies and pictures, as somebody who is signed in or as nobody."""
        bodies: list[tuple[str, bytes, str]] = [
            ("x.jpg", os.urandom(24 * 2**20), "random"),
            ("x.png", _bomb(30_000), "bomb"),
            ("x.jpg", _large_picture(), "large"),
            ("x.heic", b"\0\0\0\x18ftypheic" + os.urandom(4096), "no picture"),
        ]

        def flood() -> None:
            while not self.over.is_set():
                name, data, _ = self.random.choice(bodies)
                body, kind = _form(name, data, {"photograph_id": str(uuid4())})
                where = f"/api/sittings/{somebody.sitting if somebody and somebody.sitting else uuid4()}/photographs"
                cookie = somebody.cookie if somebody else ""
                self._attack("POST", path=where, body=body, kind=kind, cookie=cookie)
                self._attack("POST", path="/api/sign-in", body=b"[" * 7000, kind="application/json")
                self._attack("POST", path="/api/import", body=os.urandom(10 * 2**20), kind="text/csv", cookie=cookie)
                self._attack("POST", path="/api/hand-in", body=_endless(), kind="application/json")

        with _several(flood, 2):
            self.over.wait()

    def _watch_memory(self) -> None:
        while not self.over.wait(0.2):
            for pid in self.site.pids("cli serve"):
                with suppress(OSError, IndexError, ValueError):
                    told = Path(f"/proc/{pid}/status").read_text()
                    peak = int(told.split("VmHWM:")[1].split()[0]) * 1024
                    self.outcome.memory = max(self.outcome.memory, peak)

    def _settle(self) -> None:
        """Wait until no photograph waits or is being worked on."""
        end = time.monotonic() + CALM_S
        while time.monotonic() < end and self._count("select count(*) from photographs where state in ('waiting', 'working')"):
            time.sleep(0.5)
        self.outcome.unjudged = self._count("select count(*) from photographs where state in ('waiting', 'working')")

    def _count(self, sql: str) -> int:
        with psycopg.connect(self.site.cluster.url(OWNER)) as conn:
            row = conn.execute(sql.encode()).fetchone()
        return int(row[0]) if row else 0

    def _compare(self, acknowledged: list[str]) -> None:
        with psycopg.connect(self.site.cluster.url(OWNER)) as conn:
            there: dict[str, int] = dict(conn.execute("select text, count(*) from messages group by text").fetchall())
        self.outcome.acknowledged = len(acknowledged)
        self.outcome.lost = [i for i in acknowledged if f"said {i}" not in there]
        self.outcome.doubled = [text for text, n in there.items() if n > 1]
        kept = self._count("select count(*) from photographs")
        self.outcome.lost += ["a photograph"] * max(self.outcome.photographs - kept, 0)


def _endless() -> Iterator[bytes]:
    """A body that tells no length; it is cut off long before its end."""
    for _ in range(400):
        yield b"x" * 65_536


@contextmanager
def _several(work: Callable[[], None], count: int) -> Iterator[None]:
    threads = [threading.Thread(target=work, daemon=True) for _ in range(count)]
    for t in threads:
        t.start()
    yield
    for t in threads:
        t.join(40)


def run(seconds: float = LONG_S, seed: int = 1) -> Outcome:
    """The whole campaign."""
    return Campaign(seconds, seed).run()


if __name__ == "__main__":
    keep(Path(sys.argv[1]), int(sys.argv[2]), database_port=int(sys.argv[3]))
