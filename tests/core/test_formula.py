"""Formulas: what can be read, where mistakes stand, and what comes out of them."""

import time
from collections.abc import Callable
from typing import Any

import numpy as np
import numpy.typing as npt
import pytest

from kitesort.core.derive.formula import parse
from kitesort.core.derive.formula.parse import parse_formula
from kitesort.core.derive.formula.program import CHUNK, compile_formula
from kitesort.core.derive.formula.tree import (
    FUNCTIONS,
    Binary,
    Name,
    Node,
    Number,
    is_condition,
    names_in,
    replace_names,
    require_known_names,
)
from kitesort.core.derive.formula.typeset import typeset
from kitesort.core.errors import FormulaError

NAMES = ("nir", "red", "blue")


def value_of(text: str, **values: float) -> float:
    node = parse_formula(text)
    names = names_in(node)
    pixels = np.array([[values[name]] for name in names], np.float32).reshape(len(names), 1)
    return float(compile_formula(node, names).run(pixels)[0])


class TestReading:
    @pytest.mark.parametrize(
        ("text", "value"),
        [
            ("nir + red * 2", 0.5 + 0.25 * 2),
            ("(nir + red) * 2", 1.5),
            ("nir - red - 0.125", 0.125),
            ("nir - (red - 0.125)", 0.375),
            ("nir / red / 2", 1.0),
            ("-nir^2", -0.25),
            ("(-nir)^2", 0.25),
            ("2^-1 * nir", 0.25),
            ("nir ** 2", 0.25),
            ("nir^2^2", 0.0625),
            ("nir^(1/2)", 0.5**0.5),
            ("--nir", 0.5),
            ("+nir", 0.5),
            ("1e-1 * nir", 0.05),
            (".5 * nir", 0.25),
            ("5. * nir", 2.5),
            ("NIR - Red", 0.25),
            ("nir > red", 1.0),
            ("nir <= red", 0.0),
            ("nir == 0.5 and red != 0.5", 1.0),
            ("not nir > red or red < 0", 0.0),
            ("nir >= 0.5", 1.0),
            ("nir < 0.5", 0.0),
            ("(nir > red) + 1", 2.0),
            ("where(nir > red, 10, 20)", 10.0),
            ("where(nir < red, 10, 20 + red)", 20.25),
            ("min(nir, red, 0.125)", 0.125),
            ("max(nir, red, 0.125)", 0.5),
            ("mean(nir, red)", 0.375),
            ("mean(nir, red, 0.75)", 0.5),
            ("clip(nir, 0, 0.3)", 0.3),
            ("clip(nir, 0.6, 0.9)", 0.6),
            ("sqrt(red)", 0.5),
            ("log(nir)", np.log(0.5)),
            ("exp(nir)", np.exp(0.5)),
            ("abs(red - nir)", 0.25),
            ("  nir\n+\tred ", 0.75),
        ],
    )
    def test_ordinary_arithmetic(self, text: str, value: float) -> None:
        assert value_of(text, nir=0.5, red=0.25) == pytest.approx(value, rel=1e-6)

    def test_names_may_belong_to_another_layer(self) -> None:
        node = parse_formula("spring_pass.nir - nir")
        assert names_in(node) == ("spring_pass.nir", "nir")
        assert node == Binary("-", Name("spring_pass.nir", 0, 15), Name("nir", 18, 21))

    @pytest.mark.parametrize(
        ("text", "start", "end", "words"),
        [
            ("", 0, 0, "empty"),
            ("   ", 0, 0, "empty"),
            ("nir -", 4, 5, "missing at the end"),
            ("(nir", 0, 1, "not closed"),
            ("min(nir, red", 0, 3, "not closed"),
            ("nir)", 3, 4, "One bracket too many"),
            ("nir red", 4, 7, "operator is missing"),
            ("nir * / red", 6, 7, "value is missing"),
            ("nir + ()", 7, 8, "value is missing"),
            ("(nir red)", 5, 8, "operator or a bracket"),
            ("nir = red", 4, 5, "written twice"),
            ("nir ; red", 4, 5, "no meaning"),
            ("nir ñ", 4, 5, "no meaning"),
            ("a.b.c", 3, 4, "no meaning"),
            ("wher(nir > 1, 1, 2)", 0, 4, "Did you mean “where"),
            ("tan(nir)", 0, 3, "no function called tan"),
            ("sqrt", 0, 4, "needs brackets"),
            ("clip(nir, 1)", 0, 12, "takes 3 values, not 2"),
            ("sqrt(nir, red)", 0, 14, "takes 1 value, not 2"),
            ("min(nir)", 0, 8, "takes 2 values or more, not 1"),
            ("where(nir, 1, 2)", 0, 16, "starts with a condition"),
            ("nir and red", 4, 7, "joins two conditions"),
            ("not nir", 0, 3, "turns a condition round"),
            ("0 < nir < 1", 8, 9, "two values can be compared"),
            ("nir ^ red", 4, 5, "plain number above"),
            ("nir ^ 99", 4, 5, "Powers from -32 to 32"),
            ("nir ^ -99", 4, 5, "Powers from -32 to 32"),
            ("9^9^9^9", 3, 4, "Powers"),
            ("nir ^ (1/0)", 4, 5, "plain number above"),
            ("1e99", 0, 4, "too large"),
        ],
    )
    def test_mistakes_have_a_place(self, text: str, start: int, end: int, words: str) -> None:
        with pytest.raises(FormulaError, match=words) as caught:
            parse_formula(text)
        assert (caught.value.start, caught.value.end) == (start, end)
        assert caught.value.sentence.endswith((".", "?"))

    def test_unknown_names_get_the_nearest_known(self) -> None:
        node = parse_formula("(nir - redd) / 2")
        with pytest.raises(
            FormulaError, match=r"no layer called redd. Did you mean “red"
        ) as caught:
            require_known_names(node, NAMES)
        assert (caught.value.start, caught.value.end, caught.value.instead) == (7, 11, "red")
        with pytest.raises(FormulaError, match="There are nir, red, blue"):
            require_known_names(parse_formula("zzz"), NAMES)
        require_known_names(parse_formula("nir - red"), NAMES)

    @pytest.mark.parametrize(
        "text",
        [
            "nir+" * 300_000 + "nir",
            "(" * 1_000_000,
            "(" * 500 + "nir" + ")" * 500,
            "-" * 1900 + "nir",
            "not " * 400 + "nir > 1",
            "sqrt(" * 300 + "nir" + ")" * 300,
            "1+" * 700 + "nir",
            "2^" * 200 + "2",
        ],
    )
    def test_monsters_are_refused_at_once(self, text: str) -> None:
        started = time.monotonic()
        with pytest.raises(FormulaError, match=r"is the most|cannot be read|Powers"):
            parse_formula(text)
        assert time.monotonic() - started < 5, "a hostile formula held the server"

    def test_the_longest_that_is_taken_can_be_computed(self) -> None:
        text = "+".join(["nir"] * ((parse.MAX_TOKENS + 1) // 2))
        assert value_of(text, nir=0.5) == pytest.approx(0.5 * ((parse.MAX_TOKENS + 1) // 2))
        deep = "(" * (parse.MAX_DEPTH - 1) + "nir" + ")" * (parse.MAX_DEPTH - 1)
        assert value_of(deep, nir=0.5) == 0.5


class TestNoValue:
    """What has no value is not-a-number, whatever is done with it afterwards."""

    @pytest.mark.parametrize(
        "text",
        [
            "nir / zero",
            "1 / (1 / zero)",
            "exp(-(1 / zero))",
            "log(zero)",
            "log(-nir)",
            "sqrt(-nir)",
            "(-nir)^0.5",
            "zero^-1",
            "nir / zero > 1",
            "nir / zero < 1",
            "not nir / zero > 1",
            "nir > 0 or nir / zero > 1",
            "where(nir / zero > 1, 1, 0)",
            "min(nir, nir / zero)",
            "max(nir / zero, nir)",
            "mean(nir, log(zero))",
            "clip(nir / zero, 0, 1)",
            "(nir / zero) != nir",
            "exp(nir * 1000)",
            "1e30 * 1e30 * nir",
            "0 * (nir / zero)",
        ],
    )
    def test_stays_without_value(self, text: str) -> None:
        assert np.isnan(value_of(text, nir=0.5, zero=0.0))

    @pytest.mark.parametrize(
        ("text", "value"),
        [
            ("where(zero == 0, 7, nir / zero)", 7.0),
            ("(-nir)^3", -0.125),
            ("(-nir)^-1", -2.0),
            ("zero^2", 0.0),
            ("sqrt(zero)", 0.0),
            ("nir^0", 1.0),
            ("zero^0", 1.0),
            ("0 / nir", 0.0),
        ],
    )
    def test_what_is_guarded_or_defined_has_one(self, text: str, value: float) -> None:
        assert value_of(text, nir=0.5, zero=0.0) == value


class TestValues:
    def test_random_formulas_agree_with_plain_arithmetic(self) -> None:
        """500 random trees against Python's own arithmetic in double precision."""
        rng = np.random.default_rng(3)
        values = rng.uniform(0.05, 0.6, (3, 200)).astype(np.float32)
        by_name = dict(zip(NAMES, values.astype(np.float64), strict=True))
        for _ in range(500):
            text, compute = random_formula(rng, 4)
            node = parse_formula(text)
            names = names_in(node)
            if not names:
                continue
            got = compile_formula(node, names).run(values[[NAMES.index(n) for n in names]])
            with np.errstate(all="ignore"):
                want = np.broadcast_to(compute(by_name), 200).astype(np.float32)
            good = np.isfinite(want)
            assert np.allclose(got[good], want[good], rtol=1e-5, atol=1e-7), text
            assert np.isnan(got[~good]).all(), text

    @pytest.mark.parametrize("n", [1, CHUNK - 1, CHUNK, CHUNK + 1, 3 * CHUNK + 17])
    def test_pieces_are_the_same_as_the_whole(self, n: int) -> None:
        rng = np.random.default_rng(1)
        values = rng.normal(0.1, 0.2, (2, n)).astype(np.float32)
        values.flags.writeable = False
        program = compile_formula(parse_formula("log(nir - red) / (nir + red)"), ("nir", "red"))
        whole = program.run(values)
        pieces = [program.run(part) for part in np.array_split(values, 7, axis=1)]
        assert whole.dtype == np.float32
        assert np.array_equal(whole, np.concatenate(pieces), equal_nan=True)

    def test_the_order_of_names_is_the_caller_s(self) -> None:
        node = parse_formula("nir - red")
        values = np.array([[0.5], [0.2]], np.float32)
        forward = compile_formula(node, ("nir", "red")).run(values)
        backward = compile_formula(node, ("red", "nir")).run(values[::-1])
        assert forward == backward == np.float32(0.3)


Compute = Callable[[dict[str, npt.NDArray[np.float64]]], Any]
OPERATORS: dict[str, Callable[[Any, Any], Any]] = {
    "+": np.add,
    "-": np.subtract,
    "*": np.multiply,
    "/": lambda a, b: np.where(np.asarray(b) == 0, np.nan, np.divide(a, b)),
}


def random_formula(rng: np.random.Generator, depth: int) -> tuple[str, Compute]:
    """Text, and what it means as a Python function."""
    kind = rng.integers(0, 7) if depth > 0 else rng.integers(0, 2)
    if kind == 0:
        name = NAMES[rng.integers(0, 3)]
        return name, lambda v: v[name]
    if kind == 1:
        number = round(float(rng.uniform(0.1, 3)), 3)
        return str(number), lambda _: number
    a_text, a = random_formula(rng, depth - 1)
    b_text, b = random_formula(rng, depth - 1)
    if kind in (2, 3):
        sign = list(OPERATORS)[rng.integers(0, 4)]
        return f"({a_text} {sign} {b_text})", lambda v: OPERATORS[sign](a(v), b(v))
    if kind == 4:
        return f"max({a_text}, {b_text})", lambda v: np.maximum(a(v), b(v))
    if kind == 5:
        return f"abs(-{_bracket(a_text)})^2", lambda v: np.abs(-np.asarray(a(v))) ** 2

    def choose(v: dict[str, npt.NDArray[np.float64]]) -> Any:
        x, y = a(v), b(v)
        unknown = np.isnan(x) | np.isnan(y)
        return np.where(unknown, np.nan, np.where(x < y, x, y * 2.0))

    return f"where({a_text} < {b_text}, {a_text}, {_bracket(b_text)} * 2)", choose


def _bracket(text: str) -> str:
    return f"({text})"


class TestTree:
    def test_names_are_put_in_place_of_others(self) -> None:
        node = parse_formula("where(not a > 1, -a, max(a, b)^2)")
        got = replace_names(node, {"a": Name("nir"), "b": Number(2.0)})
        assert names_in(got) == ("nir",)
        assert is_condition(parse_formula("nir > 1 and red < 2"))
        assert not is_condition(parse_formula("-nir"))

    def test_every_function_is_explained(self) -> None:
        for function in FUNCTIONS.values():
            assert function.words


class TestTypeset:
    @pytest.mark.parametrize(
        ("text", "parts"),
        [
            ("(nir - red) / (nir + red)", ["<mfrac>", "<mo>−</mo>", "<mo>+</mo>"]),
            ("nir^2", ["<msup>"]),
            ("sqrt(nir + red)", ["<mo>√</mo>", "<mo>(</mo>"]),
            ("abs(nir)", ["<mo>|</mo>"]),
            ("min(nir, red)", ["min", ">,</mo>"]),
            ("not nir >= 1 and red != 2", ["not ", "≥", "≠", " and "]),
            ("a.nir * 2", ["a.nir", "·"]),
            ("-(nir + red)", ["<mo>(</mo>"]),
        ],
    )
    def test_formulas_as_in_a_book(self, text: str, parts: list[str]) -> None:
        got = typeset(parse_formula(text))
        assert got.startswith("<math") and got.endswith("</math>")
        for part in parts:
            assert part in got

    def test_brackets_only_where_they_matter(self) -> None:
        def n_brackets(text: str) -> int:
            return typeset(parse_formula(text)).count("<mo>(</mo>")

        assert n_brackets("(nir * 2) + red") == 0
        assert n_brackets("(nir + 2) * red") == 1
        assert n_brackets("nir - (red - blue)") == 1
        assert n_brackets("(nir - red) - blue") == 0
        assert n_brackets("(nir + red)^2") == 1
        assert n_brackets("(nir + red) / (nir - red)") == 0

    def test_nothing_but_its_own_elements(self) -> None:
        evil: Node = Name("<script>alert(1)</script>")
        assert "<script>" not in typeset(evil)
