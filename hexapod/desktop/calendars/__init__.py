"""Calendars: a year at a glance, the week, and what a change of them would move."""
