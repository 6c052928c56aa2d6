"""K-means over every pixel, block by block, against scikit-learn on all pixels at once."""

from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context

import numpy as np
import pytest
from sklearn.cluster import KMeans

from kitesort.core.classify.scale import Scale
from kitesort.core.cluster.every import EveryPixel, move_on
from kitesort.core.cluster.groups import find_groups
from kitesort.core.cluster.registry import CLUSTERINGS
from kitesort.core.cluster.sample import read_sample
from kitesort.core.engine import Progress, Watch
from kitesort.core.errors import BadSettingsError, CancelledError
from kitesort.core.settings import validate_settings
from support.arrays import ArrayRaster

K_MEANS = CLUSTERINGS["k-means"]
ROLES = ("red", "nir", "swir16")


def make_scene(seed: int = 4, shape: tuple[int, int] = (150, 190)) -> ArrayRaster:
    """Five kinds of ground in fields, noise, an edge without data and some zero fill."""
    rng = np.random.default_rng(seed)
    kinds = rng.integers(0, 5, (15, 19)).repeat(10, 0).repeat(10, 1)
    means = rng.uniform(0.05, 0.5, (5, 3))
    values = means[kinds].transpose(2, 0, 1) + rng.normal(0, 0.04, (3, *shape))
    values[:, :4, :50] = 0
    valid = rng.random(shape) > 0.1
    valid[:, :7] = False
    return ArrayRaster(values.astype(np.float32), valid, ROLES)


def usable(scene: ArrayRaster) -> np.ndarray:
    values = scene.values[:, scene.valid].T.astype(np.float64)
    return values[(values != 0).any(axis=1)]


def every(scene: ArrayRaster, scale: Scale, **more: object) -> EveryPixel:
    largest = float(np.abs(scale(usable(scene))).max())
    return EveryPixel(scene, ROLES, True, scale, largest, **more)  # type: ignore[arg-type]


def plain(n_bands: int = 3) -> Scale:
    return Scale(np.zeros(n_bands), np.ones(n_bands))


@pytest.mark.parametrize("standardised", [False, True])
def test_centres_rest_where_scikit_learns_do(standardised: bool) -> None:
    """Reference: scikit-learn KMeans (Lloyd) on all usable pixels, from the same centres."""
    scene = make_scene()
    pixels = usable(scene)
    scale = Scale(pixels.mean(axis=0), 1 / pixels.std(axis=0)) if standardised else plain()
    on_scale = scale(pixels)
    start = on_scale[np.random.default_rng(1).choice(len(on_scale), 5, replace=False)]
    ours = move_on(every(scene, scale), start, 300, 0.0)
    theirs = KMeans(5, init=start, n_init=1, max_iter=300, tol=0, algorithm="lloyd").fit(on_scale)
    assert ours.settled
    assert ours.centres == pytest.approx(theirs.cluster_centers_, rel=1e-7, abs=1e-9)
    assert ours.sizes.tolist() == np.bincount(theirs.labels_, minlength=5).tolist()


def test_blocks_and_processes_make_no_difference() -> None:
    scene = make_scene(7)
    start = usable(scene)[[5, 900, 7000, 20_000]]
    wanted = move_on(every(scene, plain()), start, 20, 0.001)
    for size in (17, 64, 1000):
        got = move_on(every(scene, plain(), block_size=size), start, 20, 0.001)
        assert np.array_equal(got.centres, wanted.centres), "to the last bit"
        assert np.array_equal(got.sizes, wanted.sizes) and got.rounds == wanted.rounds
    with ProcessPoolExecutor(2, mp_context=get_context("spawn")) as pool:
        got = move_on(every(scene, plain(), executor=pool, block_size=64), start, 20, 0.001)
    assert np.array_equal(got.centres, wanted.centres)


def test_a_method_goes_on_over_every_pixel_where_that_is_wanted() -> None:
    scene = make_scene()
    sample = read_sample(scene, ROLES, 400)
    told = {"n_clusters": 5, "n_sampled": 400, "least_change": 0.0, "iterations": 200}
    settings = validate_settings(K_MEANS, told | {"every_pixel": True})
    few = find_groups(sample, K_MEANS, settings, 3)
    found = find_groups(sample, K_MEANS, settings, 3, scene=scene)
    pixels = usable(scene)
    assert few.sizes.sum() == 400 and found.sizes.sum() == len(pixels)
    assert len(found.rounds) == 2 and found.rounds[1].endswith("at rest, over every pixel")
    codes = found.model.classify(np.ascontiguousarray(pixels.T, np.float32))
    assert np.bincount(codes)[1:].tolist() == found.sizes.tolist(), "sizes are the map's"
    assert sorted(found.sizes, reverse=True) == found.sizes.tolist(), "the largest first"
    means = [pixels[codes == code].mean(axis=0) for code in range(1, 6)]
    assert np.allclose(found.model.means, means, rtol=1e-6), "each is the mean of its pixels"  # type: ignore[attr-defined]


def test_progress_and_cancelling() -> None:
    scene, told = make_scene(), []
    start = usable(scene)[:4]
    move_on(every(scene, plain(), block_size=50), start, 6, 0.0, Watch(told.append))
    shares = [one.done for one in told]
    assert shares == sorted(shares) and 0 < shares[0] < shares[-1] <= 1
    calls = iter(range(100))
    stopped = Watch(lambda _: None, lambda: next(calls) > 5)
    with pytest.raises(CancelledError):
        move_on(every(scene, plain(), block_size=50), start, 6, 0.0, stopped)
    assert isinstance(told[0], Progress)


def test_a_centre_that_loses_its_pixels_stays_and_is_no_cluster() -> None:
    scene = make_scene()
    start = np.concatenate([usable(scene)[[5, 900]], [[9.0, 9.0, 9.0]]])
    moved = move_on(every(scene, plain()), start, 30, 0.0)
    assert moved.sizes[2] == 0 and moved.centres[2].tolist() == [9, 9, 9]


def test_medians_cannot_be_added_up() -> None:
    with pytest.raises(BadSettingsError, match="cannot be added up"):
        validate_settings(K_MEANS, {"distance": "manhattan", "every_pixel": True})
