import json
import resource
import shutil
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import rasterio

from kitesort.core.engine import Progress, Watch
from kitesort.core.errors import CancelledError, DiskFullError, StorageError
from kitesort.core.legend import LegendEntry
from kitesort.core.raster import class_file, keeping
from kitesort.core.raster.class_file import CLASSES_TAG, write_class_map
from support.arrays import ArrayRaster

LEGEND = (
    LegendEntry(1, "Water", "#332288"),
    LegendEntry(2, "Röhricht", "#ddcc77"),
    LegendEntry(255, "Unclassified", "#8d8d8d"),
)


@pytest.fixture
def codes() -> ArrayRaster:
    rng = np.random.default_rng(1)
    values = rng.choice([1, 2, 255], (1, 700, 900)).astype(np.float32)
    return ArrayRaster(values, rng.random((700, 900)) > 0.2, ("class",))


@pytest.fixture
def target(tmp_path: Path) -> Path:
    folder = tmp_path / "layers"
    folder.mkdir()
    return folder / "map.tif"


def test_pixels_and_grid_come_back(codes: ArrayRaster, target: Path) -> None:
    write_class_map(codes, LEGEND, target)
    with rasterio.open(target) as dataset:
        assert dataset.crs.to_epsg() == 32625
        assert dataset.transform == codes.grid.transform
        assert dataset.nodata == 0
        assert dataset.dtypes == ("uint8",)
        expected = np.where(codes.valid, codes.values[0], 0)
        assert np.array_equal(dataset.read(1), expected)


def test_names_and_colours_are_inside(codes: ArrayRaster, target: Path) -> None:
    write_class_map(codes, LEGEND, target, tags={"recipe": '{"seed": 0}'})
    with rasterio.open(target) as dataset:
        colours = dataset.colormap(1)
        assert colours[1] == (0x33, 0x22, 0x88, 255)
        assert colours[255] == (0x8D, 0x8D, 0x8D, 255)
        assert colours[0][3] == 0
        named = {c["value"]: c["name"] for c in json.loads(dataset.tags()[CLASSES_TAG])}
        assert named == {0: "No data", 1: "Water", 2: "Röhricht", 255: "Unclassified"}
        assert dataset.tags(1)["class_2"] == "Röhricht"
        assert json.loads(dataset.tags()["recipe"]) == {"seed": 0}


def test_it_is_cloud_optimized(codes: ArrayRaster, target: Path) -> None:
    write_class_map(codes, LEGEND, target)
    with rasterio.open(target) as dataset:
        assert dataset.tags(ns="IMAGE_STRUCTURE")["LAYOUT"] == "COG"
        assert dataset.overviews(1) == [2]
        assert dataset.block_shapes == [(512, 512)]


def test_overviews_hold_known_codes_only(codes: ArrayRaster, target: Path) -> None:
    write_class_map(codes, LEGEND, target)
    with rasterio.open(target, overview_level=0) as dataset:
        assert set(np.unique(dataset.read(1))) <= {0, 1, 2, 255}


def test_areas_are_counted(codes: ArrayRaster, target: Path) -> None:
    result = write_class_map(codes, LEGEND, target)
    for code in (1, 2, 255):
        n = int(((codes.values[0] == code) & codes.valid).sum())
        assert result.pixels[code] == n
        assert result.hectares[code] == pytest.approx(n * 0.01, rel=1e-3)
    assert result.pixels[0] == int((~codes.valid).sum())


@pytest.mark.parametrize("block_size", [64, 333, 4096])
def test_block_size_does_not_show(codes: ArrayRaster, target: Path, block_size: int) -> None:
    write_class_map(codes, LEGEND, target, block_size=block_size)
    with rasterio.open(target) as dataset:
        assert np.array_equal(
            dataset.read(1), np.where(codes.valid, codes.values[0], 0), equal_nan=True
        )


def test_same_input_same_bytes(codes: ArrayRaster, target: Path) -> None:
    write_class_map(codes, LEGEND, target)
    first = target.read_bytes()
    write_class_map(codes, LEGEND, target)
    assert target.read_bytes() == first


def test_progress_ends_at_one(codes: ArrayRaster, target: Path) -> None:
    steps: list[Progress] = []
    write_class_map(codes, LEGEND, target, block_size=256, watch=Watch(steps.append))
    shares = [step.done for step in steps]
    assert shares == sorted(shares)
    assert shares[-1] == 1.0


def fail_cancelled(codes: ArrayRaster, target: Path, _: pytest.MonkeyPatch) -> None:
    write_class_map(codes, LEGEND, target, block_size=64, watch=Watch(is_cancelled=lambda: True))


def fail_in_block(codes: ArrayRaster, target: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    def broken(*_: object) -> None:
        raise StorageError("the block could not be read")

    monkeypatch.setattr(ArrayRaster, "read", broken)
    write_class_map(codes, LEGEND, target)


def fail_reading_back(codes: ArrayRaster, target: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(class_file, "_is_described", lambda *_: False)
    write_class_map(codes, LEGEND, target)


def fail_for_space(codes: ArrayRaster, target: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    usage = shutil.disk_usage(target.parent)
    monkeypatch.setattr(shutil, "disk_usage", lambda _: usage._replace(free=1000))
    write_class_map(codes, LEGEND, target)


@pytest.mark.parametrize(
    ("fail", "error"),
    [
        (fail_cancelled, CancelledError),
        (fail_in_block, StorageError),
        (fail_reading_back, StorageError),
        (fail_for_space, DiskFullError),
    ],
)
def test_failing_leaves_what_was_there_and_nothing_else(
    codes: ArrayRaster,
    target: Path,
    monkeypatch: pytest.MonkeyPatch,
    fail: Callable[[ArrayRaster, Path, pytest.MonkeyPatch], None],
    error: type[Exception],
) -> None:
    target.write_bytes(b"an older map")
    with pytest.raises(error):
        fail(codes, target, monkeypatch)
    assert [p.name for p in target.parent.iterdir()] == ["map.tif"]
    assert target.read_bytes() == b"an older map"


WRITE_UNDER_LIMIT = """
import sys
import numpy as np
from pathlib import Path
from kitesort.core.errors import StorageError
from kitesort.core.legend import LegendEntry
from kitesort.core.raster.class_file import write_class_map
from support.arrays import ArrayRaster

rng = np.random.default_rng(0)
values = rng.integers(1, 250, (1, 1500, 1500)).astype(np.float32)
raster = ArrayRaster(values, np.ones((1500, 1500), bool), ("class",))
try:
    write_class_map(raster, (LegendEntry(1, "Water", "#332288"),), Path(sys.argv[1]))
except StorageError as error:
    print(error.sentence)
"""


def test_a_write_that_the_system_refuses_midway(target: Path) -> None:
    """A real refusal: the process may write files of 200 kB at most, the map needs 2 MB."""

    def limit() -> None:
        resource.setrlimit(resource.RLIMIT_FSIZE, (200_000, 200_000))

    done = subprocess.run(
        [sys.executable, "-W", "ignore", "-c", WRITE_UNDER_LIMIT, str(target)],
        capture_output=True, text=True, check=False, preexec_fn=limit,
        env={"PYTHONPATH": ":".join(sys.path), "PATH": "/usr/bin", "NUMBA_CACHE_DIR": "/tmp"},
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    assert "nothing" in done.stdout.lower()
    assert list(target.parent.iterdir()) == []


def test_a_pixel_that_is_not_what_was_written_is_found(
    codes: ArrayRaster, target: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Anywhere in the file, not only in its last row."""
    lay_out = keeping._lay_out

    def spoil(working: Path, *rest: Any) -> None:
        with rasterio.open(working, "r+") as dataset:
            band = dataset.read(1)
            band[350, 450] = 77
            dataset.write(band, 1)
        lay_out(working, *rest)

    monkeypatch.setattr(keeping, "_lay_out", spoil)
    with pytest.raises(StorageError, match="does not read back as it should"):
        write_class_map(codes, LEGEND, target)
    assert list(target.parent.iterdir()) == []
