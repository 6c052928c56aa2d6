"""A formula as it is printed in a book: MathML Core, which browsers draw by themselves.

Source: W3C MathML Core (elements mfrac, msup, mrow, mi, mn, mo, mtext).
"""

from html import escape

from kitesort.core.derive.formula.tree import Binary, Call, ClassName, Name, Negated, Node, Number

_SIGNS = {
    "-": "−", "*": "·", "<=": "≤", ">=": "≥", "!=": "≠", "==": "=", "and": " and ", "or": " or ",
}  # fmt: skip
_COMMA = '<mo lspace="0.1em" rspace="0.4em">,</mo>'
_BINDING = {"or": 1, "and": 2, "+": 5, "-": 5, "*": 6, "/": 9, "^": 8}
_COMPARED, _DENIED, _SIGNED, _ATOM = 4, 3, 6, 9


def typeset(node: Node) -> str:
    """MathML of a formula; every name is escaped."""
    return f'<math display="block">{_write(node)}</math>'


def _write(node: Node) -> str:
    match node:
        case Number(value=value):
            return f"<mn>{value:.12g}</mn>"
        case Name(text=text):
            return f'<mi mathvariant="normal">{escape(text)}</mi>'
        case ClassName(text=text):
            return f"<mtext>“{escape(text)}”</mtext>"
        case Negated(operator=operator, of=of):
            sign = "<mo>−</mo>" if operator == "-" else "<mtext>not </mtext>"
            return f"<mrow>{sign}{_inside(of, _SIGNED if operator == '-' else _DENIED)}</mrow>"
        case Binary():
            return _write_binary(node)
        case Call(function=function, arguments=arguments):
            return _write_call(function, arguments)


def _write_binary(node: Binary) -> str:
    left, right = node.left, node.right
    if node.operator == "/":
        return f"<mfrac>{_row(_write(left))}{_row(_write(right))}</mfrac>"
    if node.operator == "^":
        return f"<msup>{_row(_inside(left, _ATOM))}{_row(_write(right))}</msup>"
    binding = _binding_of(node)
    sign = escape(_SIGNS.get(node.operator, node.operator))
    # a - (b - c) keeps its brackets, (a - b) - c needs none
    return f"<mrow>{_inside(left, binding)}<mo>{sign}</mo>{_inside(right, binding + 1)}</mrow>"


def _write_call(function: str, arguments: tuple[Node, ...]) -> str:
    if function == "sqrt":
        # Drawn by hand: msqrt has no sign without a mathematical font.
        return f"<mrow><mo>√</mo>{_inside(arguments[0], _ATOM)}</mrow>"
    if function == "abs":
        return f"<mrow><mo>|</mo>{_write(arguments[0])}<mo>|</mo></mrow>"
    inside = _COMMA.join(_write(argument) for argument in arguments)
    return f'<mrow><mi mathvariant="normal">{function}</mi><mo>(</mo>{inside}<mo>)</mo></mrow>'


def _inside(node: Node, binding: int) -> str:
    """In brackets where the node binds less than what stands around it."""
    text = _write(node)
    if _binding_of(node) >= binding:
        return text
    return f"<mrow><mo>(</mo>{text}<mo>)</mo></mrow>"


def _binding_of(node: Node) -> int:
    match node:
        case Binary(operator=operator):
            return _BINDING.get(operator, _COMPARED)
        case Negated(operator=operator):
            return 5 if operator == "-" else _DENIED
        case _:
            return _ATOM


def _row(text: str) -> str:
    """One element for a place that takes exactly one."""
    return text if text.startswith(("<mrow>", "<mi", "<mn>")) else f"<mrow>{text}</mrow>"
