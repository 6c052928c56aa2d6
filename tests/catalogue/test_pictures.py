"""Reference pictures: only from allowed addresses, and in words when they do not answer."""

import io
import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import requests
from fastapi.testclient import TestClient
from PIL import Image

from kitesort.api.main import create_app
from kitesort.catalogue import pictures
from kitesort.core.errors import InputError, NotFoundError
from kitesort.demo.generate import DemoStudy
from kitesort.launch.pictures import pictures_json
from kitesort.launch.postgres import LaunchError
from support.catalogue import fill_catalogue, misbehaving, served_catalogue
from support.study import SmallStudy

HERE = {"id": "here", "title": "Fine photo", "source": "made up", "taken": "2023-05-01"}


def offer(monkeypatch: pytest.MonkeyPatch, address: str, **more: Any) -> None:
    monkeypatch.setenv("KITESORT_PICTURES", json.dumps([HERE | {"address": address} | more]))
    monkeypatch.setattr(pictures, "_failures", {})
    pictures._fetch_tile.forget()


def ask_tile(s: SmallStudy) -> tuple[int, Any, list[dict[str, Any]]]:
    """A tile's status and content, and the list of pictures afterwards."""
    with TestClient(create_app(), "http://127.0.0.1", raise_server_exceptions=False) as client:
        answer = client.get(f"/api/pictures/here/tiles/0/0/0.png?study_id={s.id}")
        listed = client.get(f"/api/studies/{s.id}/pictures").json()
        is_picture = answer.headers["content-type"] == "image/png"
        return answer.status_code, answer.content if is_picture else answer.json(), listed


def png(colour: tuple[int, int, int]) -> bytes:
    buffer = io.BytesIO()
    Image.new("RGB", (256, 256), colour).save(buffer, "PNG")
    return buffer.getvalue()


def test_picture_is_fetched_and_shown_with_date_and_source(
    small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    with misbehaving(200, png((10, 20, 30))) as address:
        offer(monkeypatch, f"{address}{{z}}/{{x}}/{{y}}.png", max_level=14)
        status, content, listed = ask_tile(small_study)
    assert status == 200
    assert tuple(np.asarray(Image.open(io.BytesIO(content)))[40, 40]) == (10, 20, 30, 255)
    assert (listed[0]["taken"], listed[0]["source"]) == ("2023-05-01", "made up")
    assert listed[0]["problem"] is None
    assert listed[0]["grid"]["crs"] == "EPSG:32625", "on the study's own ground"


@pytest.mark.parametrize("status", [500, 403])
def test_address_that_fails_is_told_and_left_alone(
    small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch, status: int
) -> None:
    with misbehaving(status, b"no") as address:
        offer(monkeypatch, f"{address}{{z}}/{{x}}/{{y}}.png")
        got, problem, listed = ask_tile(small_study)
    assert got == 502
    assert "does not answer just now" in problem["detail"]
    assert listed[0]["problem"] == problem["detail"]


def test_slow_address_does_not_hold_anyone_up(
    small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(pictures, "TIMEOUT_SECONDS", (0.5, 0.3))
    with misbehaving(200, png((1, 2, 3)), pause=1.0) as address:
        offer(monkeypatch, f"{address}{{z}}/{{x}}/{{y}}.png")
        got, problem, _ = ask_tile(small_study)
    assert got == 502 and "does not answer" in problem["detail"]


def test_what_is_no_picture_is_told(
    small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    with misbehaving(200, b"<html>sign in</html>") as address:
        offer(monkeypatch, f"{address}{{z}}/{{x}}/{{y}}.png")
        got, problem, _ = ask_tile(small_study)
    assert got == 422 and "no picture" in problem["detail"]


def test_redirect_elsewhere_is_not_followed(
    small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    with (
        misbehaving(200, png((9, 9, 9))) as elsewhere,
        misbehaving(302, b"", Location=elsewhere) as address,
    ):
        offer(monkeypatch, f"{address}{{z}}/{{x}}/{{y}}.png")
        got, problem, _ = ask_tile(small_study)
    assert got == 422 and "not among those" in problem["detail"]


def test_words_of_the_wmts_standard_are_filled_in() -> None:
    source = pictures.PictureSource.model_validate(
        HERE | {"address": "https://a.example/{TileMatrix}/{TileRow}/{TileCol}?s={style}"}
    )
    assert source.tile_address(5, 7, 9) == "https://a.example/5/9/7?s={style}"


def test_lists_that_cannot_be_used_are_told(tmp_path: Path) -> None:
    with pytest.raises(InputError, match="cannot be used"):
        pictures.read_sources('[{"id": "A B"}]')
    with pytest.raises(NotFoundError, match="not offered"):
        pictures.get_source("gone")
    path = tmp_path / "pictures.json"
    with pytest.raises(LaunchError, match=r"pictures\.json"):
        pictures_json([path], None)
    path.write_text(json.dumps([HERE | {"address": "https://a.example/{z}/{x}/{y}"}]))
    ids = [one["id"] for one in json.loads(pictures_json([path], 8732))]
    assert ids == ["demo-photo", "here"]


def test_stand_in_serves_the_demos_photo(demo: DemoStudy, tmp_path: Path) -> None:
    """Level 12 holds the whole photo in a tile or two; what lies beyond is not there."""
    folder = fill_catalogue(tmp_path / "catalogue")
    (tmp_path / "reference_photo.tif").symlink_to(demo.folder / "reference_photo.tif")
    with served_catalogue(folder) as address:
        found = [
            requests.get(f"{address}picture/12/{col}/{row}.png", timeout=20).status_code
            for col in (1659, 1660)
            for row in (1456, 1457)
        ]
        beyond = requests.get(f"{address}picture/12/0/0.png", timeout=20).status_code
        wrong = requests.get(f"{address}picture/40/0/0.png", timeout=20).status_code
    assert 200 in found
    assert (beyond, wrong) == (404, 404)
