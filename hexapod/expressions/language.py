"""Expressions parsed to functions whose kind is known before they are run. Nothing of Python is evaluated.

    expression  := if expression then expression else expression | any
    any         := all ("or" all)*
    all         := test ("and" test)*
    test        := "not" test | sum [comparison other | "is" ["not"] ("empty" | other) | "contains" other]
    other       := sum | words that are no names, where a text is meant
    sum         := product (("+" | "-" | "&") product)*
    product     := sign (("*" | "/") sign)*
    sign        := "-" sign | value
    value       := number | length | date | "text" | yes | no | name | function "(" ... ")" | "(" expression ")"

An empty value makes what is computed from it empty; a test of it fails. Lengths are working time: the
difference of two dates, and a date some lengths later, are counted on a calendar, by ``DateSums``.
"""

from __future__ import annotations

import math
import operator
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from hexapod.errors import BadText
from hexapod.expressions.tokens import DATE, END, LENGTH, NAME, NUMBER, SIGN, TEXT, WORD, WORDS, Token, tokens
from hexapod.expressions.values import Kind, Value
from hexapod.worktime.dates import parse_moment
from hexapod.worktime.lengths import parse_length

Run = Callable[[Any], Value]  # from whatever the names are read of: a task, say
DEEPEST = 40  # brackets within brackets
LONGEST_CHAIN = 200  # values computed one from the other, through computed fields too
LARGEST = 10**15  # of a number: what a float still holds exactly


class OutOfRange(BadText):
    """A date would lie outside the years that a plan can hold."""

    def __init__(self) -> None:
        super().__init__("out of range")


@dataclass(frozen=True)
class Expression:
    """``run`` gives the value for one task; ``names`` are those that it reads, ``depth`` how many values are computed
    one from the other."""

    kind: Kind
    run: Run
    names: frozenset[str]
    depth: int = 1

    def value(self, task: Any) -> Value:
        """The value for one task; empty where a date would be out of range."""
        try:
            return self.run(task)
        except OutOfRange:
            return None


@dataclass(frozen=True)
class Function:
    """``takes`` are the kinds of its arguments; None is any kind, and the last one may repeat if ``many``."""

    takes: tuple[Kind | None, ...]
    gives: Kind | None  # None: that of its first argument
    run: Callable[..., Value]
    many: bool = False


@dataclass(frozen=True)
class DateSums:
    """Working minutes from one moment to another, and the moment so many working minutes after one; for a task."""

    between: Callable[[Any, int, int], Value]
    later: Callable[[Any, int, int], Value]


def parse(text: str, names: Mapping[str, Expression], functions: Mapping[str, Function], dates: DateSums) -> Expression:
    """Understand an expression. ``BadText`` says in words what is wrong, and where."""
    parser = _Parser(text, names, functions, dates)
    try:
        return parser.whole()
    except BadText as error:
        raise BadText(str(error), parser.place if error.at is None else error.at) from None


class _Parser:
    def __init__(
        self, text: str, names: Mapping[str, Expression], functions: Mapping[str, Function], dates: DateSums
    ) -> None:
        self._dates = dates
        self._names = {name.lower(): found for name, found in names.items()}
        self._functions = functions
        self._tokens = tokens(text, self._names)
        self._at = 0
        self._depth = 0
        self._read: set[str] = set()
        self._wrong: int | None = None  # where a word that was read already should not have been

    @property
    def place(self) -> int:
        """Where in the text the reading stands."""
        return self._wrong if self._wrong is not None else self._token.at

    def whole(self) -> Expression:
        if self._token.kind == END:
            raise BadText("An expression is missing, such as finish - target.")
        found = self._expression()
        if self._token.kind != END:
            raise BadText(f"“{self._token.text}” is not expected there.")
        return Expression(found.kind, found.run, frozenset(self._read), found.depth)

    # Reading

    @property
    def _token(self) -> Token:
        return self._tokens[self._at]

    def _take(self, kind: str, *texts: str) -> str | None:
        token = self._token
        if token.kind == kind and (not texts or token.text in texts):
            self._at += 1
            return token.text
        return None

    def _need(self, kind: str, text: str) -> None:
        if self._take(kind, text) is None:
            shown = f"before “{self._token.text}”" if self._token.text else "at the end"
            raise BadText(f"“{text}” is missing {shown}.")

    # Rules

    def _expression(self) -> Expression:
        self._depth += 1
        if self._depth > DEEPEST:
            raise BadText(f"An expression may be nested {DEEPEST} deep.")
        found = self._choice() if self._take(WORD, "if") else self._any()
        self._depth -= 1
        return found

    def _choice(self) -> Expression:
        test = _of(self._expression(), Kind.YES_NO, "“if”")
        self._need(WORD, "then")
        yes = self._expression()
        self._need(WORD, "else")
        no = self._expression()
        if yes.kind is not no.kind:
            raise BadText(f"“then” gives a {yes.kind} and “else” a {no.kind}; both must be alike.")
        return _made(yes.kind, lambda task: yes.run(task) if test.run(task) else no.run(task), test, yes, no)

    def _any(self) -> Expression:
        found = self._all()
        while self._take(WORD, "or"):
            found = _both(_of(found, Kind.YES_NO, "“or”"), _of(self._all(), Kind.YES_NO, "“or”"), any)
        return found

    def _all(self) -> Expression:
        found = self._test()
        while self._take(WORD, "and"):
            found = _both(_of(found, Kind.YES_NO, "“and”"), _of(self._test(), Kind.YES_NO, "“and”"), all)
        return found

    def _test(self) -> Expression:
        if self._take(WORD, "not"):
            inner = _of(self._test(), Kind.YES_NO, "“not”")
            return _made(Kind.YES_NO, lambda task: not inner.run(task), inner)
        left = self._sum()
        if sign := self._take(SIGN, "=", "≠", "<", "<=", ">", ">="):
            return _compared(left, self._operand(left.kind), sign)
        if self._take(WORD, "is"):
            wanted = self._take(WORD, "not") is None
            if self._take(WORD, "empty"):
                return _made(Kind.YES_NO, lambda task: (left.run(task) in (None, "")) is wanted, left)
            return _compared(left, self._operand(left.kind), "=" if wanted else "≠")
        if self._take(WORD, "contains"):
            part = _of(self._operand(Kind.TEXT), Kind.TEXT, "“contains”")
            whole = _of(left, Kind.TEXT, "“contains”")
            return _made(
                Kind.YES_NO,
                lambda task: str(part.run(task)).lower() in str(whole.run(task) or "").lower(),
                part,
                whole,
            )
        return left

    def _operand(self, kind: Kind) -> Expression:
        """What something is compared with; words that are no names are the text that they are.

        So is the name of what is no text, where a text is meant: in “state is done” the per cent done is not.
        """
        words = []
        while kind is Kind.TEXT and self._is_plain_word():
            words.append(self._token.text)
            self._at += 1
        return _constant(Kind.TEXT, " ".join(words)) if words else self._sum()

    def _is_plain_word(self) -> bool:
        token = self._token
        if token.kind == NUMBER:
            return True
        if token.kind == NAME:
            known = self._names.get(token.text)
            return known is not None and known.kind is not Kind.TEXT
        return token.kind == WORD and token.text not in WORDS and self._tokens[self._at + 1].text != "("

    def _sum(self) -> Expression:
        found = self._product()
        while sign := self._take(SIGN, "+", "-", "&"):
            found = _summed(found, self._product(), sign, self._dates)
        return found

    def _product(self) -> Expression:
        found = self._sign()
        while sign := self._take(SIGN, "*", "/"):
            found = _multiplied(found, self._sign(), sign)
        return found

    def _sign(self) -> Expression:
        if not self._take(SIGN, "-"):
            return self._value()
        self._depth += 1
        if self._depth > DEEPEST:
            raise BadText(f"An expression may be nested {DEEPEST} deep.")
        inner = self._sign()
        self._depth -= 1
        if inner.kind not in (Kind.NUMBER, Kind.LENGTH, Kind.MONEY):
            raise BadText(f"A {inner.kind} has no negative.")
        return _made(inner.kind, _strict(operator.neg, inner), inner)

    def _value(self) -> Expression:
        token = self._token
        if token.kind == WORD and token.text in self._functions and self._tokens[self._at + 1].text == "(":
            return self._call(token.text)
        self._at += 1
        if token.kind == NUMBER:
            return _constant(Kind.NUMBER, _number(token.text))
        if token.kind == LENGTH:
            return _constant(Kind.LENGTH, parse_length(token.text))
        if token.kind == DATE:
            return _constant(Kind.DATE, parse_moment(token.text))
        if token.kind == TEXT:
            return _constant(Kind.TEXT, token.text)
        if token.kind == WORD and token.text in ("yes", "no"):
            return _constant(Kind.YES_NO, token.text == "yes")
        if token.kind == NAME:
            return self._named(token.text)
        if token.kind == SIGN and token.text == "(":
            found = self._expression()
            self._need(SIGN, ")")
            return found
        self._wrong = token.at
        raise BadText(_unknown(token, [*self._names, *self._functions]))

    def _named(self, name: str) -> Expression:
        found = self._names.get(name)
        if found is None:
            self._wrong = self._tokens[self._at - 1].at
            raise BadText(_unknown(Token(WORD, name, 0), self._names))
        self._read |= {name, *found.names}
        return found

    def _call(self, name: str) -> Expression:
        function = self._functions[name]
        self._at += 2
        given: list[Expression] = []
        while not self._take(SIGN, ")"):
            if given:
                self._need(SIGN, ",")
            given.append(self._expression())
        least = len(function.takes)
        if len(given) < least or (len(given) > least and not function.many):
            raise BadText(f"{name}(…) takes {'at least ' if function.many else ''}{least}, and not {len(given)}.")
        for i, argument in enumerate(given):
            wanted = function.takes[min(i, least - 1)]
            if wanted is not None:
                _of(argument, wanted, f"{name}(…)")
            elif function.gives is None:
                _of(argument, given[0].kind, f"{name}(…)")
        kind = function.gives or given[0].kind
        return _made(kind, _strict(function.run, *given), *given)


def _made(kind: Kind, run: Run, *given: Expression) -> Expression:
    """What is computed from other values; ``BadText`` once too many are computed one from the other."""
    depth = 1 + max((each.depth for each in given), default=0)
    if depth > LONGEST_CHAIN:
        raise BadText(f"More than {LONGEST_CHAIN} values would be computed one from the other.")
    return Expression(kind, run, frozenset(), depth)


def _number(text: str) -> int | float:
    found = float(text) if len(text) < 40 else math.inf
    if found > LARGEST:
        raise BadText(f"“{text[:20]}…” has more than fifteen digits.")
    return found if "." in text else int(text)


def _bounded(value: Value) -> Value:
    """A number that is too large to be told exactly counts as one that cannot be computed."""
    if isinstance(value, int | float) and not abs(value) <= LARGEST:
        return None
    return value


def _constant(kind: Kind, value: Value) -> Expression:
    return _made(kind, lambda task: value)


def _strict(run: Callable[..., Value], *given: Expression) -> Run:
    """Empty as soon as something given is; so is what cannot be computed, such as a division by nothing."""

    def strict(task: Any) -> Value:
        values = [each.run(task) for each in given]
        if any(value is None for value in values):
            return None
        try:
            return _bounded(run(*values))
        except (ZeroDivisionError, OverflowError, ValueError):
            return None

    return strict


def _of(found: Expression, kind: Kind, where: str) -> Expression:
    if found.kind is not kind:
        raise BadText(f"{where} takes a {kind}, and not a {found.kind}.")
    return found


def _both(left: Expression, right: Expression, how: Callable[[Any], bool]) -> Expression:
    return _made(Kind.YES_NO, lambda task: how(bool(each.run(task)) for each in (left, right)), left, right)


_COMPARE = {
    "=": operator.eq, "≠": operator.ne, "<": operator.lt, "<=": operator.le, ">": operator.gt, ">=": operator.ge,
}  # fmt: skip


def _compared(left: Expression, right: Expression, sign: str) -> Expression:
    if left.kind is not right.kind:
        raise BadText(f"A {left.kind} cannot be compared with a {right.kind}.")
    compare = _COMPARE[sign]

    def run(task: Any) -> bool:
        one, other = left.run(task), right.run(task)
        if one is None or other is None:
            return sign == "≠" and one is not other
        if isinstance(one, str) and isinstance(other, str):
            one, other = one.lower(), other.lower()
        return bool(compare(one, other))

    return _made(Kind.YES_NO, run, left, right)


def _dated(how: Callable[[Any, int, int], Value], left: Expression, right: Expression, sign: int) -> Run:
    def run(task: Any) -> Value:
        one, other = left.run(task), right.run(task)
        return None if one is None or other is None else how(task, int(one), sign * int(other))

    return run


_ALIKE = (Kind.NUMBER, Kind.LENGTH, Kind.MONEY)


def _summed(left: Expression, right: Expression, sign: str, dates: DateSums) -> Expression:
    kinds = (left.kind, right.kind)
    if sign == "&" or (sign == "+" and kinds == (Kind.TEXT, Kind.TEXT)):
        if kinds != (Kind.TEXT, Kind.TEXT):
            raise BadText("& joins texts; write text(…) round what is none.")
        return _made(Kind.TEXT, lambda task: f"{left.run(task) or ''}{right.run(task) or ''}"[:10_000], left, right)
    run = operator.add if sign == "+" else operator.sub
    if left.kind is right.kind and left.kind in _ALIKE:
        return _made(left.kind, _strict(run, left, right), left, right)
    if kinds == (Kind.DATE, Kind.LENGTH):
        return _made(Kind.DATE, _dated(dates.later, left, right, 1 if sign == "+" else -1), left, right)
    if kinds == (Kind.DATE, Kind.DATE) and sign == "-":
        return _made(Kind.LENGTH, _dated(dates.between, right, left, 1), left, right)
    verb = "added to" if sign == "+" else "taken from"
    raise BadText(f"A {right.kind} cannot be {verb} a {left.kind}.")


def _multiplied(left: Expression, right: Expression, sign: str) -> Expression:
    if sign == "/" and left.kind is right.kind and left.kind in _ALIKE:
        return _made(Kind.NUMBER, _strict(operator.truediv, left, right), left, right)
    if right.kind is Kind.NUMBER and left.kind in _ALIKE:
        return _made(left.kind, _strict(operator.mul if sign == "*" else operator.truediv, left, right), left, right)
    if sign == "*" and left.kind is Kind.NUMBER and right.kind in _ALIKE:
        return _made(right.kind, _strict(operator.mul, left, right), left, right)
    verb = "multiplied with" if sign == "*" else "divided by"
    raise BadText(f"A {left.kind} cannot be {verb} a {right.kind}.")


def _unknown(token: Token, known: Any) -> str:
    if token.kind == END:
        return "Something is missing at the end."
    if token.kind == WORD and token.text not in WORDS:
        from difflib import get_close_matches

        near = get_close_matches(token.text, list(known), 3, 0.6)
        hint = f" Do you mean {' or '.join(near)}?" if near else ""
        return f"There is nothing called “{token.text}”.{hint}"
    return f"“{token.text}” is not expected there."
