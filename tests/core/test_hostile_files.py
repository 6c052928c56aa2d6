"""Files that are broken, lie about themselves, or mean harm: told in words, and nothing else."""

import io
import os
import tarfile
import zipfile
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from affine import Affine

from kitesort.core.bands import Band
from kitesort.core.delivery.archive import is_archive, safe_path, unpack
from kitesort.core.delivery.inventory import FoundFile, take_inventory
from kitesort.core.delivery.recognise import recognise
from kitesort.core.errors import (
    BadSettingsError,
    DiskFullError,
    InputError,
    KiteSortError,
    UnreadableFileError,
)
from kitesort.core.raster.file import FileRaster
from support.deliveries import CRS, numbers, write_raster, write_sentinel_2a

VIRTUAL = """<VRTDataset rasterXSize="4" rasterYSize="4"><VRTRasterBand dataType="Byte" band="1">
<SimpleSource><SourceFilename relativeToVRT="0">{path}</SourceFilename></SimpleSource>
</VRTRasterBand></VRTDataset>"""


def look(folder: Path) -> FoundFile:
    [file] = take_inventory(folder).files
    return file


@pytest.mark.parametrize(
    ("name", "content", "sentence"),
    [
        ("x.tif", b"", "empty"),
        ("x.tif", b"II*\0", "cut short or of another format"),
        ("x.tif", b"PK\x03\x04 a zip", "whatever its name says"),
        ("x.jp2", b"\x89PNG\r\n\x1a\n", "whatever its name says"),
        ("x.tif", b"/vsicurl/http://example.invalid/x.tif", "whatever its name says"),
        ("x.jp2", b"\0\0\0\x0cjP  \r\n\x87\n" + b"\0" * 40, "cut short or of another format"),
    ],
)
def test_files_that_are_not_what_they_say(
    tmp_path: Path, name: str, content: bytes, sentence: str
) -> None:
    (tmp_path / name).write_bytes(content)
    file = look(tmp_path)
    assert file.problem is not None and sentence in file.problem
    assert recognise(take_inventory(tmp_path)).scenes == ()


def test_a_virtual_file_is_never_opened(tmp_path: Path) -> None:
    """A raster library would follow the path inside, under whatever name."""
    secret = write_raster(tmp_path / "elsewhere" / "secret.tif", numbers(7, 4), 10)
    folder = tmp_path / "delivery"
    folder.mkdir()
    for name in ("x.tif", "x.vrt"):
        (folder / name).write_text(VIRTUAL.format(path=secret))
        with pytest.raises(UnreadableFileError):
            _ = FileRaster(str(folder / name), (Band("red"),)).grid


def test_a_cut_file_is_told_when_it_is_read(tmp_path: Path) -> None:
    path = write_raster(tmp_path / "x.tif", np.arange(90_000, dtype=np.uint16).reshape(300, 300), 9)
    whole = path.read_bytes()
    path.write_bytes(whole[: len(whole) // 2])
    with pytest.raises(UnreadableFileError, match="cut short"):
        raster = FileRaster(str(path), (Band("red"),))
        raster.read(raster.grid.whole)


@pytest.mark.parametrize(
    ("options", "dtype", "sentence"),
    [
        ({"transform": Affine(10, 3, 5e5, 3, -10, 5.5e6)}, np.uint16, "rotated"),
        ({"transform": Affine(10, 0, 5e5, 0, 10, 5.5e6)}, np.uint16, "upside down"),
        ({"transform": Affine.identity()}, np.uint16, "no place on the ground"),
        ({}, np.complex64, "complex numbers"),
    ],
)
def test_rasters_that_cannot_be_measured_in(
    tmp_path: Path, options: dict[str, object], dtype: type, sentence: str
) -> None:
    write_raster(tmp_path / "x.tif", np.ones((4, 4), dtype), 10, **options)
    problem = look(tmp_path).problem
    assert problem is not None and sentence in problem


def test_no_crs_is_asked_for(tmp_path: Path) -> None:
    write_raster(tmp_path / "red_20230101.tif", numbers(3, 5), 10, crs=None)
    [found] = recognise(take_inventory(tmp_path)).scenes
    assert found.questions == ("Give the coordinate system: the file names none.",)
    band = found.scene.open_band(found.scene.bands[0])
    with pytest.raises(InputError, match="no coordinate system"):
        _ = band.grid
    placed = found.scene.model_copy(update={"crs": CRS})
    assert placed.open_band(placed.bands[0]).grid.crs == CRS


def test_a_file_of_one_enormous_piece(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    write_raster(tmp_path / "x.tif", numbers(3, 64), 10, blockysize=64)
    monkeypatch.setattr("kitesort.core.raster.file.MAX_BLOCK_BYTES", 64)
    problem = look(tmp_path).problem
    assert problem is not None and "too large to be read safely" in problem


def test_enormous_declared_size(tmp_path: Path) -> None:
    """A sparse file of a few kilobytes that says it has 160 thousand million pixels."""
    import rasterio

    path = tmp_path / "x.tif"
    with rasterio.open(
        path, "w", driver="GTiff", width=400_000, height=400_000, count=1, dtype="uint8", crs=CRS,
        transform=Affine(1, 0, 0, 0, -1, 0), tiled=True, blockxsize=2048, blockysize=2048,
        sparse_ok=True, bigtiff="yes",
    ):  # fmt: skip
        pass
    problem = look(tmp_path).problem
    assert problem is not None and "more than can be worked with" in problem


@pytest.mark.parametrize(
    ("side", "count", "sentence"),
    [(200_000, 1, "37 GiB of pixels"), (20_000, 12, "4 GiB of pixels"), (20_000, 1, None)],
)
def test_a_small_file_that_says_it_is_enormous(
    tmp_path: Path, side: int, count: int, sentence: str | None
) -> None:
    """Sparse: no pixel of it is stored. One whose pixels can be had in a moment is taken."""
    import rasterio

    path = tmp_path / "x.tif"
    with rasterio.open(
        path, "w", driver="GTiff", width=side, height=side, count=count, dtype="uint8", crs=CRS,
        transform=Affine(10, 0, 0, 0, -10, 0), tiled=True, blockxsize=4096, blockysize=4096,
        sparse_ok=True, interleave="band",
    ):  # fmt: skip
        pass
    problem = look(tmp_path).problem
    assert (problem is None) == (sentence is None)
    assert sentence is None or (sentence in str(problem) and "cannot be" in str(problem))


def test_one_enormous_piece_of_all_bands_together(tmp_path: Path) -> None:
    """300 bands pixel by pixel in one compressed strip: any look would unpack all of it."""
    import rasterio

    path = tmp_path / "x.tif"
    with rasterio.open(
        path, "w", driver="GTiff", width=1_000, height=1_000, count=300, dtype="uint8", crs=CRS,
        transform=Affine(10, 0, 0, 0, -10, 0), blockysize=1_000, compress="deflate",
        sparse_ok=True, interleave="pixel",
    ):  # fmt: skip
        pass
    assert "too large to be read safely" in str(look(tmp_path).problem)


def test_links_out_of_the_folder_are_not_followed(tmp_path: Path) -> None:
    secret = write_raster(tmp_path / "secret.tif", numbers(7, 4), 10)
    folder = tmp_path / "delivery"
    write_raster(folder / "own.tif", numbers(7, 4), 10)
    (folder / "link.tif").symlink_to(secret)
    (folder / "up").symlink_to(tmp_path)
    assert [f.path for f in take_inventory(folder).files] == ["own.tif"]


def test_too_many_files(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    for i in range(4):
        (tmp_path / f"{i}.txt").touch()
    monkeypatch.setattr("kitesort.core.delivery.inventory.MAX_FILES", 3)
    with pytest.raises(InputError, match="more than 3 files"):
        take_inventory(tmp_path)


def test_an_empty_folder(tmp_path: Path) -> None:
    with pytest.raises(InputError, match="no file"):
        take_inventory(tmp_path)


@pytest.mark.parametrize(
    ("old", "new"),
    [
        ("<?xml", "<!DOCTYPE x [<!ENTITY a SYSTEM 'file:///etc/passwd'>]><?xml"),
        ("</n1:Level-2A_User_Product>", ""),
        ("10000</BOA", "many</BOA"),
    ],
)
def test_xml_that_reaches_elsewhere_or_is_broken(tmp_path: Path, old: str, new: str) -> None:
    metadata = write_sentinel_2a(tmp_path)
    metadata.write_text(metadata.read_text().replace(old, new))
    found = recognise(take_inventory(tmp_path))
    assert all(r.questions for r in found.scenes), "the bands are left as loose files"
    assert any(metadata.name in problem for problem in found.problems)


@pytest.mark.parametrize(
    "name", ["../x", "/etc/passwd", "a/../../x", "..\\x", "C:\\x", ".hidden", "a/.b/c", "", "a\nb",
             "x/" * 40 + "y", "a" * 500]
)  # fmt: skip
def test_names_that_lead_elsewhere(name: str) -> None:
    with pytest.raises(BadSettingsError, match="no plain file name"):
        safe_path(name)
    assert str(safe_path("a/./b c/d.tif")) == "a/b c/d.tif"


def make_zip(path: Path, members: dict[str, bytes], **info: int) -> Path:
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as packed:
        for name, content in members.items():
            entry = zipfile.ZipInfo(name)
            entry.compress_type = zipfile.ZIP_DEFLATED
            entry.external_attr = info.get("mode", 0o100644) << 16
            packed.writestr(entry, content)
    return path


def make_tar(path: Path, members: dict[str, bytes], kind: bytes = tarfile.REGTYPE) -> Path:
    with tarfile.open(path, "w:gz") as packed:
        for name, content in members.items():
            entry = tarfile.TarInfo(name)
            entry.type, entry.size = kind, len(content) if kind == tarfile.REGTYPE else 0
            entry.linkname = "/etc/passwd"
            packed.addfile(entry, io.BytesIO(content))
    return path


@pytest.mark.parametrize("make", [make_zip, make_tar])
def test_archives_are_unpacked_with_their_folders(
    tmp_path: Path, make: Callable[[Path, dict[str, bytes]], Path]
) -> None:
    name = "x.zip" if make is make_zip else "x.tar.gz"
    archive = make(tmp_path / name, {"a/b/c.txt": b"hello", "d.txt": b"world"})
    assert is_archive(archive)
    assert unpack(archive, tmp_path / "out") == 2
    assert (tmp_path / "out" / "a" / "b" / "c.txt").read_bytes() == b"hello"


@pytest.mark.parametrize(
    ("archive", "error"),
    [
        (lambda p: make_zip(p / "x.zip", {"ok.txt": b"1", "../out.txt": b"2"}), BadSettingsError),
        (lambda p: make_zip(p / "x.zip", {"link": b"/etc/passwd"}, mode=0o120777),
         UnreadableFileError),
        (lambda p: make_tar(p / "x.tgz", {"../x": b"2"}), BadSettingsError),
        (lambda p: make_tar(p / "x.tgz", {"link": b""}, tarfile.SYMTYPE), UnreadableFileError),
        (lambda p: make_tar(p / "x.tgz", {"dev": b""}, tarfile.CHRTYPE), UnreadableFileError),
        (lambda p: make_zip(p / "x.zip", {}), UnreadableFileError),
    ],
)  # fmt: skip
def test_archives_that_reach_out_leave_nothing(
    tmp_path: Path, archive: Callable[[Path], Path], error: type[KiteSortError]
) -> None:
    before = archive(tmp_path)
    with pytest.raises(error):
        unpack(before, tmp_path / "deep" / "out")
    assert [p.name for p in tmp_path.iterdir() if p.is_file()] == [before.name]
    assert not (tmp_path / "deep" / "out").exists()


def test_a_bomb_is_not_unpacked(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("kitesort.core.delivery.archive.FREE_RATIO_BYTES", 2**20)
    archive = make_zip(tmp_path / "x.zip", {"zeros.bin": bytes(40 * 2**20)})
    with pytest.raises(UnreadableFileError, match="far more than its size"):
        unpack(archive, tmp_path / "out")
    assert not (tmp_path / "out").exists()


def test_an_archive_that_does_not_fit(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("kitesort.core.delivery.archive.RESERVE_BYTES", 10**18)
    with pytest.raises(DiskFullError, match="no room"):
        unpack(make_zip(tmp_path / "x.zip", {"a": b"1"}), tmp_path / "out")


@pytest.mark.parametrize("cut", [30, 60])
def test_a_cut_archive(tmp_path: Path, cut: int) -> None:
    archive = make_tar(tmp_path / "x.tar.gz", {"a.bin": os.urandom(5000)})
    archive.write_bytes(archive.read_bytes()[: -cut * 40])
    with pytest.raises(UnreadableFileError, match="damaged, cut short"):
        unpack(archive, tmp_path / "out")
