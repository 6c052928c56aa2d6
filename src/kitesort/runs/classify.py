"""The classify run: load, train, compute, keep."""

import time

from kitesort.core.classify.raster import class_map_raster
from kitesort.core.classify.stored import StoredClassifier, ToldClass, ToldClassifier
from kitesort.core.engine import Watch, share_of
from kitesort.core.raster.protocol import Raster
from kitesort.core.recipe import ClassMapRecipe, collect_samples, require_enough_pixels, train
from kitesort.runs.keep_map import keep_map
from kitesort.runs.reporter import Reporter
from kitesort.store.classifiers import keep_classifier
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
    model = train(recipe, samples, Watch(is_cancelled=reporter.is_cancelled))
    stored = StoredClassifier(_tell(recipe, scene), model)
    file = f"classifier-run-{run.id}.zip"
    keep_map(
        run,
        recipe,
        class_map_raster(scene, model, recipe.fingerprint),
        started,
        remarks,
        share_done=SAMPLING_SHARE,
        also=lambda layer: keep_classifier(run.study_id, layer.name, stored, file),
    )


def _tell(recipe: ClassMapRecipe, scene: Raster) -> ToldClassifier:
    """The classes that were trained, the bands by what they see and what their values mean."""
    trained = {site.code for site in recipe.sites}
    means = {band.role: band.quantity for band in scene.bands}
    return ToldClassifier(
        method=recipe.method,
        method_version=recipe.method_version,
        settings=recipe.settings,
        seed=recipe.seed,
        roles=recipe.roles,
        quantities=tuple(means[role] for role in recipe.roles),
        classes=tuple(
            ToldClass(code=c.code, name=c.name, colour=c.colour)
            for c in recipe.classes
            if c.code in trained
        ),
        trained_on=recipe.trained_on,
        sentence=recipe.sentence,
    )
