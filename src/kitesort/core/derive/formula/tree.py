"""The checked tree of a formula. Nothing in it is ever executed as code."""

from collections.abc import Callable, Collection, Iterator
from dataclasses import dataclass
from difflib import get_close_matches
from typing import Literal, Protocol

from kitesort.core.errors import FormulaError

Operator = Literal["+", "-", "*", "/", "^", "<", "<=", ">", ">=", "==", "!=", "and", "or"]
COMPARISONS = frozenset({"<", "<=", ">", ">=", "==", "!="})


@dataclass(frozen=True)
class Number:
    value: float


@dataclass(frozen=True)
class Name:
    """A band's role, ``handle.role`` for a band of another layer, or a named constant."""

    text: str
    start: int = 0
    end: int = 0


@dataclass(frozen=True)
class ClassName:
    """A class of a map, by its name."""

    text: str
    start: int = 0
    end: int = 0


@dataclass(frozen=True)
class Negated:
    """``-`` of a value, ``not`` of a condition."""

    operator: Literal["-", "not"]
    of: "Node"


@dataclass(frozen=True)
class Binary:
    operator: Operator
    left: "Node"
    right: "Node"


@dataclass(frozen=True)
class Call:
    function: str
    arguments: tuple["Node", ...]


Node = Number | Name | ClassName | Negated | Binary | Call


@dataclass(frozen=True)
class Function:
    """How many arguments a function takes (``most`` None: any number), and what it does."""

    least: int
    most: int | None
    words: str


FUNCTIONS: dict[str, Function] = {
    "where": Function(3, 3, "where(condition, value if so, value if not)"),
    "min": Function(2, None, "the least of two or more"),
    "max": Function(2, None, "the greatest of two or more"),
    "mean": Function(2, None, "the mean of two or more"),
    "clip": Function(3, 3, "clip(value, least, most): kept between the two"),
    "sqrt": Function(1, 1, "square root; of a negative number no data"),
    "log": Function(1, 1, "natural logarithm; of zero and below no data"),
    "exp": Function(1, 1, "e to the power of the value"),
    "abs": Function(1, 1, "without its sign"),
}


def children_of(node: Node) -> tuple[Node, ...]:
    match node:
        case Negated(of=of):
            return (of,)
        case Binary(left=left, right=right):
            return left, right
        case Call(arguments=arguments):
            return arguments
        case _:
            return ()


def with_children(node: Node, change: Callable[[Node], Node]) -> Node:
    """The node with each of its children changed."""
    match node:
        case Negated(operator=operator, of=of):
            return Negated(operator, change(of))
        case Binary(operator=operator, left=left, right=right):
            return Binary(operator, change(left), change(right))
        case Call(function=function, arguments=arguments):
            return Call(function, tuple(change(a) for a in arguments))
        case _:
            return node


def walk(node: Node) -> Iterator[Node]:
    """The node and all below it, in the order in which they were written."""
    yield node
    for child in children_of(node):
        yield from walk(child)


def names_in(node: Node) -> tuple[str, ...]:
    """Every name once, in the order in which they were written."""
    return tuple(dict.fromkeys(n.text for n in walk(node) if isinstance(n, Name)))


def is_condition(node: Node) -> bool:
    """Whether a node answers yes or no."""
    match node:
        case Binary(operator=operator):
            return operator in COMPARISONS or operator in ("and", "or")
        case Negated(operator=operator):
            return operator == "not"
        case _:
            return False


def replace_names(node: Node, by: dict[str, Node]) -> Node:
    """The tree with names put in place of others; names that are not in ``by`` stay."""
    if isinstance(node, Name):
        return by.get(node.text, node)
    return with_children(node, lambda child: replace_names(child, by))


def require_known_names(node: Node, known: tuple[str, ...]) -> None:
    """Raises FormulaError at the first name that is not known, with the nearest one that is."""
    for name in walk(node):
        if isinstance(name, Name) and name.text not in known:
            raise unknown_name(f"There is no layer called {name.text}.", name, known)


class _Written(Protocol):
    """What stands in a formula from ``start`` to ``end``."""

    @property
    def text(self) -> str: ...
    @property
    def start(self) -> int: ...
    @property
    def end(self) -> int: ...


def unknown_name(sentence: str, written: _Written, known: Collection[str]) -> FormulaError:
    """The mistake of a name that is not known, with the nearest one that is."""
    near = get_close_matches(written.text, known, 1, 0.5)
    hint = f"Did you mean “{near[0]}”?" if near else f"There are {', '.join([*known][:24])}."
    instead = near[0] if near else None
    return FormulaError(f"{sentence} {hint}", written.start, written.end, instead)
