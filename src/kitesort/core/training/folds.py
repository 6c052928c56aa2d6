"""Whole sites in folds: what is tested on has no pixel, and no near neighbour, in training."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from kitesort.core.legend import CodeArray
from kitesort.core.training.samples import TrainingSamples

UNTESTED = -1
IntArray = npt.NDArray[np.int64]


@dataclass(frozen=True)
class Grouped:
    """Samples with the group (n,) that each pixel belongs to: a site, or sites of one class that
    lie close together; ``groups``: by class code the groups' numbers and how many pixels each
    has."""

    samples: TrainingSamples
    of_pixel: IntArray
    groups: dict[int, dict[int, int]]


def group_sites(samples: TrainingSamples, distance: float = 0.0) -> Grouped:
    """Sites of one class whose centres lie within a distance (pixels) hang together, so that they
    are never parted; with 0 each site is a group."""
    numbers, first, of_pixel = np.unique(samples.sites, return_index=True, return_inverse=True)
    n_pixels = np.bincount(of_pixel)
    centres = np.column_stack(
        [np.bincount(of_pixel, weights=at) / n_pixels for at in (samples.rows, samples.cols)]
    )
    codes = samples.codes[first]
    group_of_site = _linked(centres, codes, distance)
    groups: dict[int, dict[int, int]] = {}
    for site in range(len(numbers)):
        of_class = groups.setdefault(int(codes[site]), {})
        group = int(group_of_site[site])
        of_class[group] = of_class.get(group, 0) + int(n_pixels[site])
    return Grouped(samples, group_of_site[of_pixel], groups)


def _linked(centres: npt.NDArray[np.float64], codes: CodeArray, distance: float) -> IntArray:
    """Number of the group of each site: those that a chain of short steps connects."""
    if distance <= 0:
        return np.arange(len(centres))
    pairs = cKDTree(centres).query_pairs(distance, output_type="ndarray")
    pairs = pairs[codes[pairs[:, 0]] == codes[pairs[:, 1]]]
    links = coo_array((np.ones(len(pairs)), (pairs[:, 0], pairs[:, 1])), (len(centres),) * 2)
    return np.asarray(connected_components(links, directed=False)[1], np.int64)


def assign_folds(grouped: Grouped, n_folds: int, least_pixels: int, seed: int = 0) -> IntArray:
    """The fold (n,) in which each pixel is tested; UNTESTED (-1) where its class always trains:
    one group only, or too few pixels (``least_pixels``) without the pixels of a fold.

    In each class the largest groups come first, each into the fold that has fewest pixels of it.
    """
    fold_of_group: dict[int, int] = {}
    for code, groups in grouped.groups.items():
        found = _folds_of_class(groups, n_folds, np.random.default_rng([seed, code]))
        left = sum(groups.values()) - np.array(
            [sum(n for g, n in groups.items() if found[g] == fold) for fold in range(n_folds)]
        )
        tested = len(groups) > 1 and int(left.min()) >= least_pixels
        fold_of_group |= {g: found[g] if tested else UNTESTED for g in groups}
    table = np.full(max(fold_of_group, default=0) + 1, UNTESTED)
    table[list(fold_of_group)] = list(fold_of_group.values())
    return np.asarray(table[grouped.of_pixel], np.int64)


def _folds_of_class(
    groups: dict[int, int], n_folds: int, rng: np.random.Generator
) -> dict[int, int]:
    loads = np.zeros(n_folds)
    order = rng.permutation(n_folds)  # so that small classes are not all tested in the first fold
    numbers = list(groups)
    drawn = [numbers[i] for i in rng.permutation(len(numbers))]
    found = {}
    for group in sorted(drawn, key=lambda g: -groups[g]):
        fold = int(order[loads[order].argmin()])
        loads[fold] += groups[group]
        found[group] = fold
    return found


def pixels_of(grouped: Grouped, groups: Sequence[int]) -> npt.NDArray[np.bool_]:
    """Which pixels (n,) are of some groups."""
    return np.isin(grouped.of_pixel, groups)
