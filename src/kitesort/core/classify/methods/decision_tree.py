"""One decision tree, which can be read."""

from pydantic import Field

from kitesort.core.classify.methods._forest import forest_of, restore
from kitesort.core.classify.methods._learning import (
    by_name,
    codes_of,
    in_one_order,
    require_classes,
)
from kitesort.core.classify.protocol import ClassifierSpec, TrainedClassifier
from kitesort.core.engine import Watch
from kitesort.core.settings import Settings
from kitesort.core.training.samples import TrainingSamples


class DecisionTreeSettings(Settings):
    deepest: int = Field(
        8,
        title="Deepest",
        description="Questions one after another at most; a shallow tree is easy to read and "
        "follows odd pixels less.",
        ge=1,
        le=40,
    )
    least_leaf: int = Field(
        5,
        title="Pixels in a leaf",
        description="Training pixels that an answer rests on at least.",
        ge=1,
        le=100_000,
    )


def fit(
    samples: TrainingSamples, settings: Settings, seed: int, _watch: Watch
) -> TrainedClassifier:
    """Splits by Gini's impurity; every class weighs as much as its training pixels.

    Raises
    ------
    TooFewClassesError : fewer than two classes.

    Source: Breiman, Friedman, Olshen & Stone 1984, Classification and Regression Trees.
    """
    from sklearn.tree import DecisionTreeClassifier  # slow to import, and only needed to learn

    assert isinstance(settings, DecisionTreeSettings)
    require_classes(samples)
    ordered = in_one_order(samples)
    grown = DecisionTreeClassifier(
        max_depth=settings.deepest, min_samples_leaf=settings.least_leaf, random_state=seed
    ).fit(ordered.values[:, by_name(samples.roles)], ordered.codes)
    return forest_of(samples.roles, codes_of(ordered), [grown.tree_])


SPEC = ClassifierSpec(
    id="decision-tree",
    version=1,
    title="Decision tree",
    good_for="Rules that can be read and told: a few questions, each about one layer.",
    source="Breiman, Friedman, Olshen & Stone 1984, Classification and Regression Trees",
    settings=DecisionTreeSettings,
    scores="probability",
    fit=fit,
    restore=restore,
    draws=True,
)
