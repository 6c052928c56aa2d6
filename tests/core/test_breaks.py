"""Class breaks: which value falls where, what is pointed out, and where tables start from."""

import json
from itertools import combinations
from typing import Any

import numpy as np
import pytest

from kitesort.core.classify.operations.breaks import BreaksSettings
from kitesort.core.derive.break_start import natural_breaks, start_table, suggest_breaks
from kitesort.core.derive.breaks import (
    BreakTable,
    breaks_raster,
    classify_values,
    count_breaks,
)
from kitesort.core.errors import BadSettingsError
from kitesort.core.recipe import LayerLeaf, Node, read_recipe, sentence_of
from support.arrays import ArrayRaster, random_raster


def table_of(*rows: tuple[str, float | None, float | None], **options: Any) -> BreakTable:
    return BreakTable(
        rows=[
            {"code": i, "name": name, "colour": f"#0000{i:02x}", "low": low, "high": high}
            for i, (name, low, high) in enumerate(rows, 1)
        ],
        **options,
    )


def codes_of(table: BreakTable, *values: float) -> list[int]:
    return classify_values(table, np.array(values, np.float32)).tolist()


THREE = (("low", 0.0, 0.1), ("middle", 0.1, 0.25), ("high", 0.25, 1.0))


class TestEnds:
    def test_lower_limits_belong(self) -> None:
        """Common practice for vegetation indices: the lower limit is included."""
        table = table_of(*THREE)
        assert codes_of(table, 0.0, 0.05, 0.1, 0.2, 0.25, 0.5, 1.0) == [1, 1, 2, 2, 3, 3, 3]
        assert codes_of(table, -0.001, 1.001) == [255, 255]

    def test_upper_limits_belong(self) -> None:
        table = table_of(*THREE, included="upper")
        assert codes_of(table, 0.0, 0.05, 0.1, 0.2, 0.25, 0.5, 1.0) == [1, 1, 1, 2, 2, 3, 3]

    def test_the_outer_end_can_be_left_out(self) -> None:
        lower = table_of(*THREE, outer_included=False)
        assert codes_of(lower, 1.0, 0.9999, 0.0) == [255, 3, 1]
        upper = table_of(*THREE, included="upper", outer_included=False)
        assert codes_of(upper, 0.0, 1.0) == [255, 3]

    def test_open_ends_and_a_threshold_in_two_rows(self) -> None:
        table = table_of(("dry", None, 0.3), ("wet", 0.3, None))
        assert codes_of(table, -1e30, 0.29, 0.3, 1e30) == [1, 1, 2, 2]

    def test_rows_in_any_order(self) -> None:
        table = table_of(*reversed(THREE))
        assert codes_of(table, 0.05, 0.5, 1.0) == [3, 1, 1]
        assert [row.name for row in table.ordered] == ["low", "middle", "high"]

    def test_what_a_file_calls_a_tenth_is_a_tenth(self) -> None:
        """0.1 as float32 is a little more than 0.1: both sides are compared alike."""
        for text in ("0.1", "0.3", "0.7"):
            value = float(text)
            table = table_of(("below", None, value), ("from", value, None))
            assert codes_of(table, float(np.float32(value))) == [2]

    @pytest.mark.parametrize("included", ["lower", "upper"])
    def test_every_value_inside_has_exactly_one_class(self, included: str) -> None:
        table = table_of(*THREE, included=included)
        values = np.concatenate([np.linspace(0, 1, 2001), [0.1, 0.25]]).astype(np.float32)
        codes = classify_values(table, values)
        assert set(np.unique(codes)) == {1, 2, 3}
        assert (np.diff(codes[:2001].astype(int)) >= 0).all()


class TestRefusals:
    @pytest.mark.parametrize(
        ("rows", "words"),
        [
            ((("a", 0.0, 0.5), ("b", 0.4, 1.0)), "a and b overlap"),
            ((("a", 0.0, None), ("b", 0.4, 1.0)), "a and b overlap"),
            ((("a", None, 0.5), ("b", None, 1.0)), "overlap"),
            ((("a", 0.5, 0.5),), "not above its start"),
            ((("a", 0.5, 0.1),), "not above its start"),
            ((("a", 0.0, 0.5), ("A", 0.5, 1.0)), "same name or code"),
            ((("  ", 0.0, 0.5),), "needs a name"),
            ((("a", float("nan"), 0.5),), "finite"),
            ((), "at least 1"),
        ],
    )
    def test_tables_that_cannot_be(self, rows: Any, words: str) -> None:
        with pytest.raises(ValueError, match=words):
            table_of(*rows)

    @pytest.mark.parametrize("code", [0, 255, -1])
    def test_codes_of_no_data_and_unclassified_are_not_given_away(self, code: int) -> None:
        with pytest.raises(ValueError, match="code"):
            BreakTable(rows=[{"code": code, "name": "a", "colour": "#000000", "low": 0}])


class TestRemarks:
    VALUES = np.array([-0.2, 0.0, 0.05, 0.1, 0.15, 0.18, 0.3, 0.9, 1.0, 1.0, 1.2], np.float32)

    def test_nothing_to_say(self) -> None:
        table = table_of(("a", None, 0.5), ("b", 0.5, None))
        found = count_breaks(table, self.VALUES)
        assert found.remarks == [] and found.pixels == {1: 7, 2: 4} and found.n_valid == 11

    def test_gaps_and_values_beyond(self) -> None:
        table = table_of(("a", 0.0, 0.1), ("b", 0.2, 1.0))
        found = count_breaks(table, self.VALUES)
        assert found.remarks == [
            "Between 0.1 and 0.2 is a gap; 3 pixels lie in or beside it.",
            "1 pixel lies below 0, the lowest limit, and stays unclassified.",
            "1 pixel lies above 1, the highest limit, and stays unclassified.",
        ]
        assert found.pixels[255] == 5

    def test_values_at_the_last_limit(self) -> None:
        table = table_of(("a", None, 0.1), ("b", 0.1, 1.0), outer_included=False)
        remarks = count_breaks(table, self.VALUES).remarks
        assert (
            "2 pixels lie exactly at 1, the end that is left out, and stay unclassified." in remarks
        )
        upper = table_of(("a", 0.0, 0.1), ("b", 0.1, None), included="upper", outer_included=False)
        assert any("exactly at 0" in remark for remark in count_breaks(upper, self.VALUES).remarks)


class TestMap:
    def test_no_data_stays_no_data(self) -> None:
        source = random_raster(20, 30, 4)
        raster = breaks_raster(source, "nir", table_of(("a", None, 0.2), ("b", 0.2, None)))
        block = raster.read(raster.grid.whole)
        assert np.array_equal(block.valid, source.valid)
        assert np.isnan(block.values[0][~source.valid]).all()
        assert np.array_equal(
            block.values[0] == 2, source.valid & (source.values[3] >= 0.2), equal_nan=True
        )

    def test_infinity_and_not_a_number_are_not_classified_by_accident(self) -> None:
        table = table_of(*THREE)
        assert codes_of(table, np.nan, np.inf, -np.inf) == [255, 255, 255]

    def test_recipe_in_words_and_as_data(self) -> None:
        table = table_of(("bare", None, 0.1), ("green", 0.1, 1.0))
        settings = BreaksSettings(role="ndvi", excluded=("cloud",), table=table)
        recipe = Node(
            operation="breaks",
            version=1,
            settings=settings.model_dump(mode="json"),
            inputs=(LayerLeaf(layer_id=3, name="NDVI, June"),),
        )
        assert sentence_of(recipe) == (
            "NDVI, June in classes by breaks of ndvi: bare below 0.1; green from 0.1 up to 1."
        )
        assert read_recipe(json.loads(recipe.model_dump_json())) == recipe
        assert recipe.checked == settings
        assert [entry.name for entry in settings.legend] == ["bare", "green", "Unclassified"]
        upper = table_of(("a", 0.0, 0.1), ("b", 0.1, None), included="upper")
        assert upper.words == "a from 0 up to 0.1; b above 0.1"
        assert table_of(("all", None, None)).words == "all everywhere"
        open_end = table_of(("a", 0.0, 0.1), outer_included=False)
        assert open_end.words == "a from 0 to below 0.1"


class TestStart:
    VALUES = np.random.default_rng(4).normal(0.4, 0.2, 5000).astype(np.float32)

    @pytest.mark.parametrize("start", ["equal intervals", "quantiles", "natural breaks"])
    @pytest.mark.parametrize("n", [1, 2, 5])
    def test_all_values_are_inside(self, start: Any, n: int) -> None:
        table = start_table(self.VALUES, n, start, "green")
        assert len(table.rows) == n
        found = count_breaks(table, self.VALUES)
        assert 255 not in found.pixels and found.remarks == []
        assert len({row.colour for row in table.rows}) == n

    def test_equal_intervals_and_quantiles(self) -> None:
        values = np.array([0, 1, 2, 3, 4, 5, 6, 7, 8, 100], np.float32)
        assert suggest_breaks(values, 2, "equal intervals") == [0, 50, 100]
        assert suggest_breaks(values, 2, "quantiles") == [0, 4.5, 100]

    def test_natural_breaks_leave_the_least_variance_of_all_partitions(self) -> None:
        """Held against every way of cutting some values into groups."""
        rng = np.random.default_rng(8)
        for n_classes in (2, 3, 4):
            values = np.sort(rng.choice(np.arange(100.0), 12, replace=False))
            best = min(
                (sum_of_squares(values, cuts), cuts)
                for cuts in combinations(range(1, 12), n_classes - 1)
            )
            limits = natural_breaks(values, n_classes)
            cuts = tuple(int(c) for c in np.searchsorted(values, limits[1:-1]))
            assert sum_of_squares(values, cuts) == pytest.approx(best[0])

    def test_natural_breaks_find_clumps_among_many_values(self) -> None:
        rng = np.random.default_rng(2)
        clumps = [rng.normal(m, 0.02, 4000) for m in (0.0, 0.3, 0.9)]
        limits = natural_breaks(np.concatenate(clumps), 3)
        assert 0.1 < limits[1] < 0.2 and 0.5 < limits[2] < 0.7

    def test_common_breaks_of_a_vegetation_index(self) -> None:
        """Common practice: breaks at 0, 0.1, 0.25, 0.4, lower limit included."""
        table = start_table(self.VALUES, 3, "vegetation index", "green")
        limits = [row.low for row in table.ordered[1:]]
        assert limits == [0.0, 0.1, 0.25, 0.4] and table.included == "lower"
        assert codes_of(table, -0.5, 0.0, 0.1, 0.25, 0.4, 0.9) == [1, 2, 3, 4, 5, 5]

    def test_too_few_values(self) -> None:
        same = np.full(100, 0.5, np.float32)
        with pytest.raises(BadSettingsError, match="fewer than 2 different values"):
            suggest_breaks(same, 2, "natural breaks")
        with pytest.raises(BadSettingsError, match="fewer than 1"):
            suggest_breaks(np.array([], np.float32), 1, "quantiles")
        mostly = np.concatenate([same, [0.1, 0.9]]).astype(np.float32)
        with pytest.raises(BadSettingsError, match="classes would be empty"):
            suggest_breaks(mostly, 3, "quantiles")


def sum_of_squares(values: Any, cuts: tuple[int, ...]) -> float:
    groups = np.split(values, list(cuts))
    return float(sum(((g - g.mean()) ** 2).sum() for g in groups if g.size))


def test_a_wide_raster_of_one_value_can_be_a_threshold() -> None:
    values = np.full((1, 4, 4), 0.5, np.float32)
    raster = ArrayRaster(values, np.ones((4, 4), np.bool_), ("ndvi",))
    codes = breaks_raster(raster, "ndvi", table_of(("a", None, 0.5), ("b", 0.5, None)))
    assert (codes.read(codes.grid.whole).values == 2).all()
