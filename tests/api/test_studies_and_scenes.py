import io
import re

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from support.small_scene import FILL_COLUMNS
from support.study import SmallStudy

TILE = "/api/scenes/{}/tiles/0/0/0.png"


def pixels_of(content: bytes) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(content)).convert("RGBA"))


def test_health_and_studies(client: TestClient, small_study: SmallStudy) -> None:
    assert client.get("/api/health").json()["status"] == "ok"
    (study,) = client.get("/api/studies").json()
    assert study["id"] == small_study.id


def test_view_is_stored(client: TestClient, small_study: SmallStudy) -> None:
    address = f"/api/studies/{small_study.id}"
    assert client.patch(address, json={"view": {"sceneId": 4}}).status_code == 200
    assert client.get(address).json()["view"] == {"sceneId": 4}


def test_scene_facts_put_position_role_and_file_side_by_side(
    client: TestClient, small_study: SmallStudy
) -> None:
    (scene,) = client.get(f"/api/studies/{small_study.id}/scenes").json()
    assert [(b["role"], b["file"], b["pixel_size"]) for b in scene["bands"]][3] == (
        "swir16", "band_4.tif", 20
    )  # fmt: skip
    assert scene["grid"]["rows"] == 96
    assert scene["grid"]["extent"]["top"] == 5_000_000
    assert 0.9 < scene["usable_share"] < 1
    assert "near-infrared" not in [c["id"] for c in scene["composites"]], "there is no green band"


def test_tile_shows_fill_as_nothing_and_cloud_as_it_is(
    client: TestClient, small_study: SmallStudy
) -> None:
    response = client.get(TILE.format(small_study.scene_id), params={"roles": "nir,red,blue"})
    assert response.headers["content-type"] == "image/png"
    pixels = pixels_of(response.content)
    assert pixels.shape == (256, 256, 4)
    assert not pixels[:96, :FILL_COLUMNS, 3].any()
    assert pixels[:96, FILL_COLUMNS:128, 3].all()
    assert not pixels[96:, :, 3].any()
    grass, water = pixels[70, 30], pixels[20, 30]
    assert grass[0] > 200, "grass is bright in near infrared, which is shown as red"
    assert water[0] < 60


def test_stretch_is_in_the_request(client: TestClient, small_study: SmallStudy) -> None:
    def brightness(low: float, high: float) -> float:
        params = {"roles": "nir,nir,nir", "low": low, "high": high}
        response = client.get(TILE.format(small_study.scene_id), params=params)
        return float(pixels_of(response.content)[:96, :128, 0].mean())

    assert brightness(0, 60) > brightness(0, 100) > brightness(60, 100)


def test_a_picture_that_is_there_already_is_not_sent_again(
    client: TestClient, small_study: SmallStudy
) -> None:
    address = TILE.format(small_study.scene_id)
    first = client.get(address, params={"roles": "nir,red,blue"})
    tag = first.headers["etag"]
    again = client.get(address, params={"roles": "nir,red,blue"}, headers={"if-none-match": tag})
    assert (again.status_code, again.content) == (304, b"")
    other = client.get(address, params={"roles": "red,nir,blue"})
    assert other.headers["etag"] != tag


@pytest.mark.parametrize(
    ("path", "params", "status", "words"),
    [
        ("tiles/0/0/0.png", {"roles": "nir,red"}, 422, "exactly three bands"),
        ("tiles/0/0/0.png", {"roles": "nir,red,pan"}, 422, "role pan"),
        ("tiles/0/0/0.png", {"roles": "nir,red,blue", "low": 98, "high": 2}, 422, "low end"),
        ("tiles/0/0/0.png", {"roles": "nir,red,blue", "low": "dark"}, 422, "low"),
        ("tiles/0/0/0.png", {}, 422, "roles"),
        ("tiles/9/0/0.png", {"roles": "nir,red,blue"}, 404, "no such tile"),
        ("tiles/0/0/0.png", {"roles": "nir"}, 422, "one band takes a palette"),
        ("tiles/0/0/0.png", {"roles": "nir", "palette": "mauve"}, 404, "no palette"),
        ("channels", {"roles": "nir", "stretch": "typed", "limits": "2:1"}, 422, "the smaller"),
        ("channels", {"roles": "nir", "stretch": "typed", "limits": "x"}, 422, "cannot be used"),
        ("channels", {"roles": "nir", "extent": "1,2,3"}, 422, "four numbers"),
        ("channels", {"roles": "nir", "extent": "3,2,1,4"}, 422, "encloses nothing"),
        ("channels", {"roles": "nir", "extent": "0,0,1,1"}, 422, "outside the scene"),
        ("channels", {"roles": "nir", "site": 10**6}, 404, "site is not there"),
    ],
)
def test_bad_requests_are_told_in_words(
    client: TestClient,
    small_study: SmallStudy,
    path: str,
    params: dict[str, str],
    status: int,
    words: str,
) -> None:
    response = client.get(f"/api/scenes/{small_study.scene_id}/{path}", params=params)
    assert response.status_code == status
    assert response.headers["content-type"] == "application/problem+json"
    problem = response.json()
    assert words in problem["detail"]
    assert problem["status"] == status
    assert problem["type"].startswith("urn:kitesort:")


@pytest.mark.parametrize("number", [10**6, 2**31, 10**30, -1])
@pytest.mark.parametrize(
    "path",
    ["/api/studies/{}", "/api/studies/{}/scenes", "/api/studies/{}/classes",
     "/api/studies/{}/maps", "/api/maps/{}/accuracy", "/api/layers/{}/file",
     "/api/scenes/{}/tiles/0/0/0.png?roles=a,b,c", "/api/studies/{}/points"],
)  # fmt: skip
def test_ids_that_do_not_exist_never_break_anything(
    client: TestClient, path: str, number: int
) -> None:
    response = client.get(path.format(number))
    assert response.status_code in (404, 422)
    assert response.json()["detail"].endswith(".")


def test_damaged_band_is_told_and_the_rest_works(
    client: TestClient, small_study: SmallStudy
) -> None:
    band = small_study.folder / "band_3.tif"
    content = band.read_bytes()
    band.write_bytes(content[: len(content) // 2])
    address = TILE.format(small_study.scene_id)
    response = client.get(address, params={"roles": "nir,red,blue"})
    assert response.status_code == 422
    assert re.search(r"band_3\.tif .*(cut short|cannot be read)", response.json()["detail"])
    assert client.get(f"/api/studies/{small_study.id}/classes").status_code == 200


def test_only_this_machine_s_names_are_answered(client: TestClient) -> None:
    response = client.get("/api/health", headers={"host": "elsewhere.example"})
    assert response.status_code == 400


def test_other_pages_cannot_change_anything(client: TestClient, small_study: SmallStudy) -> None:
    response = client.post(
        f"/api/studies/{small_study.id}/classes",
        json={"name": "Intruder"},
        headers={"origin": "http://elsewhere.example"},
    )
    assert response.status_code == 403
    assert len(client.get(f"/api/studies/{small_study.id}/classes").json()) == 4


def test_nothing_may_be_loaded_from_elsewhere(client: TestClient) -> None:
    policy = client.get("/api/health").headers["content-security-policy"]
    assert "default-src 'self'" in policy
    assert "http" not in policy


def test_unforeseen_errors_have_a_body_too(
    client: TestClient, small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: object) -> None:
        raise RuntimeError("bug")

    monkeypatch.setattr("kitesort.store.scheme.list_classes", broken)
    response = client.get(f"/api/studies/{small_study.id}/classes")
    assert response.status_code == 500
    assert "Nothing half-done was kept" in response.json()["detail"]
    assert "bug" not in response.text
