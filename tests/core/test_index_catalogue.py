"""The shipped catalogue: what it holds, and what scenes with other bands can give."""

import pytest

from kitesort.core.bands import RANGES_UM, Band, Role
from kitesort.core.delivery.sensors import ETM, MSI, OLI, TM
from kitesort.core.derive.formula.parse import parse_formula
from kitesort.core.derive.formula.tree import names_in
from kitesort.core.derive.index_catalogue import (
    PALETTES,
    USUAL,
    all_indices,
    bind_index,
    get_index,
    known_range,
    require_bound,
    typical_values,
    usual_palette,
)
from kitesort.core.errors import BadSettingsError, MissingRoleError, NotFoundError
from kitesort.core.palette import palette_table

FOUR = tuple(Band(role, w) for role, w in
             (("blue", 0.49), ("green", 0.56), ("red", 0.665), ("nir", 0.842)))  # fmt: skip


def bands_of(sensor: dict) -> tuple[Band, ...]:
    return tuple(Band(b.role, b.wavelength_um) for b in sensor.values())


def test_the_usual_ones_are_there() -> None:
    indices = all_indices()
    assert len(indices) > 250
    assert set(USUAL) <= set(indices)
    assert {index.use for index in indices.values()} == set(PALETTES)
    for index in indices.values():
        assert index.id.isascii() and index.id == index.id.lower() and index.reference
    with pytest.raises(NotFoundError):
        get_index("no_such_index")


def test_roles_are_those_of_the_open_vocabulary() -> None:
    odd = {role for index in all_indices().values() for role in index.roles} - set(Role)
    assert odd == {"green05"}, "one index wants a second green, which no profile here has"


@pytest.mark.parametrize("index_id", sorted(all_indices()))
def test_every_formula_can_be_read_and_names_what_it_says(index_id: str) -> None:
    """With every role there is at hand, nothing is missing and every name is a band."""
    everything = tuple(Band(role, sum(RANGES_UM[role]) / 2) for role in Role)
    index = get_index(index_id)
    bound = bind_index(index, (*everything, Band("green05", 0.53)))
    assert bound.missing == ()
    assert set(names_in(parse_formula(bound.formula))) <= {*index.roles}


def test_missing_roles_are_named() -> None:
    bound = bind_index(get_index("ndmi"), FOUR)
    assert bound.missing == ("swir16",)
    with pytest.raises(MissingRoleError, match=r"NDMI needs swir16, .* It has blue, green, red"):
        require_bound(get_index("ndmi"), FOUR)
    assert require_bound(get_index("ndvi"), FOUR).formula == "(nir - red)/(nir + red)"


def test_wavelengths_come_from_the_bands() -> None:
    """DVI+ weighs by centre wavelengths in nanometres (the open catalogue's constants)."""
    bound = bind_index(get_index("dviplus"), FOUR)
    assert "842" in bound.formula and "665" in bound.formula and "560" in bound.formula
    unknown = tuple(Band(band.role) for band in FOUR)
    assert "the wavelength of nir" in bind_index(get_index("dviplus"), unknown).missing


def test_constants_can_be_changed_but_not_invented() -> None:
    savi = get_index("savi")
    assert bind_index(savi, FOUR).formula == "(1.0 + 1) * (nir - red) / (nir + red + 1)"
    half = bind_index(savi, FOUR, {"constant_l": 0.5}).formula
    assert half == "(1.0 + 0.5) * (nir - red) / (nir + red + 0.5)"
    negative = bind_index(savi, FOUR, {"constant_l": -0.5}).formula
    assert "(-0.5)" in negative
    with pytest.raises(BadSettingsError, match="SAVI has no constant gamma"):
        bind_index(savi, FOUR, {"gamma": 1.0})


def test_a_plain_red_edge_stands_in_by_its_wavelength_only() -> None:
    ndre = next(i for i in all_indices().values() if "rededge071" in i.roles)
    low = (*FOUR, Band("rededge", 0.705), Band("swir16", 1.6), Band("rededge075", 0.74))
    assert "rededge071" not in bind_index(ndre, low).missing
    high = (*FOUR, Band("rededge", 0.75), Band("swir16", 1.6), Band("rededge075", 0.74))
    assert "rededge071" in bind_index(ndre, high).missing


@pytest.mark.parametrize(("sensor", "least"), [(MSI, 200), (OLI, 150), (ETM, 140), (TM, 140)])
def test_common_sensors_give_most_of_it(sensor: dict, least: int) -> None:
    bands = bands_of(sensor)
    given = [i for i in all_indices().values() if not bind_index(i, bands).missing]
    assert len(given) >= least
    assert {"ndvi", "nbr", "mndwi"} <= {index.id for index in given}


def test_what_is_known_of_the_range() -> None:
    assert known_range(get_index("ndvi")) == (-1.0, 1.0)
    assert known_range(get_index("ndwi")) == (-1.0, 1.0)
    assert known_range(get_index("evi")) is None


def test_typical_values_tell_covers_apart() -> None:
    """Textbook knowledge: plants high in NDVI and below 1, water below 0; water high in NDWI."""
    ndvi, ndwi = typical_values("ndvi"), typical_values("ndwi")
    assert 0.7 < ndvi["Green vegetation"] < 1 and ndvi["Clear water"] < 0
    assert 0 < ndvi["Dry soil"] < 0.3
    assert ndwi["Clear water"] > 0.5 > 0 > ndwi["Green vegetation"]
    assert typical_values("nstv1") == {}, "it needs warmth, of which these spectra know nothing"


def test_palettes_exist() -> None:
    for role in ("ndvi", "ndwi", "nbr", "anything_else"):
        assert palette_table(usual_palette(role)).shape == (256, 3)
    assert usual_palette("ndvi") != usual_palette("ndwi")
