"""What every classifier in the registry must keep to, whatever its method."""

import pickle

import numpy as np
import numpy.typing as npt
import pytest

from kitesort.core.classify.protocol import CodeArray, TrainedClassifier, TrainingSamples
from kitesort.core.classify.raster import class_map_raster
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.errors import TooFewClassesError, TrainingError
from kitesort.core.raster.protocol import MissingRoleError
from support.arrays import ArrayRaster

ROLES = ("blue", "red", "nir")
NAMES = {3: "Water", 7: "Sand", 9: "Wood"}
MEANS = {3: (0.06, 0.04, 0.02), 7: (0.16, 0.21, 0.25), 9: (0.03, 0.03, 0.22)}

pytestmark = pytest.mark.parametrize("method", list(CLASSIFIERS))


def make_samples(seed: int = 0, n: int = 60) -> TrainingSamples:
    rng = np.random.default_rng(seed)
    values = np.concatenate([rng.normal(mean, 0.01, (n, 3)) for mean in MEANS.values()])
    codes = np.repeat(np.array(list(MEANS), np.uint8), n)
    return TrainingSamples(values.astype(np.float32), codes, ROLES, NAMES)


def make_pixels(n: int = 5000, seed: int = 1) -> npt.NDArray[np.float32]:
    return np.random.default_rng(seed).uniform(0, 0.3, (3, n)).astype(np.float32)


def fitted(method: str, samples: TrainingSamples | None = None) -> TrainedClassifier:
    spec = CLASSIFIERS[method]
    return spec.fit(samples or make_samples(), spec.settings())


def test_its_own_training_pixels_come_back(method: str) -> None:
    samples = make_samples()
    got = fitted(method).classify(np.ascontiguousarray(samples.values.T))
    assert (got == samples.codes).mean() > 0.99


def test_only_known_codes_come_out(method: str) -> None:
    got = fitted(method).classify(make_pixels())
    assert got.dtype == np.uint8
    assert set(np.unique(got)) <= {3, 7, 9, 255}


def test_same_seed_same_result(method: str) -> None:
    pixels = make_pixels()
    assert np.array_equal(fitted(method).classify(pixels), fitted(method).classify(pixels))


def test_order_of_the_samples_does_not_matter(method: str) -> None:
    samples = make_samples()
    order = np.random.default_rng(9).permutation(len(samples.codes))
    shuffled = TrainingSamples(samples.values[order], samples.codes[order], ROLES, NAMES)
    pixels = make_pixels()
    assert np.array_equal(
        fitted(method, samples).classify(pixels), fitted(method, shuffled).classify(pixels)
    )


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
    fitted(method, samples).classify(pixels)
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
    keep = samples.codes == 3
    with pytest.raises(TooFewClassesError):
        fitted(method, TrainingSamples(samples.values[keep], samples.codes[keep], ROLES, NAMES))


def test_one_pixel_per_class_is_refused_or_works(method: str) -> None:
    """Never a crash of another kind."""
    samples = make_samples(n=1)
    try:
        fitted(method, samples)
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
    got = class_map_raster(shuffled, model, "x").read(shuffled.grid.whole).values[0]
    expected: CodeArray = model.classify(pixels)
    assert np.array_equal(got.ravel(), expected)


def test_missing_band_is_an_error_before_anything_runs(method: str) -> None:
    raster = ArrayRaster(make_pixels(4)[:2].reshape(2, 2, 2), np.ones((2, 2), bool), ROLES[:2])
    with pytest.raises(MissingRoleError, match="nir"):
        class_map_raster(raster, fitted(method), "x").read(raster.grid.whole)


def test_invalid_pixels_get_no_class_and_do_not_matter(method: str) -> None:
    rng = np.random.default_rng(2)
    cube = make_pixels(900).reshape(3, 30, 30)
    valid = rng.random((30, 30)) > 0.4
    spoiled = np.where(valid, cube, np.nan).astype(np.float32)
    maps = [
        class_map_raster(ArrayRaster(v, valid, ROLES), fitted(method), "x")
        .read(ArrayRaster(v, valid, ROLES).grid.whole).values[0]
        for v in (cube, spoiled)
    ]  # fmt: skip
    assert np.array_equal(*maps)
    assert not maps[0][~valid].any()
    assert maps[0][valid].all()
