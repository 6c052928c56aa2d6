"""Thousands of sites: how far their reading is, is seen, and it can be given up."""

import pytest

from kitesort.core.engine import Progress
from kitesort.core.errors import CancelledError
from kitesort.core.recipe import collect_samples
from kitesort.runs import classify
from kitesort.runs.perform import perform_run
from kitesort.store.rasters import usable_scene
from kitesort.store.runs import create_run, get_run, request_cancel
from kitesort.store.training import make_recipe
from support.study import ROLES, SmallStudy


def test_reading_of_sites_tells_how_far_it_is_and_ends_when_it_shall(
    small_study: SmallStudy,
) -> None:
    recipe = make_recipe(small_study.id, small_study.scene_id, ROLES)
    raster = usable_scene(small_study.scene_id)
    told: list[Progress] = []
    collect_samples(recipe, raster, progress=told.append)
    n_sites = len(recipe.sites)
    assert [p.done for p in told] == [(i + 1) / n_sites for i in range(n_sites)]
    assert told[-1].seconds_left == 0
    told.clear()
    with pytest.raises(CancelledError):
        collect_samples(recipe, raster, progress=told.append, is_cancelled=lambda: len(told) == 2)
    assert len(told) == 2


def test_a_run_is_cancelled_while_it_reads_its_sites(
    small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    recipe = make_recipe(small_study.id, small_study.scene_id, ROLES)
    run = create_run(small_study.id, "Classifying", "classify", recipe.model_dump(mode="json"))
    monkeypatch.setattr("kitesort.runs.reporter.SECONDS_BETWEEN_REPORTS", 0.0)
    percents: list[float] = []
    original = classify.Reporter.__call__

    def listen(self: classify.Reporter, progress: Progress) -> None:
        percents.append(100 * progress.done)
        request_cancel(run.id)
        original(self, progress)

    monkeypatch.setattr(classify.Reporter, "__call__", listen)
    perform_run(run.id)
    assert get_run(run.id).state == "cancelled"
    assert len(percents) == 1, "at the next site"
    assert 0 < percents[0] <= 100 * classify.SAMPLING_SHARE
