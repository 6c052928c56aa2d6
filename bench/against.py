"""An older version measured beside the present one: alternately, in one run.

The older version runs in the present environment, with its own source, database and page. Its rows
are measured by the present bench; where that does not know the older source any more, by the
measuring modules of the older version itself.
"""

import json
import os
import subprocess
import sys
import tempfile
from dataclasses import dataclass, field
from pathlib import Path
from statistics import median
from typing import Any

from bench import OLDER_MODULES
from bench.rows import ROWS

ROOT = Path(__file__).resolve().parents[1]
SHARED = ("demo", "large", "twelve", "layouts", "points")  # made once, linked for each version
Results = list[dict[str, Any]]


@dataclass
class Version:
    """A source tree and its data folder; ``modules``: measuring modules that go first."""

    name: str
    tree: Path
    folder: Path
    modules: Path | None = None
    reason: str = field(default="", init=False)  # why it could not be measured

    def measure(self, row: str) -> Results | None:
        """Results of a row; None where they cannot be had, see ``reason``."""
        with tempfile.NamedTemporaryFile(suffix=".json") as target:
            environment = os.environ | {"PYTHONPATH": f"{self.tree / 'src'}:{ROOT}"}
            if self.modules is not None:
                environment[OLDER_MODULES] = str(self.modules)
            done = subprocess.run(
                [sys.executable, "-m", "bench.child", row, str(self.folder), target.name],
                env=environment, cwd=ROOT, check=False, stdout=subprocess.DEVNULL,
                stderr=subprocess.PIPE, text=True,
            )  # fmt: skip
            if done.returncode:
                self.reason = (done.stderr.strip().splitlines() or ["ended"])[-1]
                return None
            found: Results = json.loads(Path(target.name).read_text())
            return found


def compare_versions(revision: str, rows: list[str], folder: Path, rounds: int) -> int:
    """Measure each row in both versions and print old, new and ratio; exit status."""
    commit = _git("rev-parse", "--verify", "--short=10", f"{revision}^{{commit}}").strip()
    tree = _extract(commit, folder / "against" / commit)
    if any(ROWS[row].needs_page for row in rows):
        _build_page(tree)
    present = Version("now", ROOT, folder)
    failed = False
    for row in rows:
        _warm_up(present, row)
        _link_shared(folder, tree / "data")
        own = Version(commit, tree, tree / "data", tree / "bench")
        older = next(
            (v for v in (Version(commit, tree, tree / "data"), own) if v.measure(row) is not None),
            None,
        )
        if older is None:
            print(f"{row:<16} cannot be measured at {commit}: {own.reason}", flush=True)
            failed = True
            continue
        failed |= not _compare(row, older, present, rounds)
    return 1 if failed else 0


def _warm_up(version: Version, row: str) -> None:
    """Once unmeasured: data is made, kernels are compiled, files are in the page cache."""
    version.measure(row)


def _compare(row: str, older: Version, present: Version, rounds: int) -> bool:
    before: list[Results] = []
    after: list[Results] = []
    for _ in range(rounds):
        for version, found in ((older, before), (present, after)):
            results = version.measure(row)
            if results is None:
                print(f"{row:<16} cannot be measured at {version.name}: {version.reason}")
                return False
            found.append(results)
    for old, new in zip(zip(*before, strict=True), zip(*after, strict=True), strict=False):
        _print_pair(row, old, new, older)
    return True


def _print_pair(row: str, old: Any, new: Any, older: Version) -> None:
    """Medians of one result over the rounds, and their ratio."""
    was, now = median(r["ours"] for r in old), median(r["ours"] for r in new)
    unit, ratio = new[0]["unit"], now / was if was else float("nan")
    by = "" if older.modules is None else ", by its own bench"
    spread = " ".join(f"{a['ours']:.3g}/{b['ours']:.3g}" for a, b in zip(old, new, strict=True))
    print(f"{row:<16} {new[0]['what']}: {older.name} {was:,.3g} {unit}{by}; now {now:,.3g} {unit}; "
          f"ratio {ratio:.2f} (old/new of each round: {spread})", flush=True)  # fmt: skip


def _extract(commit: str, tree: Path) -> Path:
    """The older version's files, its kernels compiled."""
    if (tree / ".warm").exists():
        return tree
    tree.mkdir(parents=True, exist_ok=True)
    archive = subprocess.run(["git", "archive", commit], cwd=ROOT, check=True, capture_output=True)
    subprocess.run(["tar", "-x", "-C", str(tree)], input=archive.stdout, check=True)
    environment = os.environ | {"PYTHONPATH": str(tree / "src")}
    subprocess.run([sys.executable, "-m", "kitesort.launch", "warm"], env=environment, check=False)
    (tree / ".warm").touch()
    return tree


def _build_page(tree: Path) -> None:
    """The older front end, with the packages of the present one."""
    web = tree / "web"
    if (web / "dist").exists():
        return
    if not (web / "node_modules").exists():
        (web / "node_modules").symlink_to(ROOT / "web" / "node_modules")
    subprocess.run(["npx", "--no-install", "vite", "build"], cwd=web, check=True,
                   stdout=subprocess.DEVNULL)  # fmt: skip


def _link_shared(source: Path, target: Path) -> None:
    """Hard links: addresses inside the data folder stay inside it."""
    for name in SHARED:
        for path in (source / name).rglob("*"):
            there = target / path.relative_to(source)
            if path.is_file() and not there.exists():
                there.parent.mkdir(parents=True, exist_ok=True)
                os.link(path, there)


def _git(*arguments: str) -> str:
    done = subprocess.run(["git", *arguments], cwd=ROOT, check=True, capture_output=True, text=True)
    return done.stdout
