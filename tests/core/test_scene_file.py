import json
from pathlib import Path

import numpy as np
import pytest
import rasterio

from kitesort.core.engine import Progress, Watch
from kitesort.core.errors import CancelledError, DiskFullError
from kitesort.core.raster.file import FileRaster
from kitesort.core.raster.scene_file import write_scene
from support.arrays import random_raster


def test_a_kept_scene_reads_back_pixel_for_pixel(tmp_path: Path) -> None:
    source = random_raster(70, 90)
    seen: list[float] = []
    kept = write_scene(
        source, tmp_path / "x.tif", tags={"recipe": "{}"}, block_size=32,
        watch=Watch(lambda p: seen.append(p.done)),
    )  # fmt: skip
    assert (kept.n_valid, kept.n_pixels) == (int(source.valid.sum()), 6300)
    again = FileRaster(str(tmp_path / "x.tif"), source.bands, np.nan)
    block = again.read(again.grid.whole)
    assert again.grid == source.grid
    assert np.array_equal(block.valid, source.valid)
    assert np.array_equal(block.values[:, block.valid], source.values[:, source.valid])
    assert seen == sorted(seen) and seen[-1] == 1


def test_it_says_what_it_is(tmp_path: Path) -> None:
    source = random_raster(600, 700)
    write_scene(source, tmp_path / "x.tif", tags={"recipe": json.dumps({"a": 1})})
    with rasterio.open(tmp_path / "x.tif") as dataset:
        assert dataset.tags(ns="IMAGE_STRUCTURE")["LAYOUT"] == "COG"
        assert dataset.descriptions == ("blue", "green", "red")
        assert np.isnan(dataset.nodata) and dataset.dtypes == ("float32",) * 3
        assert json.loads(dataset.tags()["recipe"]) == {"a": 1}
        assert dataset.overviews(1) == [2]


@pytest.mark.parametrize("block_size", [16, 50, 1024])
def test_the_same_bytes_whatever_the_block(tmp_path: Path, block_size: int) -> None:
    source = random_raster(64, 80)
    write_scene(source, tmp_path / "a.tif")
    write_scene(source, tmp_path / "b.tif", block_size=block_size)
    with rasterio.open(tmp_path / "a.tif") as a, rasterio.open(tmp_path / "b.tif") as b:
        assert np.array_equal(a.read(), b.read(), equal_nan=True)


def test_cancelling_leaves_nothing(tmp_path: Path) -> None:
    done: list[Progress] = []
    with pytest.raises(CancelledError):
        write_scene(
            random_raster(64, 64), tmp_path / "x.tif", block_size=16,
            watch=Watch(done.append, lambda: len(done) > 2),
        )  # fmt: skip
    assert list(tmp_path.iterdir()) == []


def test_no_room(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("kitesort.core.storage.MIN_FREE_BYTES", 10**18)
    with pytest.raises(DiskFullError):
        write_scene(random_raster(8, 8), tmp_path / "x.tif")
    assert list(tmp_path.iterdir()) == []
