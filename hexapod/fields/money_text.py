"""Amounts of money as people type and read them, in the signs of a locale; whole smallest units, never a float."""

from __future__ import annotations

import re
from dataclasses import dataclass

from hexapod.errors import BadText
from hexapod.plan.bounds import MOST_MONEY

_SIGNS = re.compile(r"[^\W\d_]+|[$€£¥₹₩₽₺₫₦₱฿₴₪]")
_DIGITS = 18
_GAPS = " \u00a0\u202f'’"  # between groups of digits, wherever one is from


@dataclass(frozen=True)
class Currency:
    """``decimal`` and ``group`` are the signs of the locale, ``symbol`` and ``code`` its currency."""

    symbol: str = ""
    code: str = ""
    decimal: str = "."
    group: str = ","

    def read(self, text: str) -> int:
        """An amount in its smallest unit. ``BadText`` for what is no amount, or of another currency."""
        said = " ".join(text.split())
        for own in filter(None, (self.symbol, self.code)):
            said = re.sub(re.escape(" ".join(own.split())), "", said, flags=re.IGNORECASE)
        for mark in {*_GAPS, self.group} - {".", ","}:
            said = said.replace(mark, "")
        if _SIGNS.search(said):
            mine = self.symbol or self.code
            counts = f"which counts in {mine}" if mine else "which counts without a sign"
            raise BadText(f"“{text.strip()[:40]}” is in another currency than this plan, {counts}.")
        said = said if self.decimal in ".," else said.replace(self.decimal, ".")
        minus = said.startswith(("-", "−"))
        whole, part = self._split(said.lstrip("-−+"), text)
        if not whole.isdecimal() or not (part.isdecimal() or not part) or len(whole) > _DIGITS:
            raise BadText(f"“{text.strip()[:40]}” is no amount of money. Type for example {self.example}.")
        if len(part) > 2:
            raise BadText(f"“{text.strip()[:40]}” has more than two places.")
        found = int(whole) * 100 + int(part.ljust(2, "0") or 0)
        if found > MOST_MONEY:
            raise BadText(f"“{text.strip()[:40]}” is more money than a plan can hold.")
        return -found if minus else found

    @property
    def example(self) -> str:
        return f"1250 or 1{self.group}250{self.decimal}50"

    def _split(self, said: str, text: str) -> tuple[str, str]:
        """Digits before and behind the decimal sign. Signs between groups of three are taken out; what can be read two
        ways is refused."""
        marks = [c for c in said if c in ".,"]
        if not marks:
            return said, ""
        if len(set(marks)) == 2:
            last = marks[-1]
            if marks.count(last) > 1:
                raise BadText(f"“{text.strip()[:40]}” has more than one decimal sign.")
            whole, _, part = said.rpartition(last)
            self._refuse_odd_groups(whole, marks[0], text)
            return whole.replace(marks[0], ""), part
        whole, _, part = said.rpartition(marks[0])
        is_group = marks[0] == self.group and len(part) == 3
        if len(marks) == 1 and not is_group:
            return whole or "0", part
        self._refuse_odd_groups(said, marks[0], text)
        return said.replace(marks[0], ""), ""

    def _refuse_odd_groups(self, said: str, mark: str, text: str) -> None:
        first, *groups = said.split(mark)
        if any(len(group) != 3 for group in groups) or not 1 <= len(first) <= 3:
            raise BadText(f"“{text.strip()[:40]}” has more than one decimal sign. Type for example {self.example}.")

    def plain(self, amount: int) -> str:
        """``1,250.50``: with groups and two places, without the currency."""
        whole, part = divmod(abs(amount), 100)
        digits = f"{whole:,}".replace(",", self.group)
        return f"{'−' if amount < 0 else ''}{digits}{self.decimal}{part:02}"

    def short(self, amount: int) -> str:
        """``1,250``: rounded half up to whole units, for tables in which a glance counts."""
        whole = (abs(amount) + 50) // 100
        digits = f"{whole:,}".replace(",", self.group)
        return f"{'−' if amount < 0 and whole else ''}{digits}"

    def words(self, amount: int) -> str:
        """With the currency: ``£ 1,250.50``."""
        sign = self.symbol or self.code
        return f"{sign} {self.plain(amount)}".strip()


PLAIN = Currency()
