"""The run that keeps a class map made by breaks."""

import time

from kitesort.core.derive.breaks_recipe import BreaksRecipe
from kitesort.runs.keep_map import keep_map
from kitesort.store.rasters import working_scene
from kitesort.store.records import Run

KIND = "breaks"


def keep_breaks(run: Run) -> None:
    started = time.monotonic()
    recipe = BreaksRecipe.model_validate(run.task)
    keep_map(run, recipe, recipe.open(working_scene(recipe.scene_id)), started)
