"""What is behind the status date."""

from __future__ import annotations

from hexapod.schedule.schedule import TaskDates

DONE = 100.0


def is_late(dates: TaskDates, percent: float, status_date: int | None) -> bool:
    """Whether it should have begun, or have been finished, by the status date and is not."""
    if status_date is None or percent >= DONE:
        return False
    return dates.finish <= status_date or (dates.start < status_date and percent == 0)
