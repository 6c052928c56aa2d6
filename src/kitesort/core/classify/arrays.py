"""Arrays from a file that is not trusted: of the kind and shape asked for, or refused."""

from collections.abc import Mapping
from typing import Any

import numpy as np
import numpy.typing as npt

from kitesort.core.errors import BadClassifierError
from kitesort.core.group_statistics import Float64Array
from kitesort.core.legend import CodeArray, is_class_code


def no_classifier() -> BadClassifierError:
    """For what a method finds wrong in a file."""
    return BadClassifierError(
        "This file is no trained classifier, or it is damaged. Save it again where it comes from."
    )


def take_numbers(
    arrays: Mapping[str, npt.NDArray[Any]],
    name: str,
    shape: tuple[int | None, ...],
    *,
    endless: bool = False,
) -> Float64Array:
    """An array of finite numbers of a shape, in which None is any length but none; ``endless``:
    minus infinity is a number, too.

    Raises
    ------
    BadClassifierError
    """
    found = arrays.get(name)
    if found is None or found.dtype != np.float64 or not _fits(found.shape, shape):
        raise no_classifier()
    if not (np.isfinite(found) | (endless & np.isneginf(found))).all():
        raise no_classifier()
    return np.ascontiguousarray(found)


def take_indices(
    arrays: Mapping[str, npt.NDArray[Any]], name: str, length: int | None, least: int, most: int
) -> npt.NDArray[np.int32]:
    """An array (length,) of whole numbers within limits; None is any length but none.

    Raises
    ------
    BadClassifierError
    """
    found = arrays.get(name)
    if found is None or found.dtype != np.int32 or not _fits(found.shape, (length,)):
        raise no_classifier()
    if found.min(initial=least) < least or found.max(initial=least) > most:
        raise no_classifier()
    return np.ascontiguousarray(found)


def _fits(shape: tuple[int, ...], wanted: tuple[int | None, ...]) -> bool:
    return len(shape) == len(wanted) and all(
        n == w or (w is None and n > 0) for n, w in zip(shape, wanted, strict=True)
    )


def take_codes(arrays: Mapping[str, npt.NDArray[Any]]) -> CodeArray:
    """Class codes, each once.

    Raises
    ------
    BadClassifierError
    """
    found = arrays.get("codes")
    if found is None or found.ndim != 1 or not found.size:
        raise no_classifier()
    if found.dtype not in (np.uint8, np.uint16):  # bytes: of a file that an older version wrote
        raise no_classifier()
    if len(np.unique(found)) < found.size or not all(map(is_class_code, found.tolist())):
        raise no_classifier()
    return np.ascontiguousarray(found, np.uint16)
