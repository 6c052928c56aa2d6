"""What every clustering method in the registry must keep to."""

from functools import cache

import numpy as np
import pytest

from kitesort.core.classify.reading import read_classifier
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.classify.stored import (
    StoredClassifier,
    ToldClass,
    ToldClassifier,
    write_classifier,
)
from kitesort.core.cluster.groups import Groups, cluster_colours, find_groups
from kitesort.core.cluster.protocol import ClusteringSettings, CountedSettings
from kitesort.core.cluster.registry import CLUSTERINGS
from kitesort.core.cluster.sample import ClusterSample
from kitesort.core.engine import Watch
from kitesort.core.errors import CancelledError, InputError, TooFewPixelsError

ROLES = ("blue", "red", "nir")
MEANS = np.array([[0.06, 0.04, 0.02], [0.16, 0.21, 0.25], [0.03, 0.03, 0.22]])
SHARES = (600, 300, 100)

pytestmark = pytest.mark.parametrize("method", list(CLUSTERINGS))


def make_sample(seed: int = 0) -> ClusterSample:
    """Three kinds of ground, far apart, of different size."""
    rng = np.random.default_rng(seed)
    kinds = np.repeat(np.arange(3), SHARES)
    values = MEANS[kinds] + rng.normal(0, 0.01, (len(kinds), 3))
    order = rng.permutation(len(kinds))
    return sample_of(values[order])


def sample_of(values: np.ndarray) -> ClusterSample:
    n = len(values)
    at = np.arange(n)
    return ClusterSample(values.astype(np.float32), at // 40, at % 40, ROLES, n, True)


def settings_of(method: str, n: int = 3) -> ClusteringSettings:
    spec = CLUSTERINGS[method]
    if issubclass(spec.settings, CountedSettings):
        return spec.settings(n_clusters=n)
    return spec.settings.model_validate({"fewest": n, "most": n})


def find_anew(method: str, sample: ClusterSample, n: int = 3, seed: int = 0) -> Groups:
    return find_groups(sample, CLUSTERINGS[method], settings_of(method, n), seed)


@cache
def found(method: str) -> Groups:
    return find_anew(method, make_sample())


def test_known_groups_come_back_the_largest_first(method: str) -> None:
    assert found(method).sizes.tolist() == list(SHARES)
    assert np.allclose(found(method).means, MEANS, atol=0.003)
    assert np.allclose(found(method).spreads, 0.01, rtol=0.25)


def test_same_seed_same_clusters(method: str) -> None:
    again = find_anew(method, make_sample())
    assert np.array_equal(again.labels, found(method).labels)
    pixels = np.random.default_rng(5).uniform(0, 0.3, (3, 4000)).astype(np.float32)
    assert np.array_equal(again.model.scores(pixels), found(method).model.scores(pixels))


def test_pixels_are_told_one_by_one_and_as_the_scores_say(method: str) -> None:
    from kitesort.core.classify.decide import decide

    pixels = np.random.default_rng(5).uniform(0, 0.3, (3, 4000)).astype(np.float32)
    model = found(method).model
    whole = model.classify(pixels)
    parts = [model.classify(np.ascontiguousarray(p)) for p in np.array_split(pixels, 7, axis=1)]
    assert np.array_equal(whole, np.concatenate(parts))
    assert np.array_equal(whole, decide(model.scores(pixels), model.codes, model.lowest))


def test_units_of_a_layer_do_not_matter_on_one_scale(method: str) -> None:
    """The same groups whether a band is told in shares or in percent."""
    sample = make_sample()
    grown = sample_of(sample.values * np.array([1, 100, 1], np.float32))
    settings = settings_of(method).model_copy(update={"standardise": "always"})
    spec = CLUSTERINGS[method]
    first, second = (find_groups(one, spec, settings, 0) for one in (sample, grown))
    assert np.array_equal(first.labels, second.labels)


def test_it_comes_back_from_its_file_as_a_classifier(method: str) -> None:
    model, kind = found(method).model, found(method).method
    told = ToldClassifier(
        method=kind, method_version=CLASSIFIERS[kind].version, settings={}, roles=ROLES,
        quantities=("reflectance",) * 3, trained_on="", sentence="Grouped.",
        classes=tuple(
            ToldClass(code=int(c), name=f"Cluster {c}", colour="#123456") for c in model.codes
        ),
    )  # fmt: skip
    back = read_classifier(write_classifier(StoredClassifier(told, model))).model
    pixels = np.random.default_rng(5).uniform(0, 0.3, (3, 4000)).astype(np.float32)
    assert np.array_equal(back.scores(pixels), model.scores(pixels))


def test_it_can_be_cancelled(method: str) -> None:
    with pytest.raises(CancelledError):
        find_groups(
            make_sample(), CLUSTERINGS[method], settings_of(method), 0,
            watch=Watch(is_cancelled=lambda: True),
        )  # fmt: skip


def test_what_cannot_be_grouped_is_told(method: str) -> None:
    few = make_sample().where(np.arange(1000) < 99)
    with pytest.raises(TooFewPixelsError, match="Only 99 pixels"):
        find_anew(method, few)
    flat = make_sample().values.copy()
    flat[:, 1] = 0.2
    with pytest.raises(InputError, match="the same value in red"):
        find_anew(method, sample_of(flat))
    pair = np.tile(np.array([[0.1, 0.2, 0.3], [0.2, 0.1, 0.1]]), (80, 1))
    with pytest.raises(InputError, match="only 2 different pixels"):
        find_anew(method, sample_of(pair), n=5)


def test_rounds_are_told_in_words(method: str) -> None:
    rounds = found(method).rounds
    assert rounds and all(isinstance(one, str) and one for one in rounds)


def test_input_is_left_alone(method: str) -> None:
    sample = make_sample()
    before = sample.values.copy()
    sample.values.flags.writeable = False
    find_anew(method, sample)
    assert np.array_equal(sample.values, before)


def test_colours_are_all_different(method: str) -> None:
    assert method
    assert len(set(cluster_colours(60))) == 60
