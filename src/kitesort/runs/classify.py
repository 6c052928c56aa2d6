"""The classify run: load, train, compute, keep."""

import time

from kitesort.core.classify.raster import class_map_raster
from kitesort.core.recipe import ClassMapRecipe, collect_samples, require_enough_pixels, train
from kitesort.runs.keep_map import keep_map
from kitesort.store.rasters import working_scene
from kitesort.store.records import Run


def keep_class_map(run: Run) -> None:
    started = time.monotonic()
    recipe = ClassMapRecipe.model_validate(run.task)
    scene = working_scene(recipe.scene_id)
    samples, remarks = collect_samples(recipe, scene)
    require_enough_pixels(samples, recipe)
    raster = class_map_raster(scene, train(recipe, samples), recipe.fingerprint)
    keep_map(run, recipe, raster, started, remarks)
