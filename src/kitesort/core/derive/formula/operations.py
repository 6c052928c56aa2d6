"""What the operators and functions of a formula do to values, element by element.

Conditions are 1 and 0. "No value" is not-a-number and stays so through all of them, conditions
included, so that a comparison with nothing never turns into a plain no.
"""

import math
from collections.abc import Callable
from typing import Any

import numba
import numpy as np

Operation = Callable[..., Any]  # a NumPy ufunc: takes ``out``
_TWO = ["float64(float64, float64)"]
_NONE = math.nan


@numba.vectorize(_TWO, nopython=True, cache=True)
def divide(a: float, b: float) -> float:
    return a / b if b != 0.0 else _NONE


@numba.vectorize(_TWO, nopython=True, cache=True)
def power(a: float, b: float) -> float:
    """A negative base has a value for whole exponents only, zero none below zero."""
    if a > 0.0 or (a == 0.0 and b >= 0.0) or (a < 0.0 and b == math.floor(b)):
        return a**b
    return _NONE


@numba.vectorize(["float64(float64)"], nopython=True, cache=True)
def log(a: float) -> float:
    return math.log(a) if a > 0.0 else _NONE


@numba.vectorize(["float64(float64)"], nopython=True, cache=True)
def sqrt(a: float) -> float:
    return math.sqrt(a) if a >= 0.0 else _NONE


@numba.vectorize(_TWO, nopython=True, cache=True)
def less(a: float, b: float) -> float:
    return 1.0 if a < b else (0.0 if a >= b else _NONE)


@numba.vectorize(_TWO, nopython=True, cache=True)
def at_most(a: float, b: float) -> float:
    return 1.0 if a <= b else (0.0 if a > b else _NONE)


@numba.vectorize(_TWO, nopython=True, cache=True)
def same(a: float, b: float) -> float:
    return 1.0 if a == b else (_NONE if math.isnan(a) or math.isnan(b) else 0.0)


@numba.vectorize(_TWO, nopython=True, cache=True)
def both(a: float, b: float) -> float:
    return _NONE if math.isnan(a) or math.isnan(b) else min(a, b)


@numba.vectorize(_TWO, nopython=True, cache=True)
def either(a: float, b: float) -> float:
    return _NONE if math.isnan(a) or math.isnan(b) else max(a, b)


@numba.vectorize(["float64(float64)"], nopython=True, cache=True)
def deny(a: float) -> float:
    return 1.0 - a


@numba.vectorize(["float64(float64, float64, float64)"], nopython=True, cache=True)
def where(condition: float, a: float, b: float) -> float:
    if math.isnan(condition):
        return _NONE
    return a if condition != 0.0 else b


# Operators of two values; those missing here are written by way of these (a > b is b < a).
BINARY: dict[str, Operation] = {
    "+": np.add, "-": np.subtract, "*": np.multiply, "/": divide, "^": power, "<": less,
    "<=": at_most, "==": same, "and": both, "or": either, "min": np.minimum, "max": np.maximum,
}  # fmt: skip
UNARY: dict[str, Operation] = {
    "-": np.negative, "not": deny, "sqrt": sqrt, "log": log, "exp": np.exp, "abs": np.absolute,
}  # fmt: skip
