"""Start the parts in order, watch them, stop them cleanly."""

import fcntl
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path
from types import FrameType

from kitesort.launch.demo_study import ensure_demo_study
from kitesort.launch.pictures import pictures_json
from kitesort.launch.postgres import Cluster, LaunchError, free_port, open_cluster
from kitesort.runs.queue import RunQueue
from kitesort.store.database import connect_database, migrate

HEALTH_SECONDS = 60
WORKER_PAUSE_SECONDS = 1.0


@dataclass(frozen=True)
class Options:
    host: str
    port: int
    data: Path
    demo: bool
    folders: tuple[Path, ...] = ()
    catalogues: tuple[str, ...] = ()
    downloads: tuple[str, ...] = ()
    pictures: tuple[Path, ...] = ()


@dataclass
class Supervisor:
    """Owns every process it starts; ends those and no others."""

    options: Options
    cluster: Cluster | None = None
    children: dict[str, subprocess.Popen[bytes]] = field(default_factory=dict)
    stopping: bool = False

    def run(self) -> int:
        """Start all, wait for Ctrl-C or a crash, stop all; the exit code."""
        for number in (signal.SIGINT, signal.SIGTERM):
            signal.signal(number, self._ask_to_stop)
        self.options.data.mkdir(parents=True, exist_ok=True)
        with (self.options.data / "run.lock").open("w") as lock:
            _take_lock(lock.fileno(), self.options.data)
            try:
                self._start()
                return self._watch()
            finally:
                self._stop()

    def _start(self) -> None:
        _require_free_port(self.options.host, self.options.port)
        self.cluster = open_cluster(self.options.data)
        self.cluster.start()
        address = self.cluster.conninfo
        os.environ["KITESORT_DATABASE"] = address
        os.environ["KITESORT_DATA"] = str(self.options.data.resolve())
        catalogue_port = self._name_outside()
        connect_database(address)
        migrate()
        RunQueue(address).open().close()
        if self.options.demo and ensure_demo_study(self.options.data):
            print("The demo study Ulverhythe Levels is made.", flush=True)
        self._spawn("worker")
        if catalogue_port:
            self._spawn("catalogue", "--data", str(self.options.data.resolve()),
                        "--port", str(catalogue_port))  # fmt: skip
        self._spawn("server", "--host", self.options.host, "--port", str(self.options.port))
        self._wait_until_healthy()
        print(f"Kite Sort is ready: {self._url}   (Ctrl-C stops it)", flush=True)

    def _name_outside(self) -> int | None:
        """Tell the parts what lies outside of them; the port of the stand-in catalogue."""
        port = self._catalogue_port() if self.options.demo else None
        own = [f"http://127.0.0.1:{port}/"] if port else []
        os.environ["KITESORT_CATALOGUES"] = " ".join([*own, *self.options.catalogues])
        os.environ["KITESORT_DOWNLOADS"] = " ".join(self.options.downloads)
        os.environ["KITESORT_PICTURES"] = pictures_json(self.options.pictures, port)
        folders = [*self.options.folders, *([self.options.data / "demo"] if port else [])]
        os.environ["KITESORT_FOLDERS"] = os.pathsep.join(str(f.resolve()) for f in folders)
        return port

    def _catalogue_port(self) -> int:
        """The next one, so that addresses stay the same; any other when that is taken."""
        with suppress(LaunchError, OverflowError):
            _require_free_port("127.0.0.1", self.options.port + 1)
            return self.options.port + 1
        return free_port()

    @property
    def _url(self) -> str:
        return f"http://{self.options.host}:{self.options.port}/"

    def _spawn(self, part: str, *arguments: str) -> None:
        # A session of its own: Ctrl-C in the terminal reaches us alone, and we stop in order.
        self.children[part] = subprocess.Popen(
            [sys.executable, "-m", "kitesort.launch", part, *arguments],
            stdin=subprocess.DEVNULL,
            start_new_session=True,
        )

    def _wait_until_healthy(self) -> None:
        deadline = time.monotonic() + HEALTH_SECONDS
        while time.monotonic() < deadline and not self.stopping:
            if self.children["server"].poll() is not None:
                raise LaunchError("The server stopped while starting; its message stands above.")
            with (
                suppress(urllib.error.URLError, OSError),
                urllib.request.urlopen(f"{self._url}api/health", timeout=2),
            ):
                return
            time.sleep(0.1)
        if not self.stopping:
            raise LaunchError("The server does not answer within a minute.")

    def _watch(self) -> int:
        while not self.stopping:
            time.sleep(0.2)
            if self.children["worker"].poll() is not None and not self.stopping:
                print("The worker stopped; it is started again.", file=sys.stderr, flush=True)
                time.sleep(WORKER_PAUSE_SECONDS)
                self._spawn("worker")
            catalogue = self.children.get("catalogue")
            if catalogue is not None and catalogue.poll() is not None and not self.stopping:
                print("The catalogue of made-up scenes stopped.", file=sys.stderr, flush=True)
                del self.children["catalogue"]
            if self.children["server"].poll() is not None:
                print("The server stopped unexpectedly. Run ./run again.", file=sys.stderr)
                return 1
            process = self.cluster.process if self.cluster else None
            if process is None or process.poll() is not None:
                print("The database stopped unexpectedly. Run ./run again.", file=sys.stderr)
                return 1
        return 0

    def _stop(self) -> None:
        self.stopping = True
        for child in self.children.values():
            if child.poll() is None:
                child.terminate()
        for child in self.children.values():
            try:
                child.wait(10)
            except subprocess.TimeoutExpired:
                child.kill()
                child.wait()
        if self.cluster:
            self.cluster.stop()
        print("Stopped.", flush=True)

    def _ask_to_stop(self, _number: int, _frame: FrameType | None) -> None:
        self.stopping = True


def _take_lock(descriptor: int, data: Path) -> None:
    """The system drops this lock with its holder, so that it can never be stale."""
    try:
        fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError as error:
        raise LaunchError(
            f"Kite Sort runs already on the data folder {data}. Use its window, stop it, "
            "or give another folder with --data."
        ) from error


def _require_free_port(host: str, port: int) -> None:
    with socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError as error:
            raise LaunchError(
                f"Port {port} is taken by another program. Give another one with --port."
            ) from error
