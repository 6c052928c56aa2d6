"""Every row of the bench runs, on data so small that its numbers mean nothing."""

import os
import subprocess
import sys
from pathlib import Path

import pytest
from bench.rows import ROWS

from kitesort.demo.generate import DemoStudy

ROOT = Path(__file__).parents[2]
IN_PROCESS = ("in-memory", "methods", "clusters", "tidy", "polygons", "whole-run", "whole-runs",
              "keep-scene", "keep-index", "keep-components", "keep-stripes", "keep-sharpened",
              "first-look")  # fmt: skip
SERVED = tuple(name for name in ROWS if name not in IN_PROCESS)


@pytest.mark.slow("It starts a process for each program that is measured.")
@pytest.mark.thorough
@pytest.mark.parametrize("rows", [IN_PROCESS, SERVED], ids=["in process", "served"])
def test_every_row_runs(rows: tuple[str, ...], run_folder: Path, demo: DemoStudy) -> None:
    (run_folder / "demo").symlink_to(demo.folder)
    done = subprocess.run(
        [sys.executable, "-m", "bench", "--tiny", "--folder", str(run_folder), *rows],
        cwd=ROOT, env=os.environ | {"PYTHONPATH": f"{ROOT / 'src'}:{ROOT}"}, check=False,
        capture_output=True, text=True,
    )  # fmt: skip
    assert done.returncode == 0, done.stdout + done.stderr
    measured = {line.split()[0] for line in done.stdout.splitlines() if ":" in line}
    assert measured >= set(rows)


def test_every_row_says_what_it_stands_beside() -> None:
    assert all(row.compared_with for row in ROWS.values())
