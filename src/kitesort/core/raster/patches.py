"""Patches: pixels of one class that hang together."""

import numba
import numpy as np
import numpy.typing as npt
from numba import boolean, int32, int64, uint16, void

from kitesort.core.kernels import INLINE, KERNEL, read_only
from kitesort.core.legend import N_CODES, CodeArray


@numba.njit(**INLINE)
def _root(parent, i):  # type: ignore[no-untyped-def]
    while parent[i] != i:
        parent[i] = parent[parent[i]]
        i = parent[i]
    return i


@numba.njit(**INLINE)
def _join(parent, i, j):  # type: ignore[no-untyped-def]
    a, b = _root(parent, i), _root(parent, j)
    if a < b:
        parent[b] = a
    elif b < a:
        parent[a] = b


@numba.njit(**KERNEL)
def _number_by_sides(codes, labels, parent):  # type: ignore[no-untyped-def]
    """Give every pixel the number of one above or to its left that is of its class, and join the
    two where both are; how many numbers were given."""
    rows, cols = codes.shape
    given = np.int32(0)
    for r in range(rows):
        left = np.int32(-1)
        for c in range(cols):
            beside = c > 0 and codes[r, c - 1] == codes[r, c]
            if r > 0 and codes[r - 1, c] == codes[r, c]:
                number = labels[r - 1, c]
                if beside and left != number:
                    _join(parent, left, number)
            elif beside:
                number = left
            else:
                number = given
                parent[given] = given
                given += np.int32(1)
            labels[r, c] = left = number
    return given


@numba.njit(**KERNEL)
def _number_by_corners(codes, labels, parent):  # type: ignore[no-untyped-def]
    """As by sides; what is above touches all others that come before."""
    rows, cols = codes.shape
    given = np.int32(0)
    for r in range(rows):
        for c in range(cols):
            code, number = codes[r, c], np.int32(-1)
            if r > 0 and codes[r - 1, c] == code:
                labels[r, c] = labels[r - 1, c]
                continue
            if c > 0 and codes[r, c - 1] == code:
                number = labels[r, c - 1]
            elif r > 0 and c > 0 and codes[r - 1, c - 1] == code:
                number = labels[r - 1, c - 1]
            if r > 0 and c + 1 < cols and codes[r - 1, c + 1] == code:
                if number >= 0:
                    _join(parent, number, labels[r - 1, c + 1])
                number = labels[r - 1, c + 1]
            if number < 0:
                number = given
                parent[given] = given
                given += np.int32(1)
            labels[r, c] = number
    return given


@numba.njit(int64(read_only(uint16, 2), boolean, int32[:, ::1]), **KERNEL)
def label_patches(codes, diagonal, labels):  # type: ignore[no-untyped-def]
    """Number of each pixel's patch (rows, cols), from 0, in the order of their first pixels; how
    many there are. ``diagonal``: pixels that touch at corners hang together, too."""
    rows, cols = codes.shape
    parent = np.empty(rows * cols, np.int32)  # of numbers given so far; few of them as a rule
    if diagonal:
        given = _number_by_corners(codes, labels, parent)
    else:
        given = _number_by_sides(codes, labels, parent)
    n = np.int32(0)
    for i in range(given):  # a root has the least number of its patch
        root = parent[i]
        if root == i:
            parent[i] = n
            n += np.int32(1)
        else:
            parent[i] = parent[root]
    for r in range(rows):
        for c in range(cols):
            labels[r, c] = parent[labels[r, c]]
    return n


@numba.njit(
    void(
        read_only(uint16, 2), read_only(int32, 2), read_only(int32, 1), read_only(boolean, 1),
        read_only(int32, 1), int32[:, ::1],
    ),
    **KERNEL,
)  # fmt: skip
def measure_borders(codes, labels, small, may_win, place, borders):  # type: ignore[no-untyped-def]
    """Lengths (small patches, classes) of the borders that small patches share with large ones, in
    sides of pixels. ``small`` (patches,): place among the small ones, or -1; ``place``: of a code
    among the classes."""
    rows, cols = codes.shape
    for r in range(rows):
        for c in range(cols):
            patch = small[labels[r, c]]
            if patch < 0:
                continue
            for side in range(4):
                y = r + (side == 0) - (side == 1)
                x = c + (side == 2) - (side == 3)
                if y < 0 or x < 0 or y >= rows or x >= cols:
                    continue
                code = codes[y, x]
                if small[labels[y, x]] < 0 and may_win[code] and place[code] >= 0:
                    borders[patch, place[code]] += 1


def code_of_patches(codes: CodeArray, labels: npt.NDArray[np.int32], n: int) -> CodeArray:
    """By patch (n,), from codes and patches' numbers (rows, cols)."""
    found = np.zeros(n, np.uint16)
    found[labels.reshape(-1)] = codes.reshape(-1)
    return found


def pieces_by_code(codes: CodeArray, diagonal: bool = True) -> npt.NDArray[np.int64]:
    """How many patches there are by code in codes (rows, cols)."""
    labels = np.empty(codes.shape, np.int32)
    n = label_patches(codes, diagonal, labels)
    return np.bincount(code_of_patches(codes, labels, n), minlength=N_CODES)
