"""Start the parts in order, watch them, stop them cleanly."""

import fcntl
import os
import pwd
import shutil
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
from kitesort.launch.guard import guard_process
from kitesort.launch.part import Part, Pause
from kitesort.launch.pictures import pictures_json
from kitesort.launch.postgres import Cluster, LaunchError, free_port, open_cluster
from kitesort.launch.rights import as_user, close_data_folder, hand_over, lesser_user
from kitesort.runs.queue import RunQueue
from kitesort.store.database import connect_database, migrate

HEALTH_SECONDS = 60
LOOK_SECONDS = 0.2


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
    parts: dict[str, Part] = field(default_factory=dict)
    stopping: bool = False
    _user: pwd.struct_passwd | None = None
    _guards: list[subprocess.Popen[bytes]] = field(default_factory=list)

    def run(self) -> int:
        """Start all, keep it running until Ctrl-C, stop all; the exit code."""
        for number in (signal.SIGINT, signal.SIGTERM):
            signal.signal(number, self._ask_to_stop)
        close_data_folder(self.options.data)
        with (self.options.data / "run.lock").open("w") as lock:
            _take_lock(lock.fileno(), self.options.data)
            try:
                return self._watch(self._start())
            finally:
                self._stop()

    def _start(self) -> Cluster:
        _require_free_port(self.options.host, self.options.port)
        cluster = self.cluster = open_cluster(self.options.data)
        self._start_database(cluster)
        address = cluster.conninfo
        os.environ["KITESORT_DATABASE"] = address
        os.environ["KITESORT_DATA"] = str(self.options.data.resolve())
        os.environ["TMPDIR"] = str(_emptied(self.options.data.resolve() / "temporary"))
        catalogue_port = self._name_outside()
        connect_database(address)
        migrate()
        RunQueue(address).open().close()
        if self.options.demo and ensure_demo_study(self.options.data):
            print("The demo study Ulverhythe Levels is made.", flush=True)
        self._give_rights_up(cluster)
        self._add("worker", "The worker")
        if catalogue_port:
            self._add("catalogue", "The catalogue of made-up scenes",
                      "--data", str(self.options.data.resolve()),
                      "--port", str(catalogue_port))  # fmt: skip
        where = ("--host", self.options.host, "--port", str(self.options.port))
        self._wait_until_healthy(self._add("server", "The server", *where))
        print(f"Kite Sort is ready: {self._url}   (Ctrl-C stops it)", flush=True)
        return cluster

    def _give_rights_up(self, cluster: Cluster) -> None:
        """The kernels that set-up compiled belong to us: who runs the parts has some of its own."""
        self._user = lesser_user(cluster.owner, self.options.folders)
        hand_over(self.options.data, self._user)
        if self._user:
            os.environ["HOME"] = os.environ["NUMBA_CACHE_DIR"] = str(
                self.options.data.resolve() / "kernels"
            )
            warm = [sys.executable, "-m", "kitesort.launch", "warm"]
            subprocess.run(warm, check=False, **as_user(self._user))

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
        host = f"[{self.options.host}]" if ":" in self.options.host else self.options.host
        return f"http://{host}:{self.options.port}/"

    def _add(self, name: str, words: str, *arguments: str) -> Part:
        part = Part(name, words, arguments, self._user)
        self.parts[name] = part
        part.start()
        return part

    def _wait_until_healthy(self, server: Part) -> None:
        deadline = time.monotonic() + HEALTH_SECONDS
        while time.monotonic() < deadline and not self.stopping:
            if not server.runs:
                raise LaunchError("The server stopped while starting; its message stands above.")
            with (
                suppress(urllib.error.URLError, OSError),
                urllib.request.urlopen(f"{self._url}api/health", timeout=2),
            ):
                return
            time.sleep(0.1)
        if not self.stopping:
            raise LaunchError("The server does not answer within a minute.")

    def _watch(self, cluster: Cluster) -> int:
        while not self.stopping:
            time.sleep(LOOK_SECONDS)
            if cluster.runs:
                for part in self.parts.values():
                    if not self.stopping:
                        part.look_after()
            elif not self.stopping:
                self._start_database_again(cluster)
        return 0

    def _start_database_again(self, cluster: Cluster) -> None:
        """On the same port, so that the server finds it; the worker begins anew, since what it had
        taken up is queued anew at its start."""
        print("The database stopped; it is started again.", file=sys.stderr, flush=True)
        pause = Pause()
        while not self.stopping:
            try:
                self._start_database(cluster)
            except LaunchError as error:
                print(error, file=sys.stderr, flush=True)
                pause.begin(0)
                while not (self.stopping or pause.over):
                    time.sleep(LOOK_SECONDS)
                continue
            print("The database answers again.", file=sys.stderr, flush=True)
            self.parts["worker"].kill()
            return

    def _start_database(self, cluster: Cluster) -> None:
        cluster.start()
        assert cluster.process is not None
        self._guards = [guard for guard in self._guards if guard.poll() is None]
        self._guards.append(guard_process(cluster.process.pid))

    def _stop(self) -> None:
        self.stopping = True
        for part in self.parts.values():
            part.ask_to_stop()
        for part in self.parts.values():
            part.stop()
        if self.cluster:
            self.cluster.stop()
        for guard in self._guards:
            guard.communicate()  # closes its input, so that it looks after what has ended already
        print("Stopped.", flush=True)

    def _ask_to_stop(self, _number: int, _frame: FrameType | None) -> None:
        self.stopping = True


def _emptied(folder: Path) -> Path:
    """For what the parts hold on disk while they read it: one that was killed leaves it behind."""
    shutil.rmtree(folder, ignore_errors=True)
    folder.mkdir(exist_ok=True)
    return folder


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
