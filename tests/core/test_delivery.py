from pathlib import Path

import numpy as np
import pytest

from kitesort.core.delivery import DeliveredScene, open_delivery, read_delivery
from kitesort.core.errors import MissingRoleError, UnreadableFileError
from kitesort.core.grid import Window
from support.small_scene import (
    BANDS,
    CLOUD,
    COLUMNS,
    FILL_COLUMNS,
    ROWS,
    SmallScene,
    write_small_scene,
)


@pytest.fixture(scope="module")
def scene(small_scene: SmallScene) -> DeliveredScene:
    return read_delivery(small_scene.metadata)


def test_metadata_is_understood(scene: DeliveredScene) -> None:
    assert scene.name == "SMALL_1"
    assert scene.acquired.isoformat() == "2024-06-01"
    assert scene.roles == ("blue", "red", "nir", "swir16")
    assert scene.flag_names == ("fill", "cloud")
    assert [f.first_bit for f in scene.flags_named(("fill", "cloud", "nonsense"))] == [0, 1]


def test_reflectance_comes_back_as_it_was_made(
    small_scene: SmallScene, scene: DeliveredScene
) -> None:
    block = open_delivery(scene).read(Window(0, 0, ROWS, COLUMNS))
    for band, (_, _, means) in enumerate(BANDS.values()):
        for code, mean in enumerate(means, start=1):
            inside = (small_scene.truth == code) & block.valid
            assert block.values[band][inside].mean() == pytest.approx(mean, abs=0.001)


def test_fill_and_cloud_are_left_out(scene: DeliveredScene) -> None:
    valid = open_delivery(scene).read(Window(0, 0, ROWS, COLUMNS)).valid
    expected = np.ones((ROWS, COLUMNS), bool)
    expected[:, :FILL_COLUMNS] = False
    expected[CLOUD] = False
    assert np.array_equal(valid, expected)


def test_clouds_can_be_looked_at(scene: DeliveredScene) -> None:
    assert open_delivery(scene, ("fill",)).read(Window(0, 100, 12, 24)).valid.all()


def test_role_that_is_not_there(scene: DeliveredScene) -> None:
    with pytest.raises(MissingRoleError, match="pan"):
        scene.file_of("pan")


def broken(tmp_path: Path, old: str, new: str) -> Path:
    metadata = write_small_scene(tmp_path / "s").metadata
    text = metadata.read_text()
    assert old in text
    metadata.write_text(text.replace(old, new))
    return metadata


@pytest.mark.parametrize(
    ("old", "new", "sentence"),
    [
        ("SENSOR = Test sensor\n", "", "does not give SENSOR"),
        ("SUN_ELEVATION = 50.0", "SUN_ELEVATION = high", "SUN_ELEVATION as “high”, which is not a"),
        ("SUN_ELEVATION = 50.0", "SUN_ELEVATION = -3", "impossible for sun elevation"),
        ("COMMON_NAME = nir", "COMMON_NAME = band 8", "no band's common name"),
        ("ACQUIRED = 2024-06-01", "ACQUIRED = yesterday", "gives ACQUIRED as “yesterday"),
        ("band_2.tif", "band_9.tif", r"names the file band_9\.tif"),
        ("band_2.tif", "../../etc/passwd", "names the file"),
        ("BAND_1_REFLECTANCE_GAIN", "BAND_1_GAIN", "BAND_1_REFLECTANCE_GAIN"),
    ],
)
def test_bad_metadata_is_told_in_words(tmp_path: Path, old: str, new: str, sentence: str) -> None:
    with pytest.raises(UnreadableFileError, match=sentence):
        read_delivery(broken(tmp_path, old, new))


def test_metadata_that_is_no_text(tmp_path: Path) -> None:
    path = tmp_path / "x_metadata.txt"
    path.write_bytes(b"\xff\xfe\x00\x81")
    with pytest.raises(UnreadableFileError, match="as text"):
        read_delivery(path)


def test_metadata_of_absurd_size(tmp_path: Path) -> None:
    path = tmp_path / "x_metadata.txt"
    path.write_bytes(b"A = 1\n" * 4_000_000)
    with pytest.raises(UnreadableFileError, match="too large"):
        read_delivery(path)
