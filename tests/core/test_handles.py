"""Files that are open at once, against what the system allows."""

import os
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest

from support.small_scene import write_band

# Forty threads, each reading thirty files, in a process that may have 512 descriptors.
READ = """
import os, resource, sys, threading
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
resource.setrlimit(resource.RLIMIT_NOFILE, (512, 512))
from kitesort.core.bands import Band
from kitesort.core.raster.file import FileRaster
paths = sorted(Path(sys.argv[1]).glob("*.tif"))
together = threading.Barrier(40)
def look(_):
    together.wait()
    for path in paths:
        raster = FileRaster(str(path), (Band("red"),))
        assert raster.read(raster.grid.whole).values[0, 0, 0] == 5
    together.wait()
    return len(os.listdir("/proc/self/fd"))
with ThreadPoolExecutor(40) as pool:
    print(max(pool.map(look, range(40))))
from kitesort.core.raster import handles
print(handles.bound())
"""


@pytest.mark.thorough
def test_forty_readers_keep_within_what_the_system_allows(tmp_path: Path) -> None:
    for i in range(30):
        write_band(tmp_path / f"{i}.tif", np.full((8, 8), 5, np.uint16), 10, nodata=0)
    done = subprocess.run(
        [sys.executable, "-c", READ, str(tmp_path)],
        capture_output=True,
        text=True,
        check=False,
        env=os.environ | {"PYTHONPATH": "src"},
    )
    assert done.returncode == 0, done.stderr
    most, bound = (int(line) for line in done.stdout.split())
    assert bound == 256
    assert most <= 512
