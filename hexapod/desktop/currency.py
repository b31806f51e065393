"""Money in the signs of the reader's locale."""

from __future__ import annotations

from PyQt6.QtCore import QLocale

from hexapod.fields.money_text import Currency


def currency() -> Currency:
    """The currency of the locale; without a sign where it knows none."""
    locale = QLocale()
    symbol = locale.currencySymbol()
    code = locale.currencySymbol(QLocale.CurrencySymbolFormat.CurrencyIsoCode)
    group = locale.groupSeparator() or ","
    decimal = locale.decimalPoint() or "."
    if not symbol or symbol == "¤" or code in ("", "XXX"):
        symbol = code = ""
    return Currency(symbol, code, decimal, "," if group == decimal else group)
