"""Class names in a formula become the codes of the map that they are compared with."""

from collections.abc import Mapping
from difflib import get_close_matches

from kitesort.core.derive.formula.tree import (
    Binary,
    Call,
    ClassName,
    Name,
    Negated,
    Node,
    Number,
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
        case Binary(operator=operator, left=left, right=right):
            return Binary(operator, resolve_classes(left, legends), resolve_classes(right, legends))
        case Negated(operator=operator, of=of):
            return Negated(operator, resolve_classes(of, legends))
        case Call(function=function, arguments=arguments):
            return Call(function, tuple(resolve_classes(a, legends) for a in arguments))
        case _:
            return node


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
    near = get_close_matches(wanted.text, names, 1, 0.5)
    hint = f"Did you mean “{near[0]}”?" if near else f"There are {', '.join(names[:24])}."
    raise FormulaError(
        f"{name.text} has no class “{wanted.text}”. {hint}", wanted.start, wanted.end,
        near[0] if near else None,
    )  # fmt: skip
