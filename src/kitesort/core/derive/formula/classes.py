"""Class names in a formula become the codes of the map that they are compared with."""

from collections.abc import Mapping

from kitesort.core.derive.formula.tree import (
    Binary,
    ClassName,
    Name,
    Node,
    Number,
    unknown_name,
    with_children,
)
from kitesort.core.errors import FormulaError
from kitesort.core.legend import Legend


def resolve_classes(node: Node, legends: Mapping[str, Legend]) -> Node:
    """The tree with numbers in place of class names; ``legends`` by the name of the layer, empty
    for one whose values are no codes. Upper and lower case are the same.

    Raises
    ------
    FormulaError : a layer without classes, or without this one; the nearest name is told.
    """
    match node:
        case Binary(operator=operator, left=Name() as name, right=ClassName() as wanted):
            return Binary(operator, name, _code_of(wanted, name, legends))
        case Binary(operator=operator, left=ClassName() as wanted, right=Name() as name):
            return Binary(operator, _code_of(wanted, name, legends), name)
        case _:
            return with_children(node, lambda child: resolve_classes(child, legends))


def _code_of(wanted: ClassName, name: Name, legends: Mapping[str, Legend]) -> Number:
    legend = legends.get(name.text, ())
    if not legend:
        raise FormulaError(
            f"{name.text} is no class map: its values are numbers.", wanted.start, wanted.end
        )
    codes = {entry.name.casefold(): float(entry.code) for entry in legend}
    if wanted.text.casefold() in codes:
        return Number(codes[wanted.text.casefold()])
    names = [entry.name for entry in legend]
    raise unknown_name(f"{name.text} has no class “{wanted.text}”.", wanted, names)
