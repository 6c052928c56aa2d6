"""From blocks to PNG: palettes, marks, pictures."""

import io

import numpy as np
from PIL import Image

from kitesort.core.display.stretch import Curve, Stretch, apply_curves, make_curves
from kitesort.core.display.tile import render_marks, render_palette, render_picture
from kitesort.core.palette import palette_table
from kitesort.core.raster.protocol import Block

VALID = np.array([[True, True, False]])


def pixels_of(png: bytes) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(png)).convert("RGBA"))


def test_palette_goes_from_low_to_high_and_is_clear_elsewhere() -> None:
    block = Block(np.array([[[0.0, 1.0, 0.5]]], np.float32), VALID)
    table = palette_table("heat")
    got = pixels_of(render_palette(block, Curve((0, 1), (0, 1)), table))[0]
    assert got[0].tolist() == [*table[0], 255]
    assert got[1].tolist() == [*table[255], 255]
    assert got[2].tolist() == [0, 0, 0, 0]


def test_marks_are_in_one_colour() -> None:
    got = pixels_of(render_marks(VALID, (1, 2, 3, 200)))[0]
    assert got.tolist() == [[1, 2, 3, 200], [1, 2, 3, 200], [0, 0, 0, 0]]


def test_picture_keeps_its_levels() -> None:
    values = np.array([[[0, 255, 7]], [[1, 254, 8]], [[2, 253, 9]]], np.float32)
    got = pixels_of(render_picture(Block(values, VALID)))[0]
    assert got[:2].tolist() == [[0, 1, 2, 255], [255, 254, 253, 255]]
    assert got[2, 3] == 0


def test_every_curve_rises_whatever_the_values() -> None:
    """Brighter values never become darker, for every kind of stretch and odd distributions."""
    rng = np.random.default_rng(8)
    samples = {
        "two values": np.repeat([0.1, 0.4], 50),
        "mostly one": np.concatenate([np.full(990, 0.2), rng.random(10)]),
        "outliers": np.concatenate([rng.normal(0, 1, 500), [1e6, -1e6]]),
        "integers": rng.integers(0, 5, 300),
        "tiny": 1e-20 * rng.random(100),
        "single": np.array([3.0]),
    }
    kinds = ("percentile", "extremes", "deviations", "equalise", "none")
    for name, sample in samples.items():
        values = sample.astype(np.float32)
        ramp = np.sort(values).reshape(1, 1, -1)
        for kind in kinds:
            (curve,) = make_curves([values], Stretch(kind=kind))
            assert curve.values[0] < curve.values[-1], (name, kind)
            levels = apply_curves(ramp, [curve])[0, 0].astype(int)
            assert (np.diff(levels) >= 0).all(), (name, kind)


def test_blocks_become_the_same_picture_apart_or_together() -> None:
    rng = np.random.default_rng(9)
    values = rng.gamma(2, 0.1, (3, 32, 32)).astype(np.float32)
    curves = make_curves(list(values.reshape(3, -1)), Stretch(kind="equalise"))
    whole = apply_curves(values, curves)
    parts = [apply_curves(values[:, :, i : i + 7], curves) for i in range(0, 32, 7)]
    assert np.array_equal(whole, np.concatenate(parts, axis=2))


def test_read_only_input_is_left_as_it_is() -> None:
    values = np.linspace(0, 1, 30, dtype=np.float32).reshape(1, 5, 6)
    values.flags.writeable = False
    before = values.copy()
    apply_curves(values, make_curves([values.ravel()], Stretch(kind="equalise")))
    assert np.array_equal(values, before)
