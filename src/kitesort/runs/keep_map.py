"""What every run that keeps a class map has in common: compute, write, record, say so."""

import time
from collections.abc import Callable, Sequence

from kitesort.core.engine import rest_of
from kitesort.core.raster.cog import write_class_map
from kitesort.core.raster.protocol import Raster
from kitesort.runs.reporter import Reporter
from kitesort.store.database import transaction
from kitesort.store.files import layer_path
from kitesort.store.layers import add_layer
from kitesort.store.records import AnyMapRecipe, Layer, Run
from kitesort.store.runs import finish_run


def keep_map(
    run: Run,
    recipe: AnyMapRecipe,
    raster: Raster,
    started: float,
    remarks: Sequence[str] = (),
    *,
    share_done: float = 0.0,
    also: Callable[[Layer], None] = lambda _: None,
) -> None:
    """``started``: when the run began, by the monotonic clock; ``remarks`` go into its log;
    ``share_done``: how much of the run's work lies behind it; ``also``: what is recorded with the
    map, or not at all.

    Raises
    ------
    DiskFullError, StorageError, CancelledError
    """
    reporter = Reporter(run.id)
    name = f"class-map-run-{run.id}.tif"
    result = write_class_map(
        raster,
        recipe.legend,
        layer_path(name),
        tags={"recipe": recipe.model_dump_json(), "recipe_in_words": recipe.sentence},
        progress=rest_of(reporter, share_done),
        is_cancelled=reporter.is_cancelled,
    )
    seconds = time.monotonic() - started
    with transaction():
        layer = add_layer(run.study_id, recipe, name, result, raster.grid, seconds)
        also(layer)
        said = [*remarks, f"Kept as “{layer.name}” after {seconds:.1f} s."]
        finish_run(run.id, said, layer_id=layer.id)
