"""Many trees, each grown on its own draw of pixels and layers."""

import warnings
from typing import Literal

from pydantic import Field

from kitesort.core.classify.methods._forest import forest_of, restore
from kitesort.core.classify.methods._learning import (
    by_name,
    codes_of,
    in_one_order,
    require_classes,
)
from kitesort.core.classify.protocol import ClassifierSpec, TrainedClassifier
from kitesort.core.engine import Watch, steps
from kitesort.core.settings import Settings, titled
from kitesort.core.training.samples import TrainingSamples

BATCH = 10  # trees between two looks at whether it is still wanted


class RandomForestSettings(Settings):
    n_trees: int = Field(
        100,
        title="Trees",
        description="More make steadier scores and take longer; beyond a hundred little changes.",
        ge=1,
        le=1000,
    )
    deepest: int = Field(
        0,
        title="Deepest",
        description="Questions one after another at most; 0: as deep as the pixels allow.",
        ge=0,
        le=60,
    )
    least_leaf: int = Field(
        1,
        title="Pixels in a leaf",
        description="Training pixels that an answer rests on at least; more make calmer scores.",
        ge=1,
        le=100_000,
    )
    layers: Literal["root", "third", "all"] = Field(
        "root",
        title="Layers asked at a split",
        description="Drawn anew for every split; few make the trees differ, which is what their "
        "vote lives on.",
        json_schema_extra=titled(
            {"root": "square root of their number", "third": "a third", "all": "all"}
        ),
    )


DRAWN: dict[str, str | float | None] = {"root": "sqrt", "third": 1 / 3, "all": None}


def fit(samples: TrainingSamples, settings: Settings, seed: int, watch: Watch) -> TrainedClassifier:
    """Each tree is grown on as many pixels as there are, drawn with replacement.

    Raises
    ------
    TooFewClassesError : fewer than two classes. CancelledError

    Source: L. Breiman 2001, Machine Learning 45:5-32.
    """
    from sklearn.ensemble import RandomForestClassifier  # slow to import, only needed to learn

    assert isinstance(settings, RandomForestSettings)
    require_classes(samples)
    ordered = in_one_order(samples)
    forest = RandomForestClassifier(
        n_estimators=0,
        warm_start=True,
        max_depth=settings.deepest or None,
        min_samples_leaf=settings.least_leaf,
        max_features=DRAWN[settings.layers],
        random_state=seed,
        n_jobs=-1,
    )
    values = ordered.values[:, by_name(samples.roles)]
    numbers = [*range(BATCH, settings.n_trees, BATCH), settings.n_trees]
    with warnings.catch_warnings():
        # The learner's threads empty the list of filters in turn, and warn when they find it so.
        warnings.simplefilter("ignore", UserWarning)
        for n_trees in steps(numbers, watch):
            forest.set_params(n_estimators=n_trees).fit(values, ordered.codes)
    grown = [tree.tree_ for tree in forest.estimators_]
    return forest_of(samples.roles, codes_of(ordered), grown)


SPEC = ClassifierSpec(
    id="random-forest",
    version=1,
    title="Random forest",
    good_for="Many layers of any unit, classes of any shape; forgives odd sites.",
    source="Breiman 2001, Machine Learning 45:5-32",
    settings=RandomForestSettings,
    scores="probability",
    fit=fit,
    restore=restore,
    draws=True,
    slow=True,
)
