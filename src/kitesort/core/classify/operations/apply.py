"""A class map by a classifier that was trained before, perhaps on another scene."""

from pydantic import Field

from kitesort.core.classify.given import (
    GivenClassifier,
    legend_of,
    open_given,
    require_fitting,
)
from kitesort.core.classify.raster import class_map_raster
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import Settings


class ApplySettings(Settings):
    classifier: GivenClassifier = Field(title="Classifier")
    excluded: tuple[str, ...] = Field((), title="Left out")


def _open(raster: Raster, settings: ApplySettings, context: Context) -> Raster:
    stored = open_given(settings.classifier, context)
    require_fitting(raster, stored.told)
    return class_map_raster(raster, stored.model, legend_of(stored.told))


def _say(settings: ApplySettings) -> str:
    given = settings.classifier
    method = CLASSIFIERS[given.method].title.lower()
    return f"classified by {method} as trained in “{given.name}”"


SPEC = Operation(
    id="apply-classifier",
    version=1,
    station="classify",
    title="Trained classifier",
    good_for="Another date or place, classified by what was learnt before.",
    source="The method's own",
    settings=ApplySettings,
    open=of_one(_open),
    say=_say,
    name=lambda _: "class map",
    leaves_out=lambda s: s.excluded,
    silent=frozenset({"classifier_id", "name"}),
)
