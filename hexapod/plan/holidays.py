"""Public holidays of a country or one of its regions, by the package ``holidays``."""

from __future__ import annotations

from functools import lru_cache

from hexapod.errors import BadText

EPOCH_DAY = 719_163  # the ordinal of 1970-01-01


def check_code(code: str) -> None:
    """Raise ``BadText`` if nothing is known of the country or region, such as ``GB`` or ``GB-SCT``."""
    country, _, region = code.partition("-")
    known = supported()
    if country not in known or (region and region not in known[country]):
        raise BadText(f"The public holidays of “{code[:20]}” are not known. Use a code such as GB, GB-SCT or DE-BY.")


@lru_cache(maxsize=1)
def supported() -> dict[str, tuple[str, ...]]:
    """Region codes by country code."""
    from holidays import list_supported_countries

    return {country: tuple(regions) for country, regions in list_supported_countries(include_aliases=False).items()}


@lru_cache(maxsize=4096)
def of_year(code: str, year: int) -> tuple[tuple[int, str], ...]:
    """(day since 1970-01-01, name) of each holiday in a year, in order."""
    from holidays import country_holidays

    country, _, region = code.partition("-")
    found = country_holidays(country, subdiv=region or None, years=year, expand=False)
    return tuple(sorted((day.toordinal() - EPOCH_DAY, name) for day, name in found.items()))
