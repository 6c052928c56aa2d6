"""Clusters of a scene as they are found on a sample: live, and as they are kept."""

import hashlib
from dataclasses import dataclass
from typing import Any

import numpy as np

from kitesort.core.classify.given import GivenClassifier
from kitesort.core.classify.operations.clusters import SPEC as CLUSTERS
from kitesort.core.classify.operations.clusters import ClustersSettings
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.classify.stored import (
    StoredClassifier,
    ToldClass,
    ToldClassifier,
    ToldClusters,
    ToldScene,
)
from kitesort.core.classify.trained import medians
from kitesort.core.cluster.groups import Groups, cluster_colours, find_groups, has_mixed_units
from kitesort.core.cluster.protocol import ClusteringSettings, ClusteringSpec, CountedSettings
from kitesort.core.cluster.registry import CLUSTERINGS
from kitesort.core.cluster.sample import ClusterSample, read_sample
from kitesort.core.engine import UNWATCHED, Watch
from kitesort.core.errors import InputError
from kitesort.core.group_statistics import Float64Array
from kitesort.core.legend import UNCLASSIFIED, Legend, LegendEntry
from kitesort.core.newest import Newest
from kitesort.core.raster.protocol import Raster, band_positions
from kitesort.core.recipe import Node
from kitesort.core.settings import validate_settings
from kitesort.study.method import ToldMethod, read_told
from kitesort.study.rasters import layer_record, left_out_flags, open_layer, require_own
from kitesort.study.training import map_recipe, training_state

LIVE_PIXELS = 20_000
USUAL_CLUSTERS = 8
KEPT_SAMPLES = 6
KEPT_STATES = 24
USUAL_METHOD = ToldMethod(id="k-means")


@dataclass(frozen=True)
class ClusterOrder:
    """What is clustered, and how."""

    scene_id: int
    roles: tuple[str, ...]
    spec: ClusteringSpec
    settings: ClusteringSettings
    seed: int

    @property
    def version(self) -> str:
        told = (self.scene_id, self.roles, self.spec.id, self.spec.version, repr(self.settings))
        return hashlib.blake2s(repr((told, self.seed)).encode(), digest_size=8).hexdigest()


def make_order(
    study_id: int,
    scene_id: int,
    roles: tuple[str, ...],
    method: str,
    settings: dict[str, Any],
    seed: int,
) -> ClusterOrder:
    """Raises NotFoundError, MissingRoleError, InputError, BadSettingsError"""
    require_own(study_id, [scene_id])
    if not roles:
        raise InputError("Choose at least one band.")
    if len(set(roles)) < len(roles):
        raise InputError("A band is chosen more than once. Choose each once.")
    band_positions(open_layer(scene_id).bands, roles)
    spec = CLUSTERINGS[method]
    return ClusterOrder(scene_id, roles, spec, validate_settings(spec, settings), seed)


def parse_order(study_id: int, scene_id: int, roles: tuple[str, ...], text: str) -> ClusterOrder:
    """An order from a method as JSON: id, settings, seed.

    Raises
    ------
    BadSettingsError, NotFoundError, MissingRoleError, InputError
    """
    told = read_told(text) if text else USUAL_METHOD
    return make_order(study_id, scene_id, roles, told.id, told.settings, told.seed)


@dataclass(frozen=True)
class Found:
    """The clusters of a sample, and the sample."""

    order: ClusterOrder
    sample: ClusterSample
    groups: Groups

    @property
    def legend(self) -> Legend:
        return (*(LegendEntry(c.code, c.name, c.colour) for c in self._classes), UNCLASSIFIED)

    @property
    def _classes(self) -> list[ToldClass]:
        sizes = self.groups.sizes
        return [
            ToldClass(code=i + 1, name=f"Cluster {i + 1}", colour=colour)
            for i, colour in enumerate(cluster_colours(len(sizes)))
        ]

    @property
    def n_looked_at(self) -> int:
        """Pixels: the sample's, or all of the scene's where it went on."""
        return int(self.groups.sizes.sum())

    def stored(self, scene: Raster, sentence: str) -> StoredClassifier:
        """As a classifier whose classes were found."""
        order, groups = self.order, self.groups
        method = groups.method
        bands = {band.role: band.quantity for band in scene.bands}
        told = ToldClassifier(
            method=method,
            method_version=CLASSIFIERS[method].version,
            settings={},
            seed=order.seed,
            roles=order.roles,
            quantities=tuple(bands[role] for role in order.roles),
            classes=tuple(self._classes),
            trained_on="",
            sentence=sentence,
            scene=ToldScene(
                title=layer_record(order.scene_id).title, medians=medians(scene, order.roles)
            ),
            clusters=ToldClusters(
                method=order.spec.id,
                title=order.spec.title,
                version=order.spec.version,
                settings=order.settings.model_dump(mode="json"),
                seed=order.seed,
                n_sampled=self.n_looked_at,
                n_usable=max(self.n_looked_at, self.sample.n_usable),
                sizes=tuple(int(n) for n in groups.sizes),
                rounds=groups.rounds,
            ),
        )
        return StoredClassifier(told, groups.model)


def find_clusters(order: ClusterOrder, most: int | None = None, watch: Watch = UNWATCHED) -> Found:
    """Clusters of at most so many pixels of the scene; of as many as the settings say where nothing
    is said.

    Raises
    ------
    InputError, TooFewPixelsError, CancelledError
    """
    wanted = order.settings.n_sampled
    sample = _sample(order, wanted if most is None else min(most, wanted), watch)
    scene = open_layer(order.scene_id)
    groups = find_groups(
        sample,
        order.spec,
        order.settings,
        order.seed,
        mixed_units=has_mixed_units(scene, order.roles),
        known=known_means(order),
        scene=open_layer(order.scene_id, "work") if most is None else None,
        watch=watch,
    )
    return Found(order, sample, groups)


def live_clusters(order: ClusterOrder) -> Found:
    """As ``find_clusters``, on few pixels, of many clusters on fewer, remembered."""
    settings = order.settings
    k = settings.n_clusters if isinstance(settings, CountedSettings) else USUAL_CLUSTERS
    most = LIVE_PIXELS * USUAL_CLUSTERS // max(k, USUAL_CLUSTERS)
    return _states.get(order.version, lambda: find_clusters(order, most))


def remembered_clusters(version: str) -> Found | None:
    return _states.find(version)


def known_means(order: ClusterOrder) -> Float64Array | None:
    """Means (classes, bands) of the classes that have sites, where the settings ask for them."""
    if getattr(order.settings, "start", None) != "classes":
        return None
    study_id = layer_record(order.scene_id).study_id
    statistics = training_state(study_id, order.scene_id, order.roles).statistics
    return np.stack([s.mean for s in statistics.values()]) if statistics else None


def sample_of(order: ClusterOrder, most: int = LIVE_PIXELS) -> ClusterSample:
    """Pixels of the scene, remembered."""
    return _sample(order, min(most, order.settings.n_sampled), UNWATCHED)


def _sample(order: ClusterOrder, most: int, watch: Watch) -> ClusterSample:
    zero_is_fill = order.settings.zero_is_fill
    key = order.scene_id, order.roles, most, zero_is_fill
    scene = open_layer(order.scene_id, "work")
    return _samples.get(key, lambda: read_sample(scene, order.roles, most, zero_is_fill, watch))


def cluster_recipe(given: GivenClassifier, told: ToldClassifier, scene_id: int) -> Node:
    """The recipe of a map of a scene by a clustering that is kept.

    Raises
    ------
    InputError : a classifier that was taught.
    """
    found = told.clusters
    if found is None:
        raise InputError(f"“{given.name}” was trained on sites, and is no clustering.")
    settings = ClustersSettings(
        classifier=given,
        found_by=found.title,
        n_clusters=len(told.classes),
        zero_is_fill=bool(found.settings.get("zero_is_fill", True)),
        excluded=left_out_flags(scene_id),
    )
    return map_recipe(scene_id, CLUSTERS.id, settings)


_SampleKey = tuple[int, tuple[str, ...], int, bool]
_samples: Newest[_SampleKey, ClusterSample] = Newest(KEPT_SAMPLES)
_states: Newest[str, Found] = Newest(KEPT_STATES)
