"""From text to tree: ordinary arithmetic, comparison, and the functions there are.

condition := both ("or" both)*            both  := denied ("and" denied)*
denied    := "not" denied | compared      compared := side [("<" | "<=" | …) side]
side      := sum | '"' class '"'             (a class of the map on the other side, with == or !=)
sum       := product (("+" | "-") product)*
product   := signed (("*" | "/") signed)*
signed    := "-" signed | "+" signed | power
power     := atom [("^" | "**") signed]   (so that -x^2 is -(x^2) and x^y^z is x^(y^z))
atom      := number | name | name "(" condition ("," condition)* ")" | "(" condition ")"
"""

import math
import re
from collections.abc import Callable
from dataclasses import dataclass
from operator import add, mul, sub, truediv

from kitesort.core.derive.formula.tree import (
    COMPARISONS,
    FUNCTIONS,
    Binary,
    Call,
    ClassName,
    Name,
    Negated,
    Node,
    Number,
    Operator,
    is_condition,
    unknown_name,
)
from kitesort.core.errors import FormulaError

MAX_CHARACTERS = 2000
MAX_DEPTH = 40
MAX_TOKENS = 600
MAX_EXPONENT = 32.0
WORDS = frozenset({"and", "or", "not"})
_TOKEN = re.compile(
    r"\s*(?:(?P<number>(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)"
    r"|(?P<name>[A-Za-z_]\w*(?:\.[A-Za-z_]\w*)?)"
    r"|(?P<sign>\*\*|<=|>=|==|!=|[-+*/^<>(),])"
    r"|[\"“](?P<class>[^\"“”\n]{1,80})[\"”])",
    re.ASCII,
)


@dataclass(frozen=True)
class _Token:
    kind: str
    text: str
    start: int
    end: int


def parse_formula(text: str) -> Node:
    """The checked tree of a formula; names are taken in lower case.

    Raises
    ------
    FormulaError : with the place of the mistake, in characters from the start.
    """
    if len(text) > MAX_CHARACTERS:
        raise FormulaError(
            f"The formula has {len(text):,} characters; {MAX_CHARACTERS:,} is the most. "
            "Split it into layers of their own.",
            MAX_CHARACTERS, len(text),
        )  # fmt: skip
    return _Parser(_tokens_of(text), len(text)).parse()


def _tokens_of(text: str) -> list[_Token]:
    tokens, at = [], 0
    end = len(text.rstrip())
    while at < end:
        found = _TOKEN.match(text, at)
        if found is None:
            at += len(text[at:]) - len(text[at:].lstrip())
            hint = " An equal sign compares when it is written twice." if text[at] == "=" else ""
            raise FormulaError(f"“{text[at]}” has no meaning here.{hint}", at, at + 1)
        kind = found.lastgroup or ""
        said = found[kind] if kind == "class" else found[kind].lower()
        tokens.append(_Token(kind, said, found.start(kind), found.end(kind)))
        at = found.end()
    if len(tokens) > MAX_TOKENS:
        last = tokens[MAX_TOKENS]
        raise FormulaError(
            f"The formula has {len(tokens)} names, numbers and signs; {MAX_TOKENS} is the most. "
            "Split it into layers of their own.",
            last.start, last.end,
        )  # fmt: skip
    return tokens


class _Parser:
    def __init__(self, tokens: list[_Token], length: int) -> None:
        self._tokens = tokens
        self._at = 0
        self._depth = 0
        self._end = _Token("end", "", length, length)

    def parse(self) -> Node:
        if not self._tokens:
            raise FormulaError("The formula is empty.", 0, 0)
        node = self._condition()
        rest = self._next
        if rest.kind != "end":
            what = "One bracket too many is closed." if rest.text == ")" else (
                f"An operator is missing before “{rest.text}”."
            )  # fmt: skip
            raise FormulaError(what, rest.start, rest.end)
        return node

    @property
    def _next(self) -> _Token:
        return self._tokens[self._at] if self._at < len(self._tokens) else self._end

    def _take(self, *texts: str) -> _Token | None:
        token = self._next
        if token.kind in ("sign", "name") and token.text in texts:
            self._at += 1
            return token
        return None

    def _condition(self) -> Node:
        node = self._both()
        while token := self._take("or"):
            node = self._joined("or", node, self._both(), token)
        return node

    def _both(self) -> Node:
        node = self._denied()
        while token := self._take("and"):
            node = self._joined("and", node, self._denied(), token)
        return node

    def _joined(self, operator: Operator, left: Node, right: Node, token: _Token) -> Node:
        if not (is_condition(left) and is_condition(right)):
            raise FormulaError(
                f"“{operator}” joins two conditions, such as nir > 0.2.", token.start, token.end
            )
        return Binary(operator, left, right)

    def _denied(self) -> Node:
        token = self._take("not")
        if token is None:
            return self._compared()
        self._go_deeper(token)
        inner = self._denied()
        self._depth -= 1
        if not is_condition(inner):
            raise FormulaError("“not” turns a condition round.", token.start, token.end)
        return Negated("not", inner)

    def _compared(self) -> Node:
        left = self._side()
        token = self._take(*COMPARISONS)
        if token is None:
            if isinstance(left, ClassName):
                raise _lonely(left)
            return left
        right = self._side()
        _require_comparable(token.text, left, right)
        node = Binary(token.text, left, right)  # type: ignore[arg-type]  # one of COMPARISONS
        twice = self._take(*COMPARISONS)
        if twice:
            raise FormulaError(
                "Only two values can be compared at a time: write a < b and b < c.",
                twice.start, twice.end,
            )  # fmt: skip
        return node

    def _side(self) -> Node:
        token = self._next
        if token.kind != "class":
            return self._sum()
        self._at += 1
        return ClassName(token.text, token.start, token.end)

    def _sum(self) -> Node:
        node = self._product()
        while token := self._take("+", "-"):
            node = Binary("+" if token.text == "+" else "-", node, self._product())
        return node

    def _product(self) -> Node:
        node = self._signed()
        while token := self._take("*", "/"):
            node = Binary("*" if token.text == "*" else "/", node, self._signed())
        return node

    def _signed(self) -> Node:
        token = self._take("-", "+")
        if token is None:
            return self._power()
        self._go_deeper(token)
        inner = self._signed()
        self._depth -= 1
        return Negated("-", inner) if token.text == "-" else inner

    def _power(self) -> Node:
        base = self._atom()
        token = self._take("^", "**")
        if token is None:
            return base
        self._go_deeper(token)
        exponent = self._signed()
        self._depth -= 1
        _require_small_exponent(exponent, token)
        return Binary("^", base, exponent)

    def _atom(self) -> Node:
        token = self._next
        self._at += 1
        if token.kind == "number":
            value = float(token.text)
            if value > 1e30:
                raise FormulaError("The number is too large.", token.start, token.end)
            return Number(value)
        if token.kind == "name" and token.text not in WORDS:
            return self._call(token) if self._take("(") else self._named(token)
        if token.text == "(":
            node = self._inside(token)
            self._close(token)
            return node
        if token.kind == "class":
            raise _lonely(ClassName(token.text, token.start, token.end))
        if token.kind == "end":
            raise FormulaError("Something is missing at the end.", token.start - 1, token.end)
        raise FormulaError(f"A value is missing before “{token.text}”.", token.start, token.end)

    def _named(self, token: _Token) -> Node:
        if token.text in FUNCTIONS:
            raise FormulaError(
                f"{token.text} needs brackets: {FUNCTIONS[token.text].words}.",
                token.start, token.end,
            )  # fmt: skip
        return Name(token.text, token.start, token.end)

    def _call(self, token: _Token) -> Node:
        function = FUNCTIONS.get(token.text)
        if function is None:
            raise unknown_name(f"There is no function called {token.text}.", token, FUNCTIONS)
        arguments = [self._inside(token)]
        while self._take(","):
            arguments.append(self._inside(token))
        last = self._close(token)
        n = len(arguments)
        if n < function.least or (function.most is not None and n > function.most):
            raise FormulaError(
                f"{token.text} takes {_count_words(function.least, function.most)}, "
                f"not {n}: {function.words}.",
                token.start, last.end,
            )  # fmt: skip
        if token.text == "where" and not is_condition(arguments[0]):
            raise FormulaError(
                "where starts with a condition, such as nir > 0.2.", token.start, last.end
            )
        return Call(token.text, tuple(arguments))

    def _inside(self, opening: _Token) -> Node:
        self._go_deeper(opening)
        node = self._condition()
        self._depth -= 1
        return node

    def _close(self, opening: _Token) -> _Token:
        token = self._take(")")
        if token is None:
            missing = self._next
            if missing.kind == "end" or missing.text == ",":
                raise FormulaError("This bracket is not closed.", opening.start, opening.end)
            raise FormulaError(
                f"An operator or a bracket is missing before “{missing.text}”.",
                missing.start, missing.end,
            )  # fmt: skip
        return token

    def _go_deeper(self, token: _Token) -> None:
        self._depth += 1
        if self._depth > MAX_DEPTH:
            raise FormulaError(
                f"More than {MAX_DEPTH} brackets and signs inside one another cannot be read. "
                "Split the formula.",
                token.start, token.end,
            )  # fmt: skip


def _lonely(node: ClassName) -> FormulaError:
    return FormulaError(
        f"A class is compared with a class map: map == “{node.text}”.", node.start, node.end
    )


def _require_comparable(operator: str, left: Node, right: Node) -> None:
    """A class stands beside a map, and is it or not."""
    for side, other in ((left, right), (right, left)):
        if isinstance(side, ClassName) and not (
            isinstance(other, Name) and operator in ("==", "!=")
        ):
            raise _lonely(side)


def _count_words(least: int, most: int | None) -> str:
    if most is None:
        return f"{least} values or more"
    return f"{least} value" if least == 1 else f"{least} values"


def _require_small_exponent(node: Node, token: _Token) -> None:
    """Exponents are numbers: huge powers are refused before anything runs."""
    value = constant_value(node)
    if value is None:
        raise FormulaError(
            "A power needs a plain number above it, such as nir^2.", token.start, token.end
        )
    if not abs(value) <= MAX_EXPONENT:
        raise FormulaError(
            f"Powers from -{MAX_EXPONENT:g} to {MAX_EXPONENT:g} are taken.", token.start, token.end
        )


def constant_value(node: Node) -> float | None:
    """The value of a part that holds numbers only (``1 / 2.5``), None for all others."""
    match node:
        case Number(value=value):
            return value
        case Negated(operator="-", of=of):
            inner = constant_value(of)
            return None if inner is None else -inner
        case Binary(operator=operator, left=left, right=right):
            return _fold(operator, constant_value(left), constant_value(right))
        case _:
            return None


_FOLD: dict[Operator, Callable[[float, float], float]] = {
    "+": add, "-": sub, "*": mul, "/": truediv, "^": math.pow,
}  # fmt: skip


def _fold(operator: Operator, left: float | None, right: float | None) -> float | None:
    if left is None or right is None or operator not in _FOLD:
        return None
    try:
        return _FOLD[operator](left, right)
    except (ZeroDivisionError, OverflowError, ValueError):
        return None  # it has no value, as the same would have with bands
