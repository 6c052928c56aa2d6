"""What nobody sane would ask for gets a sentence, never an accident; and many may ask at once."""

import json
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from support.small_scene import GOOD_SITES, rectangle
from support.study import SmallStudy, centre_of

ODD_TEXTS = [
    "",
    " ",
    "nir,",
    ",,,",
    "nir\x00",
    "ñ",
    "1e999",
    "-1",
    "nir;drop table",
    "../x",
    "n" * 199,
]
ODD_NUMBERS = ["nan", "inf", "-inf", "1e308", "-1e308", "0x10", "", "१"]


def assert_told(answer: Any) -> None:
    """A picture or data, or a problem with a sentence; nothing in between."""
    assert answer.status_code < 500, answer.text
    if answer.status_code >= 400:
        assert answer.headers["content-type"] == "application/problem+json"
        assert answer.json()["detail"].strip().endswith((".", ")"))


@pytest.mark.parametrize("text", ODD_TEXTS)
def test_odd_words_for_bands(client: TestClient, small_study: SmallStudy, text: str) -> None:
    base = f"/api/scenes/{small_study.scene_id}"
    assert_told(client.get(f"{base}/tiles/0/0/0.png", params={"roles": text}))
    assert_told(client.get(f"{base}/tiles/0/0/0.png", params={"roles": "nir", "palette": text}))
    assert_told(client.get(f"{base}/channels", params={"roles": text}))
    assert_told(client.get(f"{base}/channels", params={"roles": "nir", "extent": text}))
    assert_told(
        client.get(f"{base}/channels", params={"roles": "nir", "stretch": "typed", "limits": text})
    )
    assert_told(client.get(f"{base}/histogram", params={"role": text}))
    assert_told(client.post(f"{base}/histograms", json={"role": text}))


@pytest.mark.parametrize("text", ODD_TEXTS)
def test_odd_words_for_layers(client: TestClient, small_study: SmallStudy, text: str) -> None:
    base = f"/api/studies/{small_study.id}"
    good = f"{small_study.scene_id}:nir"
    for pair in ({"x": text, "y": good}, {"x": good, "y": text}):
        member = {key: value[:80] for key, value in pair.items()}
        assert_told(client.post(f"{base}/feature-space", json=member))
        assert_told(client.post(f"{base}/soil-line", json=member))
        params = member | {"cloud": "0 0, 1 0, 1 1"}
        assert_told(client.get(f"{base}/cloud-tiles/0/0/0.png", params=params))
    line = {"vertices": [centre_of(1, 1), centre_of(9, 9)], "members": [text[:80]]}
    assert_told(client.post(f"{base}/line", json=line))


@pytest.mark.parametrize("number", ODD_NUMBERS)
def test_odd_numbers(client: TestClient, small_study: SmallStudy, number: str) -> None:
    study, scene = f"/api/studies/{small_study.id}", f"/api/scenes/{small_study.scene_id}"
    assert_told(client.get(f"{study}/readout", params={"x": number, "y": "1"}))
    assert_told(client.get(f"{study}/place", params={"longitude": number, "latitude": number}))
    for name in ("low", "high", "deviations", "site", "stretch_of"):
        params = {"roles": "nir,red,blue", name: number}
        assert_told(client.get(f"{scene}/tiles/0/0/0.png", params=params))
        assert_told(client.get(f"{scene}/channels", params=params))
    cloud = f"0 0, {number} 1, 1 1"
    layer = f"{small_study.scene_id}:nir"
    params = {"x": layer, "y": layer, "cloud": cloud}
    assert_told(client.get(f"{study}/cloud-tiles/0/0/0.png", params=params))


@pytest.mark.parametrize(
    "geometry",
    [
        {},
        {"type": "Point", "coordinates": [0, 0]},
        {"type": "Polygon", "coordinates": []},
        {"type": "Polygon", "coordinates": [[[0, 0], [1, 0]]]},
        {"type": "Polygon", "coordinates": [[["a", "b"], [1, 0], [1, 1], ["a", "b"]]]},
        {"type": "GeometryCollection", "geometries": []},
    ],
)
def test_odd_outlines(
    client: TestClient, small_study: SmallStudy, geometry: dict[str, Any]
) -> None:
    layer = f"{small_study.scene_id}:nir"
    order = {"x": layer, "y": layer, "outlines": [geometry]}
    assert_told(client.post(f"/api/studies/{small_study.id}/feature-space", json=order))
    order = {"role": "nir", "outlines": [geometry]}
    answer = client.post(f"/api/scenes/{small_study.scene_id}/histograms", json=order)
    assert answer.status_code == 422
    assert_told(answer)


def test_unknown_parts_of_an_order_are_refused(client: TestClient, small_study: SmallStudy) -> None:
    for path, body in (
        ("line", {"vertices": [[0, 0], [1, 1]], "members": ["1:nir"], "width": 3}),
        ("feature-space", {"x": "1:nir", "y": "1:red", "colour": "red"}),
        ("notes", {"x": 1, "y": 1, "text": "a", "author": "me"}),
    ):
        answer = client.post(f"/api/studies/{small_study.id}/{path}", json=body)
        assert answer.status_code == 422, path
        assert_told(answer)


def test_bounds_of_what_is_asked_for_at_once(client: TestClient, small_study: SmallStudy) -> None:
    layer = f"{small_study.scene_id}:nir"
    study = f"/api/studies/{small_study.id}"
    too_much: list[Any] = [
        client.post(f"{study}/line", json={"vertices": [[0, 0]] * 500, "members": [layer]}),
        client.post(f"{study}/line", json={"vertices": [[0, 0], [1, 1]], "members": [layer] * 20}),
        client.get(f"{study}/readout", params={"x": 1, "y": 1, "scenes": [1] * 50}),
        client.post(f"{study}/notes", json={"x": 1, "y": 1, "text": "a" * 5000}),
        client.post(
            f"{study}/feature-space",
            json={"x": layer, "y": layer, "outlines": [GOOD_SITES[1]] * 100},
        ),
        client.post(
            f"/api/scenes/{small_study.scene_id}/histograms", json={"role": "nir", "bins": 10**6}
        ),
        client.get(
            f"/api/scenes/{small_study.scene_id}/tiles/0/0/0.png",
            params={"roles": "nir", "palette": "grey", "steps": 10**6},
        ),
    ]
    for answer in too_much:
        assert answer.status_code == 422
        assert_told(answer)


def test_many_threads_get_the_same_answers(client: TestClient, small_study: SmallStudy) -> None:
    """Eight threads ask for tiles, spectra, lines and spaces at once; each gets what one gets."""
    layer = f"{small_study.scene_id}:nir"
    study, scene = f"/api/studies/{small_study.id}", f"/api/scenes/{small_study.scene_id}"
    x, y = centre_of(70, 30)
    line = {"vertices": [centre_of(5, 5), centre_of(90, 120)], "members": [layer]}
    space = {"x": layer, "y": f"{small_study.scene_id}:red", "outlines": [rectangle(9, 9, 50, 60)]}

    def ask(kind: int) -> bytes:
        match kind % 5:
            case 0:
                params = {"roles": "nir,red,blue", "stretch": "equalise"}
                answer = client.get(f"{scene}/tiles/0/0/0.png", params=params)
            case 1:
                params = {"x": x, "y": y, "scenes": small_study.scene_id}  # type: ignore[dict-item]
                answer = client.get(f"{study}/readout", params=params)
            case 2:
                answer = client.post(f"{study}/line", json=line)
            case 3:
                answer = client.post(f"{study}/feature-space", json=space)
            case _:
                answer = client.get(f"{scene}/channels", params={"roles": "blue", "low": 7})
        assert answer.status_code == 200
        return answer.content

    expected = [ask(kind) for kind in range(5)]
    with ThreadPoolExecutor(8) as pool:
        got = list(pool.map(ask, range(200)))
    assert all(content == expected[i % 5] for i, content in enumerate(got))
    values = json.loads(expected[2])["values"][0]
    assert np.isfinite([v for v in values if v is not None]).all()
