"""From tree to program: a short list of orders for a stack, and values through it."""

from dataclasses import dataclass
from types import ModuleType
from typing import TYPE_CHECKING

import numpy as np
import numpy.typing as npt

from kitesort.core.derive.formula.parse import constant_value
from kitesort.core.derive.formula.tree import Binary, Call, Name, Negated, Node, Number
from kitesort.core.newest import remembered

if TYPE_CHECKING:
    from kitesort.core.derive.formula.operations import Operation

CHUNK = 8192  # pixels at a time: some such rows of doubles stay in the cache
# An order: put the values of a name on the stack, or a number, or do an operation of n values.
Order = tuple[str, int] | tuple[str, float] | tuple["Operation", int]


@dataclass(frozen=True)
class Program:
    """``names`` in the order in which values are handed in; ``depth``: rows on the stack."""

    orders: tuple[Order, ...]
    names: tuple[str, ...]
    depth: int

    def run(self, values: npt.NDArray[np.float32]) -> npt.NDArray[np.float32]:
        """Values (n,) of the formula from values (names, n), in double precision inside; not a
        number where it has none: division by zero, roots and logarithms of negatives, overflow."""
        n = values.shape[1]
        out = np.empty(n, np.float32)
        stack = np.empty((self.depth, min(CHUNK, n)), np.float64)
        with np.errstate(all="ignore"):
            for first in range(0, n, CHUNK):
                part = values[:, first : first + CHUNK]
                out[first : first + CHUNK] = self._run_chunk(part, stack)
            out[~np.isfinite(out)] = np.nan
        return out

    def _run_chunk(
        self, values: npt.NDArray[np.float32], stack: npt.NDArray[np.float64]
    ) -> npt.NDArray[np.float64]:
        rows = stack[:, : values.shape[1]]
        top = -1
        for what, argument in self.orders:
            if what == "name":
                top += 1
                rows[top] = values[int(argument)]
            elif what == "number":
                top += 1
                rows[top] = argument
            elif callable(what):
                top -= int(argument) - 1
                what(*rows[top : top + int(argument)], out=rows[top])
        return rows[0]


@remembered(1)
def _operations() -> ModuleType:
    """What operators do; loading their kernels takes most of a second, which no start waits for."""
    from kitesort.core.derive.formula import operations

    return operations


def warm() -> bool:
    """Compile the kernels into their cache."""
    return bool(_operations().BINARY)


@remembered(256)
def compile_formula(node: Node, names: tuple[str, ...]) -> Program:
    """The program of a tree all of whose names are in ``names``."""
    writer = _Writer(names)
    writer.write(node)
    return Program(tuple(writer.orders), names, writer.deepest)


class _Writer:
    def __init__(self, names: tuple[str, ...]) -> None:
        self._names = names
        self.orders: list[Order] = []
        self._depth = 0
        self.deepest = 0

    def write(self, node: Node) -> None:
        constant = constant_value(node)
        if constant is not None:
            self._push("number", constant)
            return
        match node:
            case Number(value=value):
                self._push("number", value)
            case Name(text=text):
                self._push("name", self._names.index(text))
            case Negated(operator=operator, of=of):
                self.write(of)
                self._do(_operations().UNARY[operator], 1)
            case Binary():
                self._write_binary(node)
            case Call(function=function, arguments=arguments):
                self._write_call(function, arguments)

    def _write_binary(self, node: Binary) -> None:
        """a > b is b < a, a >= b is b <= a, a != b is not a == b; squares are products."""
        left, right = node.left, node.right
        if node.operator in (">", ">="):
            left, right = right, left
        operator = {">": "<", ">=": "<=", "!=": "=="}.get(node.operator, node.operator)
        self.write(left)
        if operator == "^" and constant_value(right) == 2.0:
            self._do(np.square, 1)
            return
        self.write(right)
        self._do(_operations().BINARY[operator], 2)
        if node.operator == "!=":
            self._do(_operations().UNARY["not"], 1)

    def _write_call(self, function: str, arguments: tuple[Node, ...]) -> None:
        first, *others = arguments
        if function == "clip":
            self._write_call("min", (Call("max", (first, others[0])), others[1]))
            return
        self.write(first)
        for other in others:
            self.write(other)
            if function in _operations().BINARY or function == "mean":
                self._do(_operations().BINARY["+" if function == "mean" else function], 2)
        if function == "where":
            self._do(_operations().where, 3)
        elif function == "mean":
            self._push("number", float(len(arguments)))
            self._do(_operations().BINARY["/"], 2)
        elif not others:
            self._do(_operations().UNARY[function], 1)

    def _push(self, what: str, argument: float) -> None:
        self.orders.append((what, argument))
        self._depth += 1
        self.deepest = max(self.deepest, self._depth)

    def _do(self, operation: "Operation", takes: int) -> None:
        self.orders.append((operation, takes))
        self._depth -= takes - 1
