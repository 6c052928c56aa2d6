"""Coefficient sets of the tasseled cap: pasted, checked, and kept from the wrong sensor."""

from dataclasses import replace
from typing import Any

import numpy as np
import pytest

from kitesort.core.derive.coefficients import (
    PUBLISHED_SETS,
    CoefficientTable,
    find_remarks,
    get_published,
    is_meant_for,
    parse_table,
    published_for,
)
from kitesort.core.derive.methods import tasseled_cap
from kitesort.core.errors import BadSettingsError, InputError, MissingRoleError, NotFoundError
from kitesort.core.operation import Context
from kitesort.core.raster.protocol import roles_of
from kitesort.core.settings import validate_settings
from support.arrays import ArrayRaster, random_raster
from support.opening import open_by, prepare_by

PASTED = """component\tblue\tgreen\tred
Brightness\t0.6\t0.8\t0
Green Wetness\t0.8\t-0.6\t0
"""


def context_for(sensor: str | None) -> Context:
    return Context(lambda *_: random_raster(8, 8, 6), sensor=sensor)


def prepare(context: Context, raster: ArrayRaster | None = None, **settings: Any) -> Any:
    spec = tasseled_cap.SPEC
    raster = raster or random_raster(8, 8, 6)
    return prepare_by(spec, raster, validate_settings(spec, settings), context)


class TestPasting:
    @pytest.mark.parametrize(
        "text",
        [
            PASTED,
            PASTED.replace("\t", ";"),
            PASTED.replace("\t", ","),
            PASTED.replace("\t", "; ").replace("0.6", "0,6").replace("0.8", "0,8"),
            "\n" + PASTED.replace("Green Wetness", "green_wetness").replace("\t", "   ") + "\n\n",
            PASTED.replace("component\t", "").replace("-0.6", "−0.6"),
            PASTED.upper(),
        ],
    )
    def test_tables_as_they_are_found(self, text: str) -> None:
        table = parse_table(text)
        assert [c.name for c in table.components] == ["brightness", "green_wetness"]
        assert table.roles == ("blue", "green", "red")
        assert table.matrix == [[0.6, 0.8, 0.0], [0.8, -0.6, 0.0]]

    def test_without_names(self) -> None:
        table = parse_table("blue green red\n.6 .8 0\n.8 -.6 0")
        assert [c.name for c in table.components] == ["c1", "c2"]
        assert table.matrix == [[0.6, 0.8, 0.0], [0.8, -0.6, 0.0]]

    @pytest.mark.parametrize(
        ("text", "words"),
        [
            ("", "Paste a table"),
            ("blue green red", "Paste a table"),
            ("x blue green\nb 1 2\ng 1", "Row 3 has 1 numbers for 2 roles: blue, green"),
            ("x blue green\nb 1 two", "Row 2: “two” is no number"),
            ("x blue blue\nb 1 2", "role is given twice"),
            ("x blue green\nb 1 2\nb 3 4", "named twice"),
            ("x blue green\n§ 1 2", "small letters"),
            ("x 1 2\nb 1 2", "small letters"),
            ("x blue\nb 1e9", "Row 2: .*1000"),
            ("x" * 20_001, "too long"),
        ],
    )
    def test_what_cannot_be_read_is_told(self, text: str, words: str) -> None:
        with pytest.raises(BadSettingsError, match=words):
            parse_table(text)

    def test_components_need_the_same_roles(self) -> None:
        first, second = parse_table(PASTED), parse_table("x nir red blue\nc 1 0 0")
        with pytest.raises(ValueError, match="same roles"):
            CoefficientTable(components=(*first.components, *second.components))


class TestRemarks:
    def test_a_mistyped_number_is_found(self) -> None:
        """A digit too few in one coefficient spoils the length and the right angles."""
        good = get_published("oli-2014").table
        assert find_remarks(good) == []
        text = "x " + " ".join(good.roles) + "\n"
        rows = [[c.name, *map(str, row)] for c, row in
                zip(good.components, good.matrix, strict=True)]  # fmt: skip
        rows[1][4] = "0.0728"  # nir in greenness
        remarks = find_remarks(parse_table(text + "\n".join(" ".join(row) for row in rows)))
        assert any("greenness has the length" in remark for remark in remarks)
        assert any("not at right angles" in remark for remark in remarks)

    def test_zero_rows_do_no_harm(self) -> None:
        assert find_remarks(parse_table("x blue red\na 0 0\nb 0.6 0.8")) == [
            "a has the length 0.000, not 1: look for a mistyped number."
        ]


class TestSensor:
    @pytest.mark.parametrize(
        ("sensor", "set_id"),
        [
            ("Landsat 8, level 2", "oli-2014"),
            ("Landsat 9, level 1", "oli-2014"),
            ("landsat-8", "oli-2014"),
            ("Landsat 7, level 2", "etm-2002"),
            ("Landsat 5, level 1", "tm-1985"),
        ],
    )
    def test_the_set_for_a_sensor(self, sensor: str, set_id: str) -> None:
        found = published_for(sensor)
        assert found is not None and found.id == set_id
        assert sum(is_meant_for(one, sensor) for one in PUBLISHED_SETS) == 1
        settings = prepare(context_for(sensor))
        assert settings.coefficients == set_id
        assert settings.table == get_published(set_id).table

    def test_a_mismatch_is_refused_with_a_reason(self) -> None:
        with pytest.raises(InputError, match="made for that sensor, and the scene is of Test-8"):
            prepare(context_for("Test-8"), coefficients="oli-2014")
        with pytest.raises(InputError, match="No set of coefficients is published here for Test"):
            prepare(context_for("Test-8"))
        raw = replace(random_raster(8, 8, 6), quantity="numbers")
        with pytest.raises(InputError, match="a scene made of several"):
            prepare(context_for(None))
        with pytest.raises(InputError, match="is for reflectance, and blue holds numbers"):
            prepare(context_for("Landsat 8, level 1"), raw)
        with pytest.raises(NotFoundError):
            prepare(context_for("Landsat 8"), coefficients="nonsense")

    def test_own_coefficients_are_for_any_sensor(self) -> None:
        table = parse_table(PASTED)
        settings = prepare(context_for("Test-8"), coefficients="own", own_name="Mine", table=table)
        raster = open_by(tasseled_cap.SPEC, random_raster(8, 8, 6), settings, context_for(None))
        assert roles_of(raster) == ("brightness", "green_wetness")
        assert "own coefficients “Mine”" in tasseled_cap.SPEC.say(settings)
        with pytest.raises(BadSettingsError, match="Type or paste"):
            prepare(context_for("Test-8"), coefficients="own")
        lacking = parse_table("x lwir red\na 0.6 0.8")
        with pytest.raises(MissingRoleError, match="lwir"):
            prepare(context_for("Test-8"), coefficients="own", table=lacking)

    def test_weights_go_by_role_not_by_position(self) -> None:
        """The same table with its columns in another order makes the same pixels."""
        raster = random_raster(16, 16, 6)
        tables = [
            parse_table("x red nir blue\nc 0.1 0.2 0.3"),
            parse_table("x blue red nir\nc 0.3 0.1 0.2"),
        ]
        found = []
        for table in tables:
            settings = prepare(context_for("T"), coefficients="own", table=table)
            derived = open_by(tasseled_cap.SPEC, raster, settings, context_for(None))
            found.append(derived.read(raster.grid.whole).values)
        assert np.allclose(found[0], found[1], atol=1e-6, equal_nan=True)
