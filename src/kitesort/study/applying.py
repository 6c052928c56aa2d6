"""Trained classifiers put to use: on which scenes, with what in mind, and what they give beside a
map."""

from dataclasses import dataclass

import numpy as np

from kitesort.core.classify.conformal import LEVEL
from kitesort.core.classify.given import GivenClassifier, given_of, open_given, require_fitting
from kitesort.core.classify.operations.apply import SPEC as APPLY
from kitesort.core.classify.operations.apply import ApplySettings
from kitesort.core.classify.operations.clusters import ClustersSettings
from kitesort.core.classify.operations.surety import SPEC as SURETY
from kitesort.core.classify.operations.surety import Given, SuretySettings
from kitesort.core.classify.stored import StoredClassifier, ToldClassifier
from kitesort.core.classify.trained import medians
from kitesort.core.classify.training import Training
from kitesort.core.errors import InputError
from kitesort.core.newest import Newest
from kitesort.core.operation import Context
from kitesort.core.recipe import LayerLeaf, Node, Recipe, open_recipe, parents_of, source_of
from kitesort.store.classifiers import classifier_content, list_classifiers
from kitesort.store.layers import free_title, recipe_of
from kitesort.store.records import KeptClassifier, Layer
from kitesort.store.scenes import derive_scene
from kitesort.study.clustering import cluster_recipe
from kitesort.study.rasters import READER, layer_record, left_out_flags, open_layer
from kitesort.study.training import map_recipe
from kitesort.study.where import under_steps

UNLIKE = 0.1  # of a band's median: a scene that differs by less is like the one trained on
MOST_TOLD = 3
KEPT_MEDIANS = 64
_medians: Newest[tuple[int, tuple[str, ...]], tuple[float, ...]] = Newest(KEPT_MEDIANS)


@dataclass(frozen=True)
class Fit:
    """Whether a classifier can be put on a scene: ``problem`` says why not, ``remarks`` what to
    keep in mind."""

    scene_id: int
    problem: str | None
    remarks: tuple[str, ...]


def given_classifier(kept: KeptClassifier) -> GivenClassifier:
    return given_of(kept.id, classifier_content(kept.id), kept.name, kept.told)


def stored_classifier(given: GivenClassifier) -> StoredClassifier:
    """What settings name.

    Raises
    ------
    NotFoundError, BadClassifierError
    """
    return open_given(given, Context(READER.open_layer, read_classifier=classifier_content))


def check_fit(kept: KeptClassifier, scene_id: int) -> Fit:
    """Roles, quantity, and how like the values are to those of the scene that was trained on."""
    told = kept.told
    try:
        require_fitting(open_layer(scene_id), told)
    except InputError as error:
        return Fit(scene_id, error.sentence, ())
    return Fit(scene_id, None, tuple(_differences(told, scene_id)))


def _differences(told: ToldClassifier, scene_id: int) -> list[str]:
    """In words, the bands that differ most first; nothing where nothing is known."""
    if told.scene is None or not told.scene.medians:
        return []
    key = scene_id, told.roles
    here = _medians.get(key, lambda: medians(open_layer(scene_id, "work"), told.roles))
    if not here:
        return ["It has no usable pixel."]
    then, now = np.array(told.scene.medians), np.array(here)
    with np.errstate(divide="ignore", invalid="ignore"):
        change = np.where(then > 0, now / then - 1, 0.0)
    worst = [int(i) for i in np.argsort(-np.abs(change)) if abs(change[i]) >= UNLIKE][:MOST_TOLD]
    if not worst:
        return []
    each = [
        f"{100 * abs(change[i]):.0f} % {'brighter' if change[i] > 0 else 'darker'} in "
        f"{told.roles[i]}"
        for i in worst
    ]
    said = " and ".join([", ".join(each[:-1]), each[-1]] if len(each) > 1 else each)
    title = layer_record(scene_id).title
    return [f"{title} is {said} than {told.scene.title}, which this was trained on."]


def apply_recipe(kept: KeptClassifier, scene_id: int) -> Node:
    """The recipe of a class map of a scene by a trained classifier, opened once.

    Raises
    ------
    MissingRoleError, InputError, BadClassifierError
    """
    given = given_classifier(kept)
    if kept.told.clusters is not None:
        recipe = cluster_recipe(given, kept.told, scene_id)
    else:
        settings = ApplySettings(classifier=given, excluded=left_out_flags(scene_id))
        recipe = map_recipe(scene_id, APPLY.id, settings)
    _ = open_recipe(recipe, READER).grid
    return recipe


def made_first(layer_id: int) -> Recipe:
    """The recipe of the map that a map was made of by steps; its own where it was made of none."""
    recipe = recipe_of(layer_id)
    source = source_of(recipe)
    return made_first(source.layer_id) if isinstance(source, LayerLeaf) else recipe


def classifier_behind(layer: Layer) -> GivenClassifier:
    """The trained classifier that made a class map, steps since aside.

    Raises
    ------
    InputError : none did, or it is not kept any more.
    """
    source = source_of(made_first(layer.id))
    settings = source.checked if isinstance(source, Node) else None
    if isinstance(settings, Training):
        for kept in list_classifiers(layer.study_id):
            if _is_trained_so(kept.told, settings):
                return given_classifier(kept)
    if isinstance(settings, ApplySettings | ClustersSettings):
        return settings.classifier
    raise InputError(
        f"No trained classifier is kept that made “{layer.title}”, so that nobody knows how sure "
        "it was. Classify again."
    )


def _is_trained_so(told: ToldClassifier, training: Training) -> bool:
    return (
        told.trained_on == training.sites_fingerprint
        and told.method == training.method
        and told.settings == training.settings
        and told.seed == training.seed
        and told.roles == training.roles
    )


def surety_of(layer: Layer, give: tuple[Given, ...], level: float = LEVEL) -> Layer:
    """A layer that tells how sure the classifier behind a class map is.

    Raises
    ------
    InputError : none is kept, it does not know, or the map was made in another way.
    """
    given, recipe = classifier_behind(layer), made_first(layer.id)
    assert isinstance(recipe, Node)
    return add_surety(layer.study_id, recipe, given, give, level)


def add_surety(
    study_id: int,
    of: Node,
    given: GivenClassifier,
    give: tuple[Given, ...],
    level: float = LEVEL,
) -> Layer:
    """A layer that tells how sure the classifier is, of the scene that a map was made of, and of
    the same part of it.

    Raises
    ------
    InputError : the classifier does not know.
    """
    recipe = surety_recipe(of, given, give, level)
    _ = open_recipe(recipe, READER).grid
    return derive_scene(study_id, recipe, free_title(study_id, f"How sure, {given.name}"))


def surety_recipe(
    of: Node, given: GivenClassifier, give: tuple[Given, ...], level: float = LEVEL
) -> Node:
    """How sure a classifier is, of the scene that a map is made of, under the map's steps."""
    (scene_id,) = parents_of(of)
    excluded = left_out_flags(scene_id)
    settings = SuretySettings(classifier=given, give=give, level=level, excluded=excluded)
    return under_steps(map_recipe(scene_id, SURETY.id, settings), of)
