"""Thousands of sites: how far their reading is, is seen, and it can be given up."""

import pytest

from kitesort.core.classify.training import collect_samples
from kitesort.core.engine import Progress, Watch
from kitesort.core.errors import CancelledError
from kitesort.runs import make_map, reporter
from kitesort.runs.perform import perform_run
from kitesort.store.runs import create_run, get_run, request_cancel
from kitesort.study.rasters import open_layer
from kitesort.study.training import make_training
from support.study import ROLES, SmallStudy, map_order


def test_reading_of_sites_tells_how_far_it_is_and_ends_when_it_shall(
    small_study: SmallStudy,
) -> None:
    recipe = make_training(small_study.id, small_study.scene_id, ROLES)
    raster = open_layer(small_study.scene_id)
    told: list[Progress] = []
    collect_samples(recipe, raster, watch=Watch(told.append))
    done = [p.done for p in told]
    assert len(done) > 1 and done == sorted(done) and done[-1] == 1
    assert told[-1].seconds_left == 0
    told.clear()
    with pytest.raises(CancelledError):
        collect_samples(recipe, raster, watch=Watch(told.append, lambda: len(told) == 1))
    assert len(told) == 1


def test_a_run_is_cancelled_while_it_reads_its_sites(
    small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    run = create_run(small_study.id, "Classifying", "map", map_order(small_study))
    monkeypatch.setattr("kitesort.runs.reporter.SECONDS_BETWEEN_REPORTS", 0.0)
    percents: list[float] = []
    original = reporter.Reporter.__call__

    def listen(self: reporter.Reporter, progress: Progress) -> None:
        percents.append(100 * progress.done)
        request_cancel(run.id)
        original(self, progress)

    monkeypatch.setattr(reporter.Reporter, "__call__", listen)
    perform_run(run.id)
    assert get_run(run.id).state == "cancelled"
    assert len(percents) == 1, "at the next block"
    assert 0 < percents[0] <= 100 * make_map.SAMPLING_SHARE
