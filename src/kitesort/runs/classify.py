"""The classify run: load, train, compute, keep."""

import time

from kitesort.core.classify.raster import class_map_raster
from kitesort.core.engine import Progress
from kitesort.core.errors import CancelledError, KiteSortError
from kitesort.core.raster.cog import write_class_map
from kitesort.core.recipe import collect_samples, require_enough_pixels, train
from kitesort.store.database import transaction
from kitesort.store.files import layer_path
from kitesort.store.layers import add_layer
from kitesort.store.rasters import usable_scene
from kitesort.store.records import Run
from kitesort.store.runs import end_cancelled, fail_run, finish_run, report_progress, start_run

SECONDS_BETWEEN_REPORTS = 0.25


class Reporter:
    """Stores progress now and then, and remembers whether the user wants to stop."""

    def __init__(self, run_id: int) -> None:
        self._run_id = run_id
        self._last = 0.0
        self.cancelled = False

    def __call__(self, progress: Progress) -> None:
        now = time.monotonic()
        if now - self._last >= SECONDS_BETWEEN_REPORTS:
            self._last = now
            self.cancelled = report_progress(
                self._run_id, 100 * progress.done, progress.seconds_left
            )

    def is_cancelled(self) -> bool:
        return self.cancelled


def classify_run(run_id: int) -> None:
    """Do a queued run; every outcome ends as a sentence in its row."""
    run = start_run(run_id)
    if run is None:
        return
    try:
        _keep_class_map(run)
    except CancelledError:
        end_cancelled(run_id)
    except KiteSortError as error:
        fail_run(run_id, error.sentence)
    except Exception:
        fail_run(
            run_id,
            "Something unexpected went wrong; nothing half-written was kept. "
            "The settings are kept: start the run again, and look at the server's log.",
        )
        raise


def _keep_class_map(run: Run) -> None:
    started = time.monotonic()
    reporter = Reporter(run.id)
    recipe = run.recipe
    scene = usable_scene(recipe.scene_id, recipe.excluded)
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
        finish_run(run.id, layer.id, [*remarks, f"Kept as “{layer.name}” after {seconds:.1f} s."])
