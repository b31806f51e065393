"""Hexapod: linked work breakdowns, critical path and float, levelling, dates that follow."""

__version__ = "0.1.0"
