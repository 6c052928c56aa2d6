"""What was probably meant by a role, and what the ground says to it.

Other names are common in the trade (from memory); the demo's ground is made up.
"""

import numpy as np
import pytest

from kitesort.core.bands import RANGES_UM, Role
from kitesort.core.delivery import read_delivery
from kitesort.core.delivery.doubts import doubts_about, doubts_of
from kitesort.core.delivery.sensors import KNOWN_SENSORS
from kitesort.core.roles import TITLES, nearest_role, usual_wavelength
from kitesort.demo.generate import DemoStudy


@pytest.mark.parametrize(
    ("text", "role"),
    [
        ("swir1", "swir16"), ("SWIR-2", "swir22"), ("near infrared", "nir"), ("NIR", "nir"),
        ("gren", "green"), ("bleu", "blue"), ("Red Edge", "rededge"), ("re3", "rededge078"),
        ("thermal", "lwir"), ("panchromatic", "pan"), ("elevation", None), ("", None), ("x", None),
    ],
)  # fmt: skip
def test_near_misses_are_known(text: str, role: str | None) -> None:
    assert nearest_role(text) == role


def test_every_role_has_words_and_a_wavelength_in_its_range() -> None:
    assert set(TITLES) == set(Role) == set(RANGES_UM)
    assert len(set(TITLES.values())) == len(TITLES)
    for role in Role:
        usual, (low, high) = usual_wavelength(role), RANGES_UM[role]
        assert usual is not None and low <= usual <= high
    assert usual_wavelength("peat") is None


def test_known_sensors_name_each_role_once() -> None:
    for sensor in KNOWN_SENSORS:
        roles = [band.role for band in sensor.bands]
        assert len(set(roles)) == len(roles)
        assert set(roles) <= set(Role)


def test_roles_that_the_ground_bears_out_are_not_doubted(demo: DemoStudy) -> None:
    for metadata in demo.folder.rglob("*_metadata.txt"):
        scene = read_delivery(metadata)
        assert doubts_about(scene, {i: b.role for i, b in enumerate(scene.bands)}) == []


def test_bands_that_were_swapped_are_asked_about(demo: DemoStudy) -> None:
    scene = read_delivery(next(demo.folder.rglob("*20240718*_metadata.txt")))
    at = {band.role: i for i, band in enumerate(scene.bands)}
    (warm,) = doubts_about(scene, {at["red"]: "nir", at["nir"]: "red"})
    assert warm.startswith("Red is brighter than near infrared in")
    (short,) = doubts_about(scene, {at["red"]: "blue", at["blue"]: "red"})
    assert short.startswith("Blue is much brighter than red in")


def test_nothing_is_said_of_a_few_pixels_or_of_none() -> None:
    few = np.linspace(1, 2, 20)
    assert doubts_of({"red": few * 3, "nir": few, "blue": few * 9}) == []
    empty = np.full(100, np.nan)
    assert doubts_of({"red": empty, "nir": empty, "blue": empty}) == []
    assert doubts_of({}) == []
