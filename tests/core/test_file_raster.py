from pathlib import Path

import numpy as np
import pytest
import rasterio

from kitesort.core.bands import Band
from kitesort.core.errors import InputError, MissingRoleError, UnreadableFileError
from kitesort.core.grid import Window
from kitesort.core.raster.file import FileRaster
from support.small_scene import write_band

RED = (Band("red"),)


@pytest.fixture
def ramp(tmp_path: Path) -> Path:
    """200 × 300 pixels, each its own number, with overviews of 2 and 4."""
    path = tmp_path / "ramp.tif"
    write_band(path, np.arange(60_000, dtype=np.uint16).reshape(200, 300), 10, nodata=0)
    with rasterio.open(path, "r+") as dataset:
        dataset.build_overviews([2, 4], rasterio.enums.Resampling.nearest)
    return path


def test_window_is_read_as_it_lies(ramp: Path) -> None:
    block = FileRaster(str(ramp), RED).read(Window(3, 5, 2, 4))
    expected = (np.arange(2)[:, None] + 3) * 300 + np.arange(4) + 5
    assert block.values.dtype == np.float32
    assert np.array_equal(block.values[0], expected, equal_nan=True)
    assert block.valid.all()


def test_nodata_is_not_valid(ramp: Path) -> None:
    assert not FileRaster(str(ramp), RED).read(Window(0, 0, 1, 2)).valid[0, 0]
    assert FileRaster(str(ramp), RED).read(Window(0, 0, 1, 2)).valid[0, 1]


def test_given_nodata_and_saturation_override(ramp: Path) -> None:
    block = FileRaster(str(ramp), RED, nodata=2, saturated=3).read(Window(0, 0, 1, 5))
    assert block.valid.tolist() == [[True, True, False, False, True]]


@pytest.mark.parametrize("marker", [np.nan, np.inf, -np.inf])
def test_what_is_no_number_is_not_valid(tmp_path: Path, marker: float) -> None:
    data = np.ones((16, 16), np.float32)
    data[3, 4] = marker
    write_band(tmp_path / "f.tif", data, 10)
    valid = FileRaster(str(tmp_path / "f.tif"), RED).read(Window(0, 0, 16, 16)).valid
    assert not valid[3, 4]
    assert valid.sum() == 255


@pytest.mark.parametrize("step", [2, 4])
def test_coarse_view_comes_from_the_overview(ramp: Path, step: int) -> None:
    raster = FileRaster(str(ramp), RED)
    coarse = raster.read(Window(0, 0, 200, 300), shape=(200 // step, 300 // step))
    with rasterio.open(ramp, overview_level=step // 2 - 1) as dataset:
        wanted = dataset.read(1).astype(np.float32)
        wanted[wanted == dataset.nodata] = np.nan
        assert np.array_equal(coarse.values[0], wanted, equal_nan=True)


def test_finer_than_native_repeats_pixels(ramp: Path) -> None:
    block = FileRaster(str(ramp), RED).read(Window(10, 10, 2, 2), shape=(4, 4))
    whole = FileRaster(str(ramp), RED).read(Window(10, 10, 2, 2))
    assert np.array_equal(
        block.values[0], whole.values[0].repeat(2, 0).repeat(2, 1), equal_nan=True
    )


def test_span_beyond_the_file_is_not_valid(ramp: Path) -> None:
    block = FileRaster(str(ramp), RED).read_span((-2, 2), (298, 302), (4, 4))
    assert block.valid.tolist() == [[False] * 4] * 2 + [[True, True, False, False]] * 2


def test_missing_role_is_named(ramp: Path) -> None:
    with pytest.raises(MissingRoleError, match=r"role nir.*It has red"):
        FileRaster(str(ramp), RED).read(Window(0, 0, 1, 1), ("nir",))


@pytest.mark.parametrize(
    "content",
    [b"", b"II*\0", b"not a picture at all", b"<VRTDataset></VRTDataset>", b"\x89PNG\r\n\x1a\n"],
)
def test_foreign_content_is_refused_whatever_its_name(tmp_path: Path, content: bytes) -> None:
    path = tmp_path / "band.tif"
    path.write_bytes(content)
    with pytest.raises(UnreadableFileError, match=r"band\.tif cannot be read"):
        _ = FileRaster(str(path), RED).grid


def test_truncated_file_is_told_in_words(ramp: Path) -> None:
    content = ramp.read_bytes()
    ramp.write_bytes(content[: len(content) // 2])
    with pytest.raises(UnreadableFileError, match="ramp"):
        FileRaster(str(ramp), RED).read(Window(0, 0, 200, 300))


def test_file_that_has_gone(tmp_path: Path) -> None:
    with pytest.raises(UnreadableFileError, match="not there any more"):
        _ = FileRaster(str(tmp_path / "gone.tif"), RED).grid


def test_file_without_coordinate_system(tmp_path: Path) -> None:
    write_band(tmp_path / "bare.tif", np.ones((4, 4), np.uint8), 10, crs=None)
    with pytest.raises(InputError, match="no coordinate system"):
        _ = FileRaster(str(tmp_path / "bare.tif"), RED).grid


def test_nothing_is_written_beside_the_file(ramp: Path) -> None:
    before = sorted(p.name for p in ramp.parent.iterdir())
    FileRaster(str(ramp), RED).read(Window(0, 0, 200, 300), shape=(20, 30))
    assert sorted(p.name for p in ramp.parent.iterdir()) == before


def test_a_rewritten_file_has_another_fingerprint_and_is_read_anew(ramp: Path) -> None:
    raster = FileRaster(str(ramp), RED)
    before = raster.fingerprint
    assert raster.read(Window(1, 1, 1, 1)).values[0, 0, 0] == 301
    write_band(ramp, np.full((200, 300), 9, np.uint16), 10)
    assert raster.fingerprint != before
    assert FileRaster(str(ramp), RED).read(Window(1, 1, 1, 1)).values[0, 0, 0] == 9


def test_a_file_without_overviews_is_unpacked_once_for_all_coarse_views(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from kitesort.core.raster import coarse

    monkeypatch.setattr(coarse, "COARSE_SIDE", 32)
    data = np.arange(100 * 120, dtype=np.uint16).reshape(100, 120) + 1
    data[:8] = 0
    write_band(tmp_path / "x.tif", data, 10)
    raster = FileRaster(str(tmp_path / "x.tif"), (Band("red"),), nodata=0)
    made: list[int] = []
    original = coarse.coarse_factor
    monkeypatch.setattr(coarse, "coarse_factor", lambda *a: made.append(1) or original(*a))
    views = [raster.read(raster.grid.whole, None, (20, 24)) for _ in range(3)]
    assert len(made) == 1, "the copy was made once"
    assert all(np.array_equal(v.values, views[0].values, equal_nan=True) for v in views)
    assert not views[0].valid[0].any() and views[0].valid[2:].all()
    # Every sample is one of the file's own pixels, near where it stands for.
    rows, columns = np.divmod(views[0].values[0][3:].astype(int) - 1, 120)
    expected_rows = (np.arange(3, 20) + 0.5)[:, None] * 5
    expected_columns = (np.arange(24) + 0.5)[None] * 5
    assert np.abs(rows - expected_rows).max() <= 4
    assert np.abs(columns - expected_columns).max() <= 4
    native = raster.read(Window(50, 60, 4, 4))
    assert np.array_equal(native.values[0], data[50:54, 60:64], equal_nan=True)
