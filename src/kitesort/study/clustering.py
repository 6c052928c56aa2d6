"""Clusters of a scene as they are found on a sample: live, and as they are kept."""

import hashlib
import json
from dataclasses import dataclass
from typing import Any

import numpy as np
from pydantic import Field, ValidationError

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
from kitesort.core.errors import BadSettingsError, InputError
from kitesort.core.group_statistics import Float64Array
from kitesort.core.legend import UNCLASSIFIED, Legend, LegendEntry
from kitesort.core.raster.protocol import Raster, band_positions
from kitesort.core.recipe import Node
from kitesort.core.settings import Strict, describe_invalid, validate_settings
from kitesort.store.records import KeptClassifier
from kitesort.study.newest import Newest
from kitesort.study.rasters import layer_record, left_out_flags, open_layer, require_own
from kitesort.study.training import map_recipe, training_state

LIVE_PIXELS = 20_000
USUAL_CLUSTERS = 8
KEPT_SAMPLES = 6
KEPT_STATES = 24
MOST_SEED = 2**31 - 1
BY_DENSITY, BY_CENTRE = "maximum-likelihood", "minimum-distance"


class _Told(Strict):
    id: str = Field("k-means", max_length=80)
    settings: dict[str, Any] = {}
    seed: int = Field(0, ge=0, le=MOST_SEED)


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
    band_positions(open_layer(scene_id).bands, roles)
    spec = CLUSTERINGS[method]
    return ClusterOrder(scene_id, roles, spec, validate_settings(spec, settings), seed)


def parse_order(study_id: int, scene_id: int, roles: tuple[str, ...], text: str) -> ClusterOrder:
    """An order from a method as JSON: id, settings, seed.

    Raises
    ------
    BadSettingsError, NotFoundError, MissingRoleError, InputError
    """
    try:
        told = _Told.model_validate(json.loads(text or "{}"))
    except (ValidationError, RecursionError) as error:
        said = describe_invalid(error) if isinstance(error, ValidationError) else ""
        raise BadSettingsError(f"The method cannot be read. {said}") from error
    except ValueError as error:
        raise BadSettingsError("The method is no JSON.") from error
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

    def stored(self, scene: Raster, sentence: str) -> StoredClassifier:
        """As a classifier whose classes were found."""
        order, groups = self.order, self.groups
        method = BY_CENTRE if hasattr(groups.model, "means") else BY_DENSITY
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
                n_sampled=self.sample.n,
                n_usable=self.sample.n_usable,
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


def cluster_recipe(kept: KeptClassifier, scene_id: int, digest: str) -> Node:
    """The recipe of a map of a scene by a clustering that is kept."""
    return map_recipe(scene_id, "clusters", cluster_settings(kept, scene_id, digest))


def cluster_settings(kept: KeptClassifier, scene_id: int, digest: str) -> ClustersSettings:
    """Raises InputError : a classifier that was taught."""
    found = kept.told.clusters
    if found is None:
        raise InputError(f"“{kept.name}” was trained on sites, and is no clustering.")
    return ClustersSettings.model_validate(
        {
            "classifier": {
                "classifier_id": kept.id, "digest": digest, "name": kept.name,
                "method": kept.told.method,
            },
            "found_by": found.title.lower() if found.title != "ISODATA" else found.title,
            "n_clusters": len(kept.told.classes),
            "zero_is_fill": bool(found.settings.get("zero_is_fill", True)),
            "excluded": left_out_flags(scene_id),
        }
    )  # fmt: skip


_SampleKey = tuple[int, tuple[str, ...], int, bool]
_samples: Newest[_SampleKey, ClusterSample] = Newest(KEPT_SAMPLES)
_states: Newest[str, Found] = Newest(KEPT_STATES)
