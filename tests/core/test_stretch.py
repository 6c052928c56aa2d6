"""From values to brightness."""

import numpy as np
import pytest
from pydantic import ValidationError

from kitesort.core.display.stretch import (
    Curve,
    Limits,
    Stretch,
    apply_curves,
    cut_shares,
    make_curves,
)
from kitesort.core.errors import BadSettingsError, NotFoundError
from kitesort.core.palette import PALETTES, palette_stops, palette_table

VALUES = np.random.default_rng(3).gamma(2, 0.1, 5000).astype(np.float32)


def limits_of(stretch: Stretch, values: np.ndarray = VALUES) -> tuple[float, float]:
    (curve,) = make_curves([values], stretch)
    return curve.limits.low, curve.limits.high


@pytest.mark.parametrize(("low", "high"), [(0, 100), (2, 98), (5, 99.5)])
def test_percentile_limits_are_those_of_numpy(low: float, high: float) -> None:
    found = limits_of(Stretch(low=low, high=high))
    assert found == pytest.approx(tuple(np.percentile(VALUES, [low, high])))


def test_limits_of_the_other_kinds_by_hand() -> None:
    assert limits_of(Stretch(kind="extremes")) == pytest.approx((VALUES.min(), VALUES.max()))
    mean, sd = VALUES.mean(dtype=float), VALUES.std(dtype=float)
    found = limits_of(Stretch(kind="deviations", deviations=1.5))
    assert found == pytest.approx((mean - 1.5 * sd, mean + 1.5 * sd))
    assert limits_of(Stretch(kind="typed", limits=((0.1, 0.3),))) == (0.1, 0.3)
    (curve,) = make_curves([VALUES], Stretch(kind="none"), Limits(0, 255))
    assert curve.limits == Limits(0, 255)


def test_shared_limits_hold_all_channels() -> None:
    channels = [VALUES, VALUES + 1]
    apart = make_curves(channels, Stretch())
    shared = make_curves(channels, Stretch(shared=True))
    assert shared[0] == shared[1]
    assert shared[0].limits == Limits(apart[0].limits.low, apart[1].limits.high)


@pytest.mark.parametrize("kind", ["percentile", "extremes", "deviations", "equalise"])
def test_one_value_shows_as_mid_grey(kind: str) -> None:
    flat = np.full(10, 0.3, np.float32)
    curves = make_curves([flat], Stretch(kind=kind))
    assert apply_curves(flat.reshape(1, 1, 10), curves)[0, 0, 0] in (127, 128)


@pytest.mark.parametrize("kind", ["percentile", "extremes", "deviations", "equalise"])
def test_no_value_at_all_gives_usable_limits(kind: str) -> None:
    curves = make_curves([np.array([], np.float32)], Stretch(kind=kind))
    assert apply_curves(np.zeros((1, 1, 1), np.float32), curves)[0, 0, 0] == 0


@pytest.mark.parametrize(("low", "high"), [(98, 2), (-1, 50), (50, 101), (50, 50)])
def test_ends_that_cannot_be(low: float, high: float) -> None:
    with pytest.raises(ValidationError):
        Stretch(low=low, high=high)


def test_typed_limits_must_fit() -> None:
    with pytest.raises(ValidationError, match="the low one must be the smaller"):
        Stretch(kind="typed", limits=((0.3, 0.1),))
    with pytest.raises(BadSettingsError, match="each of the 3 channels"):
        make_curves([VALUES] * 3, Stretch(kind="typed", limits=((0, 1),)))


def test_stretch_by_hand() -> None:
    values = np.array([[[-1, 0, 0.5, 1, 2, np.nan]]], np.float32)
    levels = apply_curves(values, [Curve((0, 1), (0, 1))])
    assert levels[0, 0].tolist() == [0, 0, 128, 255, 255, 0]


def test_stretch_takes_each_band_by_itself() -> None:
    values = np.array([[[1.0]], [[10.0]]], np.float32)
    levels = apply_curves(values, [Curve((0, 1), (0, 1)), Curve((0, 20), (0, 1))])
    assert levels[:, 0, 0].tolist() == [255, 128]


def test_equalised_levels_hold_the_same_number_of_pixels() -> None:
    curves = make_curves([VALUES], Stretch(kind="equalise"))
    levels = apply_curves(VALUES.reshape(1, 1, -1), curves)
    counts, _ = np.histogram(levels, bins=8, range=(0, 256))
    assert counts == pytest.approx(np.full(8, VALUES.size / 8), rel=0.05)


def test_share_that_is_cut() -> None:
    values = np.arange(100, dtype=np.float32)
    assert cut_shares(values, Limits(9.5, 79.5)) == (10, 20)
    assert cut_shares(values[:0], Limits(0, 1)) == (0, 0)


def test_every_palette_is_there_and_goes_from_end_to_end() -> None:
    for palette in PALETTES:
        table = palette_table(palette.id)
        stops = palette_stops(palette.id)
        assert table.shape == (256, 3)
        assert stops[0] == "#{:02x}{:02x}{:02x}".format(*table[0])
        assert (palette_table(palette.id, is_reversed=True) == table[::-1]).all()
    assert np.abs(np.diff(palette_table("grey").astype(int), axis=1)).max() <= 1, "grey is grey"
    with pytest.raises(NotFoundError, match="Known: grey"):
        palette_table("mauve")


def test_stepped_palette_has_so_many_colours() -> None:
    stepped = palette_table("blue-yellow", n_steps=5)
    whole = palette_table("blue-yellow")
    assert len(np.unique(stepped, axis=0)) == 5
    assert (stepped[0] == whole[0]).all() and (stepped[255] == whole[255]).all()
