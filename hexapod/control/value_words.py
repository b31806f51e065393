"""Earned value in words: what each figure is called and made of, and what all of them mean in one sentence."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple, Protocol

from hexapod.control.value import Figures, Value


class Saying(Protocol):
    """How amounts, working time and dates are said: in hours or money, in the signs of a locale."""

    def amount(self, amount: int) -> str: ...
    def time(self, minutes: float) -> str: ...
    def day(self, at: int) -> str: ...


class FigureName(NamedTuple):
    """A figure by its key: its short name in the trade, its words, and of what it is made."""

    key: str
    short: str
    words: str
    formula: str = ""


FIGURES = (
    FigureName("pv", "PV", "Planned value", "What the baseline had planned to be done by then"),
    FigureName("ev", "EV", "Earned value", "The baseline's budget of what is done"),
    FigureName("ac", "AC", "Actual cost", "The hours logged, and costs that were entered"),
    FigureName("sv", "SV", "Schedule variance", "EV − PV"),
    FigureName("cv", "CV", "Cost variance", "EV − AC"),
    FigureName("spi", "SPI", "Schedule performance index", "EV / PV"),
    FigureName("cpi", "CPI", "Cost performance index", "EV / AC"),
    FigureName("bac", "BAC", "Budget at completion", "The baseline's budget of everything"),
    FigureName("eac", "EAC", "Estimate at completion", "AC + (BAC − EV) / CPI"),
    FigureName("eac_as_planned", "EAC", "… rest as planned", "AC + (BAC − EV)"),
    FigureName("eac_with_both", "EAC", "… with delay", "AC + (BAC − EV) / (CPI × SPI)"),
    FigureName("etc", "ETC", "Estimate to complete", "EAC − AC"),
    FigureName("vac", "VAC", "Variance at completion", "BAC − EAC"),
    FigureName("tcpi", "TCPI", "To-complete performance index", "(BAC − EV) / (BAC − AC)"),
    FigureName("es", "ES", "Earned schedule", "Working time from the start until so much was planned"),
    FigureName("spi_t", "SPI(t)", "… as an index of time", "ES / AT"),
    FigureName("sv_t", "SV(t)", "… as a variance of time", "ES − AT"),
    FigureName("finish", "", "Forecast finish", "Start + planned duration / SPI(t)"),
)
BY_KEY = {figure.key: figure for figure in FIGURES}
INDICES, TIMES = ("spi", "cpi", "tcpi", "spi_t"), ("es", "sv_t")


def said(value: Value, key: str, say: Saying) -> str:
    """A figure as it is read; nothing where it has no value."""
    found = getattr(value if key in ("es", "spi_t", "sv_t", "finish") else value.whole, key)
    if found is None:
        return ""
    if key in INDICES:
        return f"{found:.2f}"
    if key in TIMES:
        return say.time(found)
    return say.day(found) if key == "finish" else say.amount(found)


def made_of(value: Value, key: str, say: Saying) -> str:
    """Of what a figure is made, in its own numbers: ``EV / PV = 3,000 / 4,000``."""
    w = value.whole
    numbers: dict[str, Callable[[], str]] = {
        "sv": lambda: _terms(say, w.ev, "−", w.pv),
        "cv": lambda: _terms(say, w.ev, "−", w.ac),
        "spi": lambda: _terms(say, w.ev, "/", w.pv),
        "cpi": lambda: _terms(say, w.ev, "/", w.ac),
        "eac": lambda: f"{say.amount(w.ac)} + {say.amount(w.left or 0)} / {w.cpi:.3f}",
        "eac_as_planned": lambda: f"{say.amount(w.ac)} + {say.amount(w.left or 0)}",
        "eac_with_both": lambda: f"{say.amount(w.ac)} + {say.amount(w.left or 0)} / ({w.cpi:.3f} × {w.spi:.3f})",
        "etc": lambda: _terms(say, w.eac, "−", w.ac),
        "vac": lambda: _terms(say, w.bac, "−", w.eac),
        "tcpi": lambda: f"{say.amount(w.left or 0)} / {say.amount((w.bac or 0) - w.ac)}",
        "spi_t": lambda: f"{say.time(value.es or 0)} / {say.time(value.time)}",
        "sv_t": lambda: f"{say.time(value.es or 0)} − {say.time(value.time)}",
        "finish": lambda: f"{say.time(value.planned_time)} / {value.spi_t:.3f}",
    }
    formula = BY_KEY[key].formula
    if key not in numbers or not said(value, key, say):
        return formula
    return f"{formula} = {numbers[key]()}"


def sentence(value: Value, say: Saying) -> str:
    """What the figures mean, in one sentence."""
    w = value.whole
    if w.pv is None or w.ev is None or w.bac is None:
        return f"{value.name}: {next(iter(value.missing.values()), 'nothing is known yet.')}"
    begin = f"{value.name}: {say.amount(w.ev)} is earned of {say.amount(w.pv)} that was planned by {say.day(value.at)}"
    if not w.ac:
        return f"{begin}; nothing is spent yet."
    spent = f"{begin}, and {say.amount(w.ac)} is spent on it"
    if w.eac is None:
        return f"{spent}."
    over = w.eac - w.bac
    ends = f"{say.amount(abs(over))} {'more' if over > 0 else 'less'} than the {say.amount(w.bac)} of the baseline"
    will = "as much as the baseline says" if not over else ends
    when = "" if value.finish is None else f", and is done by {say.day(value.finish)}"
    return f"{spent}: at this pace it takes {say.amount(w.eac)}, {will}{when}."


def parts_of(value: Value, key: str) -> list[tuple[str, int]]:
    """What a figure is made of by task, the largest first: of those that add up."""
    reads: dict[str, Callable[[Figures], int | None]] = {
        "pv": lambda f: f.pv, "ev": lambda f: f.ev, "ac": lambda f: f.ac, "bac": lambda f: f.bac,
        "sv": lambda f: f.sv, "cv": lambda f: f.cv, "spi": lambda f: f.sv, "cpi": lambda f: f.cv,
    }  # fmt: skip
    read = reads.get(key)
    if read is None:
        return []
    found = [(task, amount) for task, figures in value.tasks.items() if (amount := read(figures))]
    return sorted(found, key=lambda part: -abs(part[1]))


def _terms(say: Saying, a: int | None, sign: str, b: int | None) -> str:
    return f"{say.amount(a or 0)} {sign} {say.amount(b or 0)}"
