"""A formula over a raster's bands as a lazy raster with one band."""

import hashlib

import numpy as np

from kitesort.core.bands import Band
from kitesort.core.derive.formula.classes import resolve_classes
from kitesort.core.derive.formula.program import compile_formula
from kitesort.core.derive.formula.tree import Name, Node, names_in, replace_names
from kitesort.core.errors import FormulaError
from kitesort.core.raster.derived import DerivedRaster
from kitesort.core.raster.protocol import Block, Raster, masked_block


class _Evaluate:
    """Picklable block function."""

    def __init__(self, node: Node) -> None:
        self._node = node

    def __call__(self, block: Block, roles: tuple[str, ...]) -> Block:
        program = compile_formula(self._node, roles)
        shape = block.valid.shape
        values = program.run(block.values.reshape(len(roles), -1)).reshape(1, *shape)
        return masked_block(values, block.valid & np.isfinite(values[0]))


def formula_raster(source: Raster, node: Node, name: str) -> DerivedRaster:
    """Values of a formula all of whose names are roles of ``source``; where it has no value, the
    pixel is not valid.

    Raises
    ------
    FormulaError : it names no layer at all, or a class that its map does not have.
    """
    names = names_in(node)
    if not names:
        raise FormulaError("The formula names no band: it would be the same everywhere.")
    node = resolve_classes(node, {band.role: band.legend for band in source.bands})
    signature = hashlib.blake2s(repr(_bare(node)).encode(), digest_size=8).hexdigest()
    return DerivedRaster(source, names, (Band(name),), _Evaluate(_bare(node)), signature)


def _bare(node: Node) -> Node:
    """Without the places of names in the text: the same formula is the same program."""
    return replace_names(node, {name: Name(name) for name in names_in(node)})
