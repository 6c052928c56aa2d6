"""Pictures, readouts, lines, feature space, histograms and notes over the web."""

import io
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from kitesort.core.delivery import read_delivery
from kitesort.core.display.stretch import Curve, apply_curves
from kitesort.core.palette import palette_table
from kitesort.runs.perform import perform_run
from kitesort.store.scenes import add_scene
from kitesort.store.studies import create_study
from kitesort.study.look import read_study_region
from kitesort.study.rasters import open_layer
from support.small_scene import (
    BANDS,
    COLUMNS,
    GOOD_SITES,
    LEFT,
    PIXEL,
    ROWS,
    TOP,
    rectangle,
    write_small_scene,
)
from support.study import SmallStudy, centre_of

WATER_EXTENT = f"{LEFT + 60},{TOP - 400},{LEFT + 600},{TOP - 20}"


def tile_of(client: TestClient, s: SmallStudy, **query: Any) -> np.ndarray:
    """Levels (rows, columns, 4) of the only tile of the small scene."""
    answer = client.get(f"/api/scenes/{s.scene_id}/tiles/0/0/0.png", params=query)
    assert answer.status_code == 200, answer.text
    picture = np.asarray(Image.open(io.BytesIO(answer.content)).convert("RGBA"))
    return picture[:ROWS, :COLUMNS]


def channels_of(client: TestClient, s: SmallStudy, **query: Any) -> list[dict[str, Any]]:
    answer = client.get(f"/api/scenes/{s.scene_id}/channels", params={"roles": "nir"} | query)
    assert answer.status_code == 200, answer.text
    found: list[dict[str, Any]] = answer.json()
    return found


def values_of(s: SmallStudy, role: str) -> np.ndarray:
    raster = open_layer(s.scene_id)
    block = raster.read(raster.grid.whole, (role,))
    return block.values[0][block.valid]


def test_composite_has_the_levels_of_the_limits_told(
    client: TestClient, small_study: SmallStudy
) -> None:
    roles = "nir,red,blue"
    told = channels_of(client, small_study, roles=roles, low=5, high=90)
    picture = tile_of(client, small_study, roles=roles, low=5, high=90)
    raster = open_layer(small_study.scene_id, "look")
    block = raster.read(raster.grid.whole, tuple(roles.split(",")))
    curves = [Curve((c["low"], c["high"]), (0.0, 1.0)) for c in told]
    expected = np.moveaxis(apply_curves(block.values, curves), 0, -1)
    assert (picture[block.valid][:, :3] == expected[block.valid]).all()
    assert (picture[~block.valid] == 0).all()


def test_channels_tell_limits_and_what_is_cut(client: TestClient, small_study: SmallStudy) -> None:
    values = values_of(small_study, "nir")
    (channel,) = channels_of(client, small_study, low=5, high=90)
    assert channel["low"], channel["high"] == pytest.approx(np.percentile(values, [5, 90]))
    assert channel["cut_low"] == pytest.approx(5, abs=0.1)
    assert channel["cut_high"] == pytest.approx(10, abs=0.1)
    assert channel["histogram"]["n_valid"] == values.size


def test_values_can_be_counted_over_a_part_or_a_site(
    client: TestClient, small_study: SmallStudy
) -> None:
    """Water is dark in near infrared: the limits over it are far below those over the scene."""
    (whole,) = channels_of(client, small_study)
    (part,) = channels_of(client, small_study, extent=WATER_EXTENT)
    (site,) = channels_of(client, small_study, site=small_study.site_ids[1], stretch="extremes")
    assert part["high"] < 0.06 < whole["high"]
    assert site["high"] < 0.06
    assert site["histogram"]["n_valid"] == 180
    inside = tile_of(client, small_study, roles="nir,nir,nir", extent=WATER_EXTENT)
    assert inside[20:40, 10:50, 0].std() > 30, "its own contrast fills the levels"
    assert inside[60:80, 20:50, 0].min() == 255, "grass is brighter than all of it"


def test_typed_equalised_shared_and_none(client: TestClient, small_study: SmallStudy) -> None:
    (typed,) = channels_of(client, small_study, stretch="typed", limits="0.1:0.3")
    assert (typed["low"], typed["high"]) == (0.1, 0.3)
    (none,) = channels_of(client, small_study, stretch="none")
    assert (none["low"], none["high"]) == (0, 1)
    shared = channels_of(client, small_study, roles="nir,red,blue", shared=True)
    assert len({(c["low"], c["high"]) for c in shared}) == 1
    levels = tile_of(client, small_study, roles="nir,nir,nir", stretch="equalise")
    counts, _ = np.histogram(levels[levels[..., 3] > 0][:, 0], 4, (0, 256))
    assert counts.min() > 0.8 * counts.max()


def test_one_band_has_the_colours_of_the_palette(
    client: TestClient, small_study: SmallStudy
) -> None:
    query = {"roles": "nir", "palette": "blue-yellow", "stretch": "typed", "limits": "0:0.5"}
    plain = tile_of(client, small_study, **query)
    turned = tile_of(client, small_study, reverse=True, steps=5, **query)
    block = open_layer(small_study.scene_id, "look").read(
        open_layer(small_study.scene_id).grid.whole, ("nir",)
    )
    level = apply_curves(block.values, [Curve((0.0, 0.5), (0.0, 1.0))])[0]
    assert (plain[block.valid][:, :3] == palette_table("blue-yellow")[level[block.valid]]).all()
    assert len(np.unique(turned[block.valid], axis=0)) == 5
    listed = client.get("/api/palettes").json()
    assert {"grey", "blue-yellow"} <= {p["id"] for p in listed}
    assert all(len(p["colours"]) == 17 and "Kovesi" in p["source"] for p in listed)


def test_readout_of_several_scenes_at_once(
    client: TestClient, small_study: SmallStudy, tmp_path: Path
) -> None:
    july = add_scene(
        small_study.id, "July", read_delivery(write_small_scene(tmp_path / "j", 11).metadata)
    )
    x, y = centre_of(70, 30)
    params = {"x": x, "y": y, "scenes": [small_study.scene_id, july.id]}
    got = client.get(f"/api/studies/{small_study.id}/readout", params=params).json()
    assert [s["scene_id"] for s in got["scenes"]] == [small_study.scene_id, july.id]
    assert all(set(s["values"]) == set(BANDS) for s in got["scenes"])
    assert all(s["values"]["nir"] == pytest.approx(0.4, abs=0.05) for s in got["scenes"])
    assert 44 < got["latitude"] < 46
    outside = client.get(
        f"/api/studies/{small_study.id}/readout", params=params | {"x": 0, "y": 0}
    ).json()
    assert outside["scenes"] == []


@pytest.mark.parametrize(
    ("params", "status", "words"),
    [
        ({"x": "nan", "y": 1}, 422, "finite number"),
        ({"x": 1}, 422, "y"),
        ({"x": 1, "y": 1, "scenes": [10**6]}, 404, "layer"),
    ],
)
def test_bad_readouts_are_told(
    client: TestClient, small_study: SmallStudy, params: dict[str, Any], status: int, words: str
) -> None:
    answer = client.get(f"/api/studies/{small_study.id}/readout", params=params)
    assert answer.status_code == status
    assert words in answer.json()["detail"]


@pytest.mark.parametrize("kind", ["scenes", "layers"])
def test_another_studys_layer_is_not_read(
    client: TestClient, small_study: SmallStudy, kind: str
) -> None:
    other = create_study("Other")
    answer = client.get(
        f"/api/studies/{other.id}/readout", params={"x": 1, "y": 1, kind: [small_study.scene_id]}
    )
    assert answer.status_code == 422 and "another study" in answer.json()["detail"]


def test_place_in_degrees_is_found(client: TestClient, small_study: SmallStudy) -> None:
    x, y = centre_of(48, 64)
    readout = client.get(f"/api/studies/{small_study.id}/readout", params={"x": x, "y": y}).json()
    params = {k: readout[k] for k in ("longitude", "latitude")}
    back = client.get(f"/api/studies/{small_study.id}/place", params=params).json()
    assert (back["x"], back["y"]) == pytest.approx((x, y), abs=0.01)
    assert back["inside"]
    far = client.get(f"/api/studies/{small_study.id}/place", params=params | {"latitude": 95})
    assert far.status_code == 422 and "Latitude" in far.json()["detail"]


def test_line_crosses_from_water_to_sand(client: TestClient, small_study: SmallStudy) -> None:
    """Along row 20 from column 10 to 90; the border lies at column 64."""
    ends = [centre_of(20, 10), centre_of(20, 90)]
    members = [f"{small_study.scene_id}:nir", f"{small_study.scene_id}:red"]
    got = client.post(
        f"/api/studies/{small_study.id}/line", json={"vertices": ends, "members": members}
    ).json()
    assert got["distance_m"][-1] == pytest.approx(800, rel=1e-3)
    assert len(got["x"]) == 81 and got["pixel_m"] == pytest.approx(10, rel=1e-3)
    nir = np.array(got["values"][0])
    assert (nir[:54] < 0.08).all() and (nir[54:] > 0.18).all()


@pytest.mark.parametrize(
    ("body", "words"),
    [
        ({"vertices": [[1, 1], [1, 1]]}, "no length"),
        ({"vertices": [[1, 1]]}, "vertices"),
        ({"members": ["nir"]}, "no layer"),
        ({"members": ["1:pan"]}, "role pan"),
        ({"members": []}, "members"),
    ],
)
def test_bad_lines_are_told(
    client: TestClient, small_study: SmallStudy, body: dict[str, Any], words: str
) -> None:
    members = [m.replace("1:", f"{small_study.scene_id}:") for m in body.get("members", ["1:nir"])]
    order = {"vertices": [centre_of(1, 1), centre_of(5, 5)]} | body | {"members": members}
    answer = client.post(f"/api/studies/{small_study.id}/line", json=order)
    assert answer.status_code == 422
    assert words in answer.json()["detail"]


def test_line_outside_the_scene_has_no_values(client: TestClient, small_study: SmallStudy) -> None:
    order = {"vertices": [[0, 0], [100, 0]], "members": [f"{small_study.scene_id}:nir"]}
    got = client.post(f"/api/studies/{small_study.id}/line", json=order).json()
    assert set(got["values"][0]) == {None}


def space(client: TestClient, s: SmallStudy, **body: Any) -> dict[str, Any]:
    order = {"x": f"{s.scene_id}:red", "y": f"{s.scene_id}:nir"} | body
    answer = client.post(f"/api/studies/{s.id}/feature-space", json=order)
    assert answer.status_code == 200, answer.text
    found: dict[str, Any] = answer.json()
    return found


def test_feature_space_counts_valid_pixels_only(
    client: TestClient, small_study: SmallStudy
) -> None:
    found = space(client, small_study)
    assert found["n_valid"] == values_of(small_study, "red").size
    assert np.sum(found["counts"]) + found["n_outside"] == found["n_valid"]
    assert found["exact"] and found["aligned"]
    site = space(client, small_study, site_ids=[small_study.site_ids[3]])
    assert (site["n_valid"], site["x"]) == (180, found["x"]), "the axes stay, whatever the region"
    drawn = space(client, small_study, outlines=[GOOD_SITES[3]])
    assert drawn["counts"] == site["counts"]


def test_ellipses_lie_where_the_classes_do(client: TestClient, small_study: SmallStudy) -> None:
    by_code = {e["code"]: e for e in space(client, small_study)["ellipses"]}
    for code in (1, 2, 3, 4):
        assert by_code[code]["x"] == pytest.approx(BANDS["red"][2][code - 1], abs=0.01)
        assert by_code[code]["y"] == pytest.approx(BANDS["nir"][2][code - 1], abs=0.01)
        assert 0.01 < by_code[code]["long"] < 0.03, "two deviations of the noise"


def test_circled_cloud_lights_its_pixels(client: TestClient, small_study: SmallStudy) -> None:
    """A box around grass in red and near infrared lights the lower left quarter."""
    params = {
        "x": f"{small_study.scene_id}:red",
        "y": f"{small_study.scene_id}:nir",
        "cloud": "0 0.33, 0.12 0.33, 0.12 0.5, 0 0.5",
    }
    address = f"/api/studies/{small_study.id}/cloud-tiles/0/0/0.png"
    answer = client.get(address, params=params)
    lit = np.asarray(Image.open(io.BytesIO(answer.content)))[:ROWS, :COLUMNS, 3] > 0
    assert lit[50:, 6:60].mean() > 0.99
    assert lit[:46].mean() == 0 and lit[50:, 66:].mean() == 0
    again = client.get(address, params=params, headers={"If-None-Match": answer.headers["etag"]})
    assert again.status_code == 304
    bad = client.get(address, params=params | {"cloud": "1 1"})
    assert bad.status_code == 422 and "cloud" in bad.json()["detail"]


GRASS = "0 0.33, 0.12 0.33, 0.12 0.5, 0 0.5"


def cloud_order(s: SmallStudy, **more: Any) -> dict[str, Any]:
    return {"x": f"{s.scene_id}:red", "y": f"{s.scene_id}:nir", "cloud": GRASS} | more


def test_what_lies_in_a_cloud(client: TestClient, small_study: SmallStudy) -> None:
    """The box around grass holds its quarter, its training pixels, and nearly no other's."""
    address = f"/api/studies/{small_study.id}/feature-space/cloud"
    params = {"scene_id": small_study.scene_id}
    training = client.get(f"/api/studies/{small_study.id}/training", params=params).json()
    found = client.post(address, json=cloud_order(small_study, live=training["version"])).json()
    red, nir = values_of(small_study, "red"), values_of(small_study, "nir")
    inside = (red > 0) & (red < 0.12) & (nir > 0.33) & (nir < 0.5)
    assert (found["n_inside"], found["n_valid"], found["exact"]) == (inside.sum(), red.size, True)
    assert found["area_ha"] == pytest.approx(inside.sum() * 0.01, rel=2e-3)
    by_code = {c["code"]: c for c in found["classes"]}
    assert by_code[3]["of_cloud"] > 0.95 and by_code[3]["of_training"] > 0.95
    assert sum(c["of_cloud"] for c in found["classes"]) == pytest.approx(1)
    assert by_code[1]["of_training"] == 0
    plain = client.post(address, json=cloud_order(small_study, live="gone")).json()
    assert {c["of_cloud"] for c in plain["classes"]} == {None}, "the live map has gone on"


def test_a_cloud_becomes_a_mask(client: TestClient, small_study: SmallStudy) -> None:
    cloud = {"across": "red", "up": "nir", "corners": GRASS}
    body = {
        "layer_ids": [small_study.scene_id],
        "steps": [{"operation": "mask-cloud", "settings": {"cloud": cloud}}],
    }
    made = client.post(f"/api/studies/{small_study.id}/corrections", json=body).json()["made"][0]
    assert made["title"].endswith("masked")
    found = client.post(
        f"/api/studies/{small_study.id}/feature-space/cloud",
        json=cloud_order(small_study, x=f"{made['id']}:red", y=f"{made['id']}:nir"),
    ).json()
    assert found["n_inside"] == 0 < found["n_valid"]


def test_a_cloud_becomes_sites_that_can_be_undone(
    client: TestClient, small_study: SmallStudy
) -> None:
    base, grass = f"/api/studies/{small_study.id}", small_study.class_ids[3]
    params = {"scene_id": small_study.scene_id}
    before = len(client.get(f"{base}/sites", params=params).json())
    order = cloud_order(small_study, class_id=grass)
    answer = client.post(f"{base}/feature-space/cloud/sites", json=order)
    assert answer.status_code == 201 and answer.json() >= 1
    now = client.get(f"{base}/sites", params=params).json()
    assert len(now) == before + answer.json()
    assert now[-1]["class_id"] == grass and now[-1]["n_pixels"] >= 12
    client.post(f"{base}/undo")
    assert len(client.get(f"{base}/sites", params=params).json()) == before
    for more, words in (({"cloud": "5 5, 6 5, 6 6"}, "scattered"), ({"cloud": "1 1"}, "corners")):
        bad = client.post(f"{base}/feature-space/cloud/sites", json=order | more)
        assert bad.status_code == 422 and words in bad.json()["detail"]
    unknown = client.post(f"{base}/feature-space/cloud/sites", json=order | {"class_id": 999_999})
    assert unknown.status_code == 404


def test_every_pixel_is_counted_by_a_run(
    client: TestClient, small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    few = partial(read_study_region, most=1024)  # as if the scene were a large one
    monkeypatch.setattr("kitesort.study.plane.read_study_region", few)
    order = {"x": f"{small_study.scene_id}:red", "y": f"{small_study.scene_id}:blue"}
    answer = client.post(f"/api/studies/{small_study.id}/feature-space/count", json=order)
    assert answer.status_code == 201
    perform_run(answer.json()["id"])
    run = client.get(f"/api/studies/{small_study.id}/runs").json()[0]
    assert run["state"] == "done", run
    found = space(client, small_study, y=order["y"])
    assert found["exact"]
    assert np.sum(found["counts"]) + found["n_outside"] == values_of(small_study, "red").size


def test_soil_line_needs_red_and_near_infrared(client: TestClient, small_study: SmallStudy) -> None:
    address = f"/api/studies/{small_study.id}/soil-line"
    order = {"x": f"{small_study.scene_id}:red", "y": f"{small_study.scene_id}:nir"}
    line = client.post(address, json=order).json()
    assert line["slope"] > 0 and line["low"] < line["high"]
    turned = client.post(address, json={"x": order["y"], "y": order["x"]})
    assert turned.status_code == 422 and "red across" in turned.json()["detail"]


def test_histogram_of_a_region_with_its_classes(
    client: TestClient, small_study: SmallStudy
) -> None:
    address = f"/api/scenes/{small_study.scene_id}/histograms"
    found = client.post(address, json={"role": "nir", "bins": 64, "with_classes": True}).json()
    values = values_of(small_study, "nir").astype(float)
    assert found["n_valid"] == values.size and found["exact"]
    assert found["mean"] == pytest.approx(values.mean())
    assert found["median"] == pytest.approx(np.median(values))
    assert found["standard_deviation"] == pytest.approx(values.std(ddof=1))
    counts, _ = np.histogram(values, 64, (found["low"], found["high"]))
    assert np.abs(np.array(found["counts"]) - counts).max() <= 1
    by_code = {c["code"]: c for c in found["classes"]}
    assert {c["n_pixels"] for c in by_code.values()} == {180}
    cloud = client.post(address, json={"role": "nir", "outlines": [rectangle(1, 101, 8, 8)]}).json()
    assert (cloud["n_valid"], cloud["mean"], cloud["n_covered"]) == (0, None, 64)
    wrong = client.post(address, json={"role": "nir", "low": 1, "high": 0})
    assert wrong.status_code == 422 and "range" in wrong.json()["detail"]


def test_notes_are_pinned_changed_removed_and_undone(
    client: TestClient, small_study: SmallStudy
) -> None:
    address = f"/api/studies/{small_study.id}/notes"
    note = client.post(address, json={"x": 1.5, "y": 2.5, "text": " Is this reed? "}).json()
    assert (note["x"], note["y"], note["text"]) == (1.5, 2.5, "Is this reed?")
    client.patch(f"/api/notes/{note['id']}", json={"text": "It is reed."})
    client.delete(f"/api/notes/{note['id']}")
    assert client.get(address).json() == []
    for expected in (["It is reed."], ["Is this reed?"], []):
        client.post(f"/api/studies/{small_study.id}/undo")
        assert [n["text"] for n in client.get(address).json()] == expected
    for body, words in (({"x": 1, "y": 1, "text": "  "}, "words"), ({"x": 1, "text": "a"}, "y")):
        bad = client.post(address, json=body)
        assert bad.status_code == 422 and words in bad.json()["detail"]
    assert client.delete("/api/notes/999999").status_code == 404


def test_reference_spectra_come_with_the_roles_intervals(client: TestClient) -> None:
    found = client.get("/api/reference-spectra").json()
    assert {"Green vegetation", "Snow"} <= {s["title"] for s in found["spectra"]}
    assert all(len(s["wavelengths_um"]) == len(s["reflectance"]) for s in found["spectra"])
    assert found["intervals"]["red"] == {"low": 0.62, "high": 0.69}
    assert PIXEL == 10
