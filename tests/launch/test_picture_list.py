"""The list of reference pictures that ./run is given."""

import json
from pathlib import Path

import pytest

from kitesort.catalogue.pictures import PictureSource
from kitesort.launch.__main__ import main
from kitesort.launch.pictures import pictures_json
from kitesort.launch.postgres import LaunchError

ENTRY = {
    "id": "county-photo",
    "title": "County photo",
    "address": "https://tiles.example/photo/{z}/{x}/{y}.jpg",
    "source": "County survey",
}


def test_demo_picture_comes_first_and_needs_the_stand_in(tmp_path: Path) -> None:
    path = tmp_path / "pictures.json"
    path.write_text(json.dumps([ENTRY]))
    both = json.loads(pictures_json([path], 9000))
    assert [p["id"] for p in both] == ["demo-photo", "county-photo"]
    assert both[0]["address"].startswith("http://127.0.0.1:9000/")
    assert [p["id"] for p in json.loads(pictures_json([path], None))] == ["county-photo"]
    assert json.loads(pictures_json([], None)) == []


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("not json", "cannot be used"),
        ("{}", "cannot be used"),
        (json.dumps([ENTRY | {"max_level": 99}]), "max_level"),
        (json.dumps([ENTRY | {"id": "../x"}]), "id"),
        (json.dumps([ENTRY | {"unknown": 1}]), "unknown"),
        (json.dumps([{k: v for k, v in ENTRY.items() if k != "source"}]), "source"),
    ],
)
def test_list_that_cannot_be_used_is_told(tmp_path: Path, text: str, words: str) -> None:
    path = tmp_path / "pictures.json"
    path.write_text(text)
    with pytest.raises(LaunchError, match=words):
        pictures_json([path], None)


def test_start_with_a_list_that_is_not_there_ends_in_words(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    with pytest.raises(LaunchError, match="no-such"):
        pictures_json([tmp_path / "no-such.json"], None)
    assert main(["run", "--host", "0.0.0.0", "--pictures", "no-such.json"]) == 1
    assert "no sign-in yet" in capsys.readouterr().err


def test_only_known_words_in_an_address_are_filled_in() -> None:
    source = PictureSource.model_validate(ENTRY | {"address": "https://a.example/{Z}/{x}?k={key}"})
    assert source.tile_address(3, 4, 5) == "https://a.example/3/4?k={key}"
