"""The classify run: load, train, compute, keep."""

import time

from kitesort.core.classify.raster import class_map_raster
from kitesort.core.engine import share_of
from kitesort.core.recipe import ClassMapRecipe, collect_samples, require_enough_pixels, train
from kitesort.runs.keep_map import keep_map
from kitesort.runs.reporter import Reporter
from kitesort.store.rasters import working_scene
from kitesort.store.records import Run

SAMPLING_SHARE = 0.1  # of a run's progress


def keep_class_map(run: Run) -> None:
    started = time.monotonic()
    recipe = ClassMapRecipe.model_validate(run.task)
    scene = working_scene(recipe.scene_id)
    reporter = Reporter(run.id)
    samples, remarks = collect_samples(
        recipe,
        scene,
        progress=share_of(reporter, SAMPLING_SHARE),
        is_cancelled=reporter.is_cancelled,
    )
    require_enough_pixels(samples, recipe)
    raster = class_map_raster(scene, train(recipe, samples), recipe.fingerprint)
    keep_map(run, recipe, raster, started, remarks, share_done=SAMPLING_SHARE)
