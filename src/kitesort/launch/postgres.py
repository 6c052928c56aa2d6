"""A PostgreSQL cluster of our own, in the data folder, on a loopback port."""

import hashlib
import os
import pwd
import secrets
import shutil
import signal
import socket
import subprocess
import sys
import time
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path

import psutil
import psycopg

from kitesort.launch.rights import as_user

USER = "kitesort"
DATABASE = "kitesort"
LOOPBACK = "127.0.0.1"
START_SECONDS = 60
FALLBACK_PLACE = Path("/var/lib/kitesort")


class LaunchError(RuntimeError):
    """Something that the person at the terminal can put right; says what."""


def find_binaries() -> Path | None:
    """Folder with ``initdb`` and ``postgres``, newest version first."""
    places = sorted(
        Path("/usr/lib/postgresql").glob("*/bin"), key=lambda p: float(p.parent.name), reverse=True
    )
    on_path = shutil.which("initdb")
    if on_path:
        places.append(Path(on_path).resolve().parent)
    return next((p for p in places if (p / "initdb").exists() and (p / "postgres").exists()), None)


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind((LOOPBACK, 0))
        return int(probe.getsockname()[1])


def _unprivileged_user() -> pwd.struct_passwd | None:
    """Whom to hand the server to when we are root; None when we are an ordinary user."""
    if os.geteuid() != 0:
        return None
    for name in ("postgres", "nobody"):
        with suppress(KeyError):
            return pwd.getpwnam(name)
    raise LaunchError("Running as root, but there is no user “postgres” or “nobody” to run as.")


@dataclass
class Cluster:
    """``folder`` holds the cluster and its password; nothing listens outside loopback.
    ``settings`` are further settings of the server, as ``name=value``."""

    folder: Path
    binaries: Path
    owner: pwd.struct_passwd | None
    settings: tuple[str, ...] = ()
    port: int = 0
    process: subprocess.Popen[bytes] | None = field(default=None, repr=False)

    @property
    def conninfo(self) -> str:
        password = (self.folder / "password").read_text().strip()
        return f"host={LOOPBACK} port={self.port} user={USER} password={password} dbname={DATABASE}"

    @property
    def runs(self) -> bool:
        return self.process is not None and self.process.poll() is None

    @property
    def _data(self) -> Path:
        return self.folder / "cluster"

    def start(self) -> None:
        """Create the cluster when there is none, start it, and wait until it answers.

        Raises
        ------
        LaunchError : it does not start; the message holds the end of its log.
        """
        if not (self._data / "PG_VERSION").exists():
            self._create()
        self._stop_stranger()
        self.port = self.port or free_port()  # the same when it is started again
        log = (self.folder / "log.txt").open("ab")
        self.process = subprocess.Popen(
            [
                self.binaries / "postgres", "-D", self._data,
                "-c", f"listen_addresses={LOOPBACK}", "-c", f"port={self.port}",
                "-c", "unix_socket_directories=", "-c", "max_connections=80",
                "-c", "logging_collector=off", *self._settings(),
            ],
            stdout=log, stderr=log, stdin=subprocess.DEVNULL, start_new_session=True,
            cwd=self.folder, **as_user(self.owner),
        )  # fmt: skip
        log.close()
        self._wait_until_ready()
        self._create_database()

    def _settings(self) -> list[str]:
        return [word for setting in self.settings for word in ("-c", setting)]

    def stop(self) -> None:
        """Fast shutdown: open transactions are rolled back, nothing is lost. A server that another
        process has started is stopped, too."""
        if self.process is None:
            self._stop_stranger()
        elif self.process.poll() is None:
            self.process.send_signal(signal.SIGINT)
            try:
                self.process.wait(20)
            except subprocess.TimeoutExpired:
                self.process.send_signal(signal.SIGQUIT)
                self.process.wait(10)
        self.process = None

    def _create(self) -> None:
        shutil.rmtree(self._data, ignore_errors=True)  # what an interrupted set-up left behind
        self._data.mkdir(mode=0o700)
        password = self.folder / "password"
        password.touch(mode=0o600)
        password.write_text(secrets.token_urlsafe(24))
        if self.owner:
            for path in (self.folder, self._data, password):
                os.chown(path, self.owner.pw_uid, self.owner.pw_gid)
        done = subprocess.run(
            [
                self.binaries / "initdb", "-D", self._data, "-U", USER, "-E", "UTF8",
                "--locale=C.UTF-8", "--auth=scram-sha-256", f"--pwfile={password}",
            ],
            capture_output=True, text=True, check=False, cwd=self.folder, **as_user(self.owner),
        )  # fmt: skip
        if done.returncode:
            shutil.rmtree(self._data, ignore_errors=True)
            raise LaunchError(f"The database could not be created:\n{done.stderr[-1500:]}")

    def _stop_stranger(self) -> None:
        """Stop a server of ours that outlived its starter; forget a lock whose holder's number
        another program has got. One whose holder is gone is left to the server, which looks
        whether processes of the old one are at work still."""
        lock = self._data / "postmaster.pid"
        try:
            process = psutil.Process(int(lock.read_text().split()[0]))
            if str(self._data) not in process.cmdline():
                lock.unlink()
                return
            process.send_signal(signal.SIGINT)
            process.wait(20)
        except (FileNotFoundError, ValueError, IndexError, psutil.Error):
            return

    def _wait_until_ready(self) -> None:
        assert self.process is not None
        address = self.conninfo.replace(f"dbname={DATABASE}", "dbname=postgres connect_timeout=2")
        deadline = time.monotonic() + START_SECONDS
        while time.monotonic() < deadline:
            if self.process.poll() is not None:
                break
            with suppress(psycopg.OperationalError):
                psycopg.connect(address).close()
                return
            time.sleep(0.05)
        tail = (self.folder / "log.txt").read_text(errors="replace")[-1500:]
        raise LaunchError(f"The database does not start. The end of its log:\n{tail}")

    def _create_database(self) -> None:
        address = self.conninfo.replace(f"dbname={DATABASE}", "dbname=postgres")
        with psycopg.connect(address, autocommit=True) as connection:
            there = connection.execute("SELECT 1 FROM pg_database WHERE datname = %s", [DATABASE])
            if there.fetchone() is None:
                connection.execute(f'CREATE DATABASE "{DATABASE}"')


def open_cluster(data_folder: Path) -> Cluster:
    """The cluster of a data folder, not started yet.

    As root, where the unprivileged user cannot reach the data folder, the cluster lies under
    /var/lib/kitesort instead, and this is said.

    Raises
    ------
    LaunchError : PostgreSQL is not installed.
    """
    binaries = find_binaries()
    if binaries is None:
        raise LaunchError(
            "PostgreSQL is not installed, and it can only be installed with root or sudo. "
            "Ask an administrator for: apt-get install postgresql"
        )
    owner = _unprivileged_user()
    folder = data_folder.resolve() / "postgres"
    if owner and not _can_reach(data_folder.resolve(), owner):
        digest = hashlib.blake2s(str(folder).encode(), digest_size=6).hexdigest()
        folder = FALLBACK_PLACE / digest
        FALLBACK_PLACE.mkdir(parents=True, exist_ok=True)
        FALLBACK_PLACE.chmod(0o711)
        print(
            f"The user {owner.pw_name} cannot reach {data_folder}; the database lies in {folder}.",
            file=sys.stderr,
        )
    folder.mkdir(parents=True, exist_ok=True)
    folder.chmod(0o700)
    if owner:
        os.chown(folder, owner.pw_uid, owner.pw_gid)
    return Cluster(folder, binaries, owner)


def _can_reach(folder: Path, owner: pwd.struct_passwd) -> bool:
    folder.mkdir(parents=True, exist_ok=True)
    probe = subprocess.run(
        ["/bin/sh", "-c", 'cd "$0"', folder],
        **as_user(owner),
        stderr=subprocess.DEVNULL,
        check=False,
        cwd="/",
    )
    return probe.returncode == 0
