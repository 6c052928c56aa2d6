"""Who may read what is stored, and what the parts may do: no more than they need.

What lies in the data folder is for its owner only. Started as root, the parts run as somebody who
may do nothing else, like the database does, where that user can reach the program.
"""

import os
import pwd
import shutil
import subprocess
import sys
from pathlib import Path
from typing import Any

MADE_AT_ONCE = ("layers", "classifiers", "uploads", "ground", "exports", "kernels", "temporary")
OURS = ("demo", *MADE_AT_ONCE)
PROBE = """
import os, sys
import kitesort, numpy
for path in sys.argv[1:]:
    if not os.access(path, os.R_OK | os.X_OK):
        print(path)
"""


def close_data_folder(data: Path) -> None:
    """From now on all that is made here is for its owner only. As root, others may still pass
    through the data folder to what is theirs: the database's server is somebody else."""
    data.mkdir(parents=True, exist_ok=True)
    data.chmod(0o711 if os.geteuid() == 0 else 0o700)
    os.umask(0o077)
    for name in OURS:
        if (data / name).is_dir():
            (data / name).chmod(0o700)
    for name in MADE_AT_ONCE:
        (data / name).mkdir(exist_ok=True)


def lesser_user(
    owner: pwd.struct_passwd | None, folders: tuple[Path, ...]
) -> pwd.struct_passwd | None:
    """Whom the parts run as: ``owner``, the database's, when we are root; None where we are not, or
    where that user cannot run the program, which is said. Folders that it cannot read are told."""
    if owner is None:
        return None
    unreadable = _unreadable(owner, folders)
    if unreadable is None:
        _say(
            f"Started as root, and {owner.pw_name} cannot reach the program, so that server and "
            "worker run as root, too. Start it as an ordinary user, or put it where others can "
            "read it."
        )
        return None
    for path in unreadable:
        _say(f"Server and worker run as {owner.pw_name}, who cannot read {path}.")
    return owner


def _unreadable(user: pwd.struct_passwd, folders: tuple[Path, ...]) -> list[str] | None:
    """Folders that a user cannot read; None where it cannot even run the program."""
    command = [sys.executable, "-c", PROBE, *(str(folder.resolve()) for folder in folders)]
    try:
        probe = subprocess.run(
            command, capture_output=True, text=True, check=False, **as_user(user)
        )
    except OSError:
        return None
    return probe.stdout.splitlines() if probe.returncode == 0 else None


def as_user(user: pwd.struct_passwd | None) -> dict[str, Any]:
    """How a process is started as somebody; as ourselves where nobody is named."""
    if user is None:
        return {}
    return {"user": user.pw_uid, "group": user.pw_gid, "extra_groups": []}


def hand_over(data: Path, user: pwd.struct_passwd | None) -> None:
    """Give what lies in the data folder to whom the parts run as, ourselves where nobody is named:
    it may have been somebody else at the start before."""
    if os.geteuid() != 0:
        return
    uid, gid = (user.pw_uid, user.pw_gid) if user else (0, 0)
    for name in OURS:
        for path in ((data / name), *(data / name).rglob("*")):
            if path.exists() and path.stat().st_uid != uid:
                shutil.chown(path, uid, gid)


def _say(sentence: str) -> None:
    print(sentence, file=sys.stderr, flush=True)
