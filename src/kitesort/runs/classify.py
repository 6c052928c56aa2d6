"""The classify run: load, train, compute, keep."""

import time

from kitesort.core.classify.raster import class_map_raster
from kitesort.core.raster.cog import write_class_map
from kitesort.core.recipe import ClassMapRecipe, collect_samples, require_enough_pixels, train
from kitesort.runs.reporter import Reporter
from kitesort.store.database import transaction
from kitesort.store.files import layer_path
from kitesort.store.layers import add_layer
from kitesort.store.rasters import working_scene
from kitesort.store.records import Run
from kitesort.store.runs import finish_run


def keep_class_map(run: Run) -> None:
    started = time.monotonic()
    reporter = Reporter(run.id)
    recipe = ClassMapRecipe.model_validate(run.task)
    scene = working_scene(recipe.scene_id)
    samples, remarks = collect_samples(recipe, scene)
    require_enough_pixels(samples, recipe)
    model = train(recipe, samples)
    name = f"class-map-run-{run.id}.tif"
    result = write_class_map(
        class_map_raster(scene, model, recipe.fingerprint),
        recipe.legend,
        layer_path(name),
        tags={"recipe": recipe.model_dump_json(), "recipe_in_words": recipe.sentence},
        progress=reporter,
        is_cancelled=reporter.is_cancelled,
    )
    seconds = time.monotonic() - started
    with transaction():
        layer = add_layer(run.study_id, recipe, name, result, seconds)
        said = [*remarks, f"Kept as “{layer.name}” after {seconds:.1f} s."]
        finish_run(run.id, said, layer_id=layer.id)
