"""What every classifier in the registry must keep to, whatever its method."""

import io
import json
import pickle
import zipfile
from collections.abc import Iterator
from dataclasses import replace
from functools import cache

import numpy as np
import numpy.typing as npt
import pytest

from kitesort.core.classify.decide import decide
from kitesort.core.classify.protocol import TrainedClassifier
from kitesort.core.classify.raster import class_map_raster
from kitesort.core.classify.reading import read_classifier
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.classify.stored import (
    StoredClassifier,
    ToldCheck,
    ToldClass,
    ToldClassifier,
    ToldScene,
    ToldShare,
    write_classifier,
)
from kitesort.core.engine import Watch
from kitesort.core.errors import InputError, TooFewClassesError, TrainingError
from kitesort.core.legend import CodeArray
from kitesort.core.raster.protocol import MissingRoleError
from kitesort.core.training.samples import TrainingSamples
from support.arrays import ArrayRaster

ROLES = ("blue", "red", "nir")
NAMES = {3: "Water", 7: "Sand", 9: "Wood"}
MEANS = {3: (0.06, 0.04, 0.02), 7: (0.16, 0.21, 0.25), 9: (0.03, 0.03, 0.22)}

SMALL = {"boosted-trees": {"rounds": 11}, "random-forest": {"n_trees": 21}}  # beyond one batch

pytestmark = pytest.mark.parametrize("method", list(CLASSIFIERS))


def make_samples(seed: int = 0, n: int = 60) -> TrainingSamples:
    rng = np.random.default_rng(seed)
    values = np.concatenate([rng.normal(mean, 0.01, (n, 3)) for mean in MEANS.values()])
    codes = np.repeat(np.array(list(MEANS), np.uint16), n)
    return TrainingSamples.of_pixels(values.astype(np.float32), codes, ROLES, NAMES)


def make_pixels(n: int = 5000, seed: int = 1) -> npt.NDArray[np.float32]:
    return np.random.default_rng(seed).uniform(0, 0.3, (3, n)).astype(np.float32)


def fit_anew(method: str, samples: TrainingSamples) -> TrainedClassifier:
    spec = CLASSIFIERS[method]
    return spec.fit(samples, spec.settings(**SMALL.get(method, {})), 0, Watch())


@cache
def fitted(method: str) -> TrainedClassifier:
    """Trained once: immutable."""
    return fit_anew(method, make_samples())


def test_its_own_training_pixels_come_back(method: str) -> None:
    samples = make_samples()
    got = fitted(method).classify(np.ascontiguousarray(samples.values.T))
    assert (got == samples.codes).mean() > 0.99


def test_only_known_codes_come_out(method: str) -> None:
    got = fitted(method).classify(make_pixels())
    assert got.dtype == np.uint16
    assert set(np.unique(got)) <= {3, 7, 9, 255}


def test_same_seed_same_result(method: str) -> None:
    pixels = make_pixels()
    again = fit_anew(method, make_samples())
    assert np.array_equal(fitted(method).scores(pixels), again.scores(pixels))


def test_order_of_the_samples_does_not_matter(method: str) -> None:
    samples = make_samples()
    order = np.random.default_rng(9).permutation(len(samples.codes))
    shuffled = TrainingSamples.of_pixels(samples.values[order], samples.codes[order], ROLES, NAMES)
    pixels, again = make_pixels(), fit_anew(method, shuffled)
    assert np.array_equal(fitted(method).classify(pixels), again.classify(pixels))


def test_order_of_the_bands_does_not_matter(method: str) -> None:
    """But for the last digit of sums: a pixel between two classes could fall to either."""
    samples, pixels = make_samples(), make_pixels()
    turned = replace(
        samples, values=np.ascontiguousarray(samples.values[:, [2, 0, 1]]),
        roles=("nir", "blue", "red"),
    )  # fmt: skip
    got = fit_anew(method, turned).scores(np.ascontiguousarray(pixels[[2, 0, 1]]))
    assert np.allclose(got, fitted(method).scores(pixels), rtol=1e-6, atol=1e-9)


def test_pixels_are_judged_one_by_one(method: str) -> None:
    pixels, model = make_pixels(1000), fitted(method)
    whole = model.classify(pixels)
    pieces = [model.classify(part) for part in np.array_split(pixels, 13, axis=1)]
    assert np.array_equal(whole, np.concatenate(pieces))
    assert np.array_equal(whole[::-1], model.classify(np.ascontiguousarray(pixels[:, ::-1])))


def test_input_is_left_alone(method: str) -> None:
    pixels, samples = make_pixels(), make_samples()
    before, before_samples = pixels.copy(), samples.values.copy()
    pixels.flags.writeable = samples.values.flags.writeable = False
    fit_anew(method, samples).classify(pixels)
    assert np.array_equal(pixels, before)
    assert np.array_equal(samples.values, before_samples, equal_nan=True)


def test_no_pixel_is_no_trouble(method: str) -> None:
    assert fitted(method).classify(np.empty((3, 0), np.float32)).shape == (0,)


def test_training_can_be_sent_to_another_process(method: str) -> None:
    model = fitted(method)
    again: TrainedClassifier = pickle.loads(pickle.dumps(model))
    assert np.array_equal(model.classify(make_pixels()), again.classify(make_pixels()))


def test_one_class_is_refused(method: str) -> None:
    samples = make_samples()
    with pytest.raises(TooFewClassesError):
        fit_anew(method, samples.of_classes([3]))


def test_one_pixel_per_class_is_refused_or_works(method: str) -> None:
    """Never a crash of another kind."""
    samples = make_samples(n=1)
    try:
        fit_anew(method, samples)
    except TrainingError as error:
        assert error.sentence.endswith(".")


def test_bands_are_tied_by_name_not_by_position(method: str) -> None:
    """A raster with the same bands in another order, and one more, gives the same map."""
    pixels = make_pixels(400)
    model = fitted(method)
    valid = np.ones((20, 20), bool)
    cube = pixels.reshape(3, 20, 20)
    shuffled = ArrayRaster(np.stack([cube[2], cube[0] * 9, cube[1], cube[0]]), valid,
                           ("nir", "swir16", "red", "blue"))  # fmt: skip
    got = class_map_raster(shuffled, model, ()).read(shuffled.grid.whole).values[0]
    expected: CodeArray = model.classify(pixels)
    assert np.array_equal(got.ravel(), expected)


def test_missing_band_is_an_error_before_anything_runs(method: str) -> None:
    raster = ArrayRaster(make_pixels(4)[:2].reshape(2, 2, 2), np.ones((2, 2), bool), ROLES[:2])
    with pytest.raises(MissingRoleError, match="nir"):
        class_map_raster(raster, fitted(method), ()).read(raster.grid.whole)


def test_invalid_pixels_get_no_class_and_do_not_matter(method: str) -> None:
    rng = np.random.default_rng(2)
    cube = make_pixels(900).reshape(3, 30, 30)
    valid = rng.random((30, 30)) > 0.4
    spoiled = np.where(valid, cube, np.nan).astype(np.float32)
    maps = [
        class_map_raster(ArrayRaster(v, valid, ROLES), fitted(method), ())
        .read(ArrayRaster(v, valid, ROLES).grid.whole).values[0]
        for v in (cube, spoiled)
    ]  # fmt: skip
    assert np.array_equal(*maps, equal_nan=True)
    assert np.isnan(maps[0][~valid]).all()
    assert (maps[0][valid] > 0).all()


def test_scores_decided_are_what_it_classifies(method: str) -> None:
    pixels, model = make_pixels(), fitted(method)
    scores = model.scores(pixels)
    assert scores.shape == (3, 5000) and np.isfinite(scores).all()
    assert np.array_equal(decide(scores, model.codes, model.lowest), model.classify(pixels))
    pieces = [model.scores(part) for part in np.array_split(pixels, 7, axis=1)]
    assert np.array_equal(scores, np.concatenate(pieces, axis=1))


def stored(method: str) -> StoredClassifier:
    spec = CLASSIFIERS[method]
    told = ToldClassifier(
        method=method,
        method_version=spec.version,
        settings={},
        roles=ROLES,
        quantities=("reflectance",) * 3,
        classes=tuple(ToldClass(code=c, name=n, colour="#123456") for c, n in NAMES.items()),
        trained_on="0123",
        sentence="June pass classified.",
        check=ToldCheck(
            n_folds=5, mean=0.9, low=0.8, high=None, classes=(ToldShare(code=3, share=0.9),)
        ),
        scene=ToldScene(title="June pass", medians=(0.1, 0.2, 0.3)),
    )
    return StoredClassifier(told, fitted(method))


def test_it_comes_back_from_its_file(method: str) -> None:
    before = stored(method)
    content = write_classifier(before)
    assert content == write_classifier(before), "the same bytes each time"
    again = read_classifier(content)
    assert again.told == before.told
    pixels = make_pixels()
    assert np.array_equal(again.model.scores(pixels), before.model.scores(pixels))
    assert np.array_equal(again.model.classify(pixels), before.model.classify(pixels))


def test_damaged_files_are_refused_in_words(method: str) -> None:
    """Cut short anywhere, any byte changed: a classifier that is the same, or a sentence."""
    content, pixels = write_classifier(stored(method)), make_pixels(50)
    expected = stored(method).model.classify(pixels)
    rng = np.random.default_rng(0)
    damaged = [content[:n] for n in rng.integers(0, len(content), 60)]
    for at, to in zip(rng.integers(0, len(content), 300), rng.integers(0, 256, 300), strict=True):
        damaged.append(content[:at] + bytes([to]) + content[at + 1 :])
    refused = 0
    for one in damaged:
        try:
            found = read_classifier(one)
        except InputError as error:
            assert error.sentence.endswith(".")
            refused += 1
        else:
            assert np.array_equal(found.model.classify(pixels), expected)
    assert refused > 200


def archive_of(members: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in members.items():
            archive.writestr(name, content)
    return out.getvalue()


def array_file(array: npt.NDArray[np.generic]) -> bytes:
    out = io.BytesIO()
    np.save(out, array, allow_pickle=True)
    return out.getvalue()


def members_of(method: str) -> dict[str, bytes]:
    with zipfile.ZipFile(io.BytesIO(write_classifier(stored(method)))) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


class Spoilt:
    """Would run something if it were unpickled."""

    def __reduce__(self) -> tuple[object, tuple[str]]:
        return pytest.fail, ("unpickled",)


def hostile_cases(good: dict[str, bytes]) -> Iterator[dict[str, bytes]]:
    told = json.loads(good["classifier.json"])
    numbers = array_file(np.zeros(3))
    arrays = (
        array_file(np.array([Spoilt()], object)),
        numbers.replace(b"(3,)", b"(300"),
        numbers.replace(b"(3,)", b"(9,)"),
        numbers.replace(b"<f8", b"|O8"),
        array_file(np.full(3, np.nan)),
        array_file(np.zeros(0)),
        b"",
    )
    yield from ({}, {"classifier.json": b"{}"}, {"classifier.json": b"[" * 9999})
    for name in (n for n in good if n.endswith(".npy")):
        yield from (good | {name: bad} for bad in arrays)
        yield {k: v for k, v in good.items() if k != name}
    for changes in (
        {"method": "no-such"}, {"method_version": 99}, {"roles": ["red"]}, {"settings": {"x": 1}},
        {"roles": ["red", "red", "nir"]}, {"classes": told["classes"][:1]}, {"format_version": 2},
        {"classes": told["classes"] * 2}, {"quantities": []}, {"seed": 1e400}, {"more": 1},
    ):  # fmt: skip
        yield good | {"classifier.json": json.dumps(told | changes).encode()}
    if told["method"] == next(iter(CLASSIFIERS)):  # refused before any method is asked
        yield good | {f"{i}.npy": b"" for i in range(300)}
        yield good | {"bomb.npy": bytes(300 * 2**20)}


def test_hostile_files_are_refused_in_words(method: str) -> None:
    for case in hostile_cases(members_of(method)):
        with pytest.raises(InputError) as refused:
            read_classifier(archive_of(case))
        assert refused.value.sentence.endswith(".")
