"""A class map: a scene classified by what its training sites teach."""

from kitesort.core.classify.raster import class_map_raster
from kitesort.core.classify.training import Training, collect_samples, train
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.protocol import Raster


def _open(raster: Raster, training: Training, _: Context) -> Raster:
    samples, _remarks = collect_samples(training, raster)
    return class_map_raster(raster, train(training, samples), training.legend)


SPEC = Operation(
    id="classify",
    version=1,
    station="classify",
    title="Classify",
    good_for="A class for every pixel, from ground that is known.",
    source="The method's own",
    settings=Training,
    open=of_one(_open),
    say=lambda training: training.words,
    name=lambda _: "class map",
    leaves_out=lambda training: training.excluded,
    silent=frozenset({"classes"}),
)
