"""Steps before they are kept: opened once for all tiles of a view, and never from a file that is
not there any more."""

import json
import shutil
from typing import Any

import numpy as np
import pytest

from kitesort.core.grid import Window
from kitesort.core.raster.protocol import Raster
from kitesort.core.recipe import open_recipe
from kitesort.runs.perform import perform_run
from kitesort.store.files import layer_path
from kitesort.store.layers import set_kept
from kitesort.store.records import Layer
from kitesort.store.runs import create_run
from kitesort.study import steps as study_steps
from kitesort.study.maps import list_maps
from kitesort.study.rasters import READER
from kitesort.study.steps import Step, open_with_steps, with_steps
from support.small_scene import rectangle
from support.study import SmallStudy, map_order

OUTLINE = rectangle(20, 30, 12, 14)
CHAINS: dict[str, list[dict[str, Any]]] = {
    "majority": [{"operation": "majority", "settings": {"window_px": 5}}],
    "sieve": [{"operation": "sieve", "settings": {"least_px": 9}}],
    "fill": [{"operation": "fill", "settings": {"holes_px": 30}}],
    "recode": [{"operation": "recode", "settings": {"table": [{"code": 1, "to": 2}]}}],
    "edits": [
        {
            "operation": "edits",
            "settings": {"edits": [{"outline": OUTLINE, "becomes": {"code": 255}, "note": "odd"}]},
        }
    ],
    "masks": [
        {"operation": "mask-areas", "settings": {"areas": [OUTLINE], "mask": "inside"}},
        {"operation": "fill", "settings": {"holes_px": 300}},
    ],
    "chain": [
        {"operation": "sieve", "settings": {"least_px": 4}},
        {"operation": "majority", "settings": {"window_px": 3, "shape": "round"}},
    ],
}


@pytest.fixture
def made(small_study: SmallStudy) -> Layer:
    run = create_run(small_study.id, "Classifying", "map", map_order(small_study))
    perform_run(run.id)
    return list_maps(small_study.id)[0]


def same_pixels(one: Raster, other: Raster) -> bool:
    blocks = [raster.read(raster.grid.whole) for raster in (one, other)]
    return np.array_equal(blocks[0].values, blocks[1].values, equal_nan=True)


@pytest.mark.parametrize("name", CHAINS)
def test_a_preview_is_what_will_be_kept(made: Layer, name: str) -> None:
    told = [Step(one["operation"], one["settings"]) for one in CHAINS[name]]
    kept = open_recipe(with_steps(made.study_id, made, told), READER)
    preview = open_with_steps(made.id, json.dumps(CHAINS[name]))
    assert same_pixels(preview, kept)
    for window in (Window(0, 0, 40, 50), Window(31, 17, 40, 50), Window(31, 17, 40, 50)):
        parts = [raster.read(window).values for raster in (preview, kept)]
        assert np.array_equal(*parts, equal_nan=True)


def test_tiles_of_a_view_share_one_opening(made: Layer, monkeypatch: pytest.MonkeyPatch) -> None:
    opened: list[int] = []

    def count(*told: Any) -> Any:
        opened.append(1)
        return with_steps(*told)

    monkeypatch.setattr(study_steps, "with_steps", count)
    steps = [json.dumps(CHAINS[name]) for name in ("majority", "sieve")]
    first = [open_with_steps(made.id, one) for one in (steps[0], steps[0], steps[1], steps[0])]
    assert first[0] is first[1] is first[3] and first[2] is not first[0]
    assert len(opened) == 2


def test_a_map_that_was_kept_anew_is_read_from_its_new_file(made: Layer) -> None:
    steps = json.dumps(CHAINS["majority"])
    before = open_with_steps(made.id, steps).read(Window(0, 0, 60, 60)).values
    assert made.kept_path is not None
    moved = made.kept_path.replace(".tif", "-anew.tif")
    shutil.move(layer_path(made.kept_path), layer_path(moved))
    set_kept(made.id, moved)
    whole = open_with_steps(made.id, steps)
    assert np.array_equal(whole.read(Window(0, 0, 60, 60)).values, before, equal_nan=True)
    assert whole.read(whole.grid.whole).valid.any()
