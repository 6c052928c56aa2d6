"""Codes of two bytes over the API: from the scheme to files and back."""

import io
import json
from typing import Any

import numpy as np
import pytest
import rasterio
from fastapi.testclient import TestClient
from PIL import Image

from kitesort.core.errors import InputError
from kitesort.runs.perform import perform_run
from kitesort.study.dividing import first_free
from kitesort.study.rasters import open_layer
from support.small_scene import COLOURS, NAMES
from support.study import ROLES, SmallStudy

CODES = {1: 254, 2: 311, 3: 65_535, 4: 4}


def renumber(client: TestClient, s: SmallStudy) -> None:
    """The last one first: none is taken when its turn comes."""
    for code, wide in CODES.items():
        answer = client.patch(f"/api/classes/{s.class_ids[code]}", json={"code": wide})
        assert answer.status_code == 200, answer.text


def classify(client: TestClient, s: SmallStudy) -> int:
    body = {"scene_id": s.scene_id, "roles": list(ROLES), "settings": {"reject_share": 0.01}}
    run = client.post(f"/api/studies/{s.id}/runs", json=body)
    assert run.status_code == 201, run.text
    perform_run(run.json()["id"])
    made = [one["id"] for one in client.get(f"/api/studies/{s.id}/maps").json()]
    return int(max(made))


def codes_of(layer_id: int) -> Any:
    raster = open_layer(layer_id)
    block = raster.read(raster.grid.whole, ("class",))
    return np.where(block.valid, block.values[0], 0).astype(np.uint16)


@pytest.fixture
def maps(client: TestClient, small_study: SmallStudy) -> tuple[int, int]:
    """The same map with the codes as they were, and with large ones."""
    narrow = classify(client, small_study)
    renumber(client, small_study)
    return narrow, classify(client, small_study)


def test_a_map_is_the_same_but_for_its_codes(client: TestClient, maps: tuple[int, int]) -> None:
    narrow, wide = maps
    table = np.arange(256)
    table[list(CODES)] = list(CODES.values())
    assert np.array_equal(codes_of(wide), table[codes_of(narrow)])
    content = client.get(f"/api/layers/{wide}/file").content
    with rasterio.MemoryFile(content) as file, file.open() as dataset:
        assert dataset.dtypes == ("uint16",)
        assert np.array_equal(dataset.read(1), codes_of(wide))
        hexadecimal = COLOURS[3].lstrip("#")
        assert dataset.colormap(1)[65_535][:3] == tuple(bytes.fromhex(hexadecimal))
    pictures = [client.get(f"/api/maps/{one}/tiles/0/0/0.png").content for one in maps]
    assert pictures[0] == pictures[1]
    before, accuracy = (client.get(f"/api/maps/{one}/accuracy").json() for one in maps)
    assert {*CODES.values()} <= set(accuracy["codes"]) and accuracy["unknown"] == []
    assert accuracy["n_points"] > 0 and before["unknown"] == []
    assert before["overall"] == accuracy["overall"], "of maps made before classes keep their names"
    assert accuracy["own_codes"] == accuracy["codes"]
    told_right = sum(counts[i] for i, counts in enumerate(accuracy["counts"]))
    assert told_right == accuracy["overall"]["value"] * accuracy["n_points"]
    told = client.get(f"/api/maps/{narrow}/against/{wide}").json()
    assert told["same"] == 1 and [row["code"] for row in told["columns"]][:2] == [4, 254]
    areas = client.get(f"/api/maps/{wide}/areas")
    assert areas.status_code == 200 and "\n65535," in areas.text.replace("\r", "")


def test_steps_over_a_map_of_large_codes(
    client: TestClient, small_study: SmallStudy, maps: tuple[int, int]
) -> None:
    steps = [
        {"operation": "recode", "settings": {"table": [{"code": 65_535, "to": 311}]}},
        {"operation": "sieve", "settings": {"least_px": 4}},
    ]
    told = client.post(f"/api/maps/{maps[1]}/tidied", json={"steps": steps}).json()
    before = codes_of(maps[1])
    (moved,) = [n for n in told["from_to"] if n["before"] == 65_535 and n["after"] == 311]
    assert moved["n"] > 0.99 * (before == 65_535).sum()
    assert {one["code"] for one in told["classes"]} >= {4, 254, 311, 65_535}
    query = {"steps": json.dumps(steps)}
    tile = client.get(f"/api/maps/{maps[1]}/tidied/tiles/0/0/0.png", params=query)
    assert Image.open(io.BytesIO(tile.content)).size == (256, 256)
    order = {"layer_ids": [maps[1]], "steps": steps}
    made = client.post(f"/api/studies/{small_study.id}/corrections", json=order).json()
    after = codes_of(made["maps"][0]["id"])
    assert not (after == 65_535).any() and (after == 311).any()
    scene = small_study.scene_id
    divided = client.post(
        f"/api/maps/{made['maps'][0]['id']}/divisions",
        json={"scene_id": scene, "roles": list(ROLES), "method": "k-means", "code": 254,
              "settings": {"n_clusters": 3}},
    )  # fmt: skip
    assert divided.status_code == 201, divided.text
    parts = set(np.unique(codes_of(divided.json()["layer_id"]))) - set(np.unique(after))
    assert parts == {312, 313, 314}


def test_a_classifier_of_large_codes_goes_out_and_comes_back(
    client: TestClient, small_study: SmallStudy
) -> None:
    s = small_study
    renumber(client, s)
    classify(client, s)
    address = f"/api/studies/{s.id}/trained-classifiers"
    (one,) = client.get(address).json()
    content = client.get(f"/api/trained-classifiers/{one['id']}/file").content
    again = client.post(address, params={"name": "Again"}, content=content)
    assert again.status_code == 201, again.text
    assert [c["code"] for c in again.json()["classes"]] == sorted(CODES.values())


def test_scheme_files_hold_large_codes(client: TestClient, small_study: SmallStudy) -> None:
    s = small_study
    renumber(client, s)
    for code in (0, 255, 65_536, -3):
        refused = client.patch(f"/api/classes/{s.class_ids[1]}", json={"code": code})
        assert refused.status_code == 422, code
    assert "unclassified" in client.patch(
        f"/api/classes/{s.class_ids[1]}", json={"code": 255}
    ).json()["detail"]  # fmt: skip
    classes = client.get(f"/api/studies/{s.id}/classes").json()
    assert [c["name"] for c in classes] == list(NAMES.values()), "each keeps its place"
    content = client.get(f"/api/studies/{s.id}/classes.csv").content
    other = client.post("/api/studies", json={"name": "Other"}).json()["id"]
    taken = client.post(
        f"/api/studies/{other}/scheme-files", params={"name": "scheme.csv"}, content=content
    )
    assert taken.status_code in (200, 201), taken.text
    found = {c["code"]: c["name"] for c in client.get(f"/api/studies/{other}/classes").json()}
    assert found == {CODES[code]: name for code, name in NAMES.items()}


def test_new_classes_step_over_what_means_unclassified(
    client: TestClient, small_study: SmallStudy
) -> None:
    s = small_study
    lines = "\n".join(f"{i},Kind {i}" for i in range(5, 251))
    content = f"code,name\n{lines}".encode()
    taken = client.post(
        f"/api/studies/{s.id}/scheme-files", params={"name": "s.csv"}, content=content
    )
    assert taken.status_code in (200, 201), taken.text
    codes = []
    for i in range(4):
        made = client.post(f"/api/studies/{s.id}/classes", json={"name": f"More {i}"})
        codes.append(made.json()["code"])
    assert codes == [251, 252, 253, 254]
    full = client.post(f"/api/studies/{s.id}/classes", json={"name": "One too many"})
    assert full.status_code == 409 and "at most 254" in full.json()["detail"]
    gone = client.delete(f"/api/classes/{s.class_ids[1]}")
    assert gone.status_code == 204, gone.text
    client.patch(f"/api/classes/{s.class_ids[2]}", json={"code": 1})
    client.patch(f"/api/classes/{s.class_ids[3]}", json={"code": 2})
    client.patch(f"/api/classes/{s.class_ids[4]}", json={"code": 3})
    made = client.post(f"/api/studies/{s.id}/classes", json={"name": "Next"})
    assert made.json()["code"] == 4


@pytest.mark.parametrize(
    ("taken", "n", "first"),
    [([1, 2], 3, 3), ([250], 4, 251), ([250], 5, 256), ([254], 1, 256), ([300, 9], 5, 301),
     ([65_530], 5, 65_531)],
)  # fmt: skip
def test_parts_get_codes_in_a_row(taken: list[int], n: int, first: int) -> None:
    assert first_free(taken, n) == first


def test_no_code_is_left_behind_the_last() -> None:
    with pytest.raises(InputError, match="Recode the map's last classes"):
        first_free([65_531], 5)
