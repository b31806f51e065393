"""Money in the signs of the reader's locale."""

from __future__ import annotations

from PyQt6.QtCore import QLocale

from hexapod.fields.money_text import Currency


def currency() -> Currency:
    """The currency of the locale: some, as that of Switzerland, have a code and no sign, and C has neither."""
    locale = QLocale()
    code = locale.currencySymbol(QLocale.CurrencySymbolFormat.CurrencyIsoCode)
    group = locale.groupSeparator() or ","
    decimal = locale.decimalPoint() or "."
    return Currency(locale.currencySymbol(), code, decimal, "," if group == decimal else group)
