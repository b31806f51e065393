"""What the demo is not sure of: ranges of lengths, streams that move together, and the register of risks."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace

from hexapod.fields.estimate_text import read_estimate
from hexapod.fields.risk_text import read_chance, read_delays
from hexapod.plan import edits
from hexapod.plan.outline import task_at
from hexapod.plan.records import DAY
from hexapod.plan.risks import AnswerKind, Range, Risk, RiskKind, RiskState
from hexapod.session import Session
from hexapod.worktime.calendars import units_of

# Rows of the gallery that are still to come, at best and at worst; likely is what is planned.
RANGES = """
2.5 | 6-11 d
2.6 | 2-6 d
2.7 | 12-24 d
2.8 | 15-45 d
2.9 | 5-12 d
2.10 | 5-10 d
3.3 | 8-17 d
3.4 | 4-9 d
3.5 | 4-9 d
3.6 | 5-11 d
3.7 | 3-8 d
3.8 | 4-7 d
4.2 | 9-18 d
4.3 | 11-26 d
4.4 | 3-8 d
5.1 | 4-8 d
5.2 | 6-12 d
5.4 | 8-16 d
5.5 | 2-5 d
6.3 | 3-9 d
"""
TOGETHER = {"Specimens": 0.5, "Gallery build": 0.3}

# Name | kind | cause | effect | chance | what it adds to which rows | cost | owner | look at it again.
RISKS = """
Glass is delivered broken | risk | One supplier, long road | Panes are made again | 1 in 5 | 3.5: 5-15 d | 800; 1500; 4200 | CV | 2026-10-23
Supplier of the tank closes over New Year | risk | Small workshop | The tank comes in January | 1 in 4 | 2.8: 5 8 15 d | | RO | 2026-10-19
Moth comes back in the drawers | risk | Batch A was thawed once | Freeze again before pinning | 15 % | 2.10: 4-9 d | 300; 600; 1200 | RO | 2026-11-02
Climate plant misses its values | risk | Old ducts | Run in a second time | 30 % | 5.4: 5 7 10 d | 500; 900; 2400 | ST | 2026-11-16
Programmer is called to the web shop | risk | Busy time of year | Interactives wait | 20 % | 4.3: 3-10 d | | YD | 2026-10-30
School groups need another path | risk | Test showed a queue at case 4 | Two cases are moved | 10 % | 3.3: 2-5 d | 400; 700; 1500 | JF | 2026-11-06
Floor was not level | issue | Old boards under the lino | Levelled before the tracks | 100 % | | 650 | CV |
Second supplier for glass asked | action | Glass may come broken | An offer is on the desk | | | | CV | 2026-10-21
"""  # noqa: E501

# Name | answer | in words | its cost | taken | chance then | what it adds then.
ANSWERS = """
Glass is delivered broken | lessen | Two spare panes with the order | 620 | no | 1 in 5 | 3.5: 1-3 d
Supplier of the tank closes over New Year | avoid | Order a week early | 0 | yes | 1 in 20 | 2.8: 2-6 d
Moth comes back in the drawers | lessen | Traps in each drawer | 180 | yes | 5 % | 2.10: 3-5 d
Climate plant misses its values | accept | | 0 | no | |
"""


def be_unsure(session: Session, project: str, at: Callable[[str, int], int]) -> None:
    """Type the ranges and the register of the gallery; ``at`` is the moment of a day and its minutes."""
    for number, text in _cells(RANGES):
        task = task_at(session.plan, project, number)
        if task is not None and not session.plan.tasks[task].is_done:
            estimate, _ = read_estimate(text, units_of(session.plan, project))
            session.apply(edits.set_estimates(session.plan, [task], estimate))
    session.apply(edits.set_moves_together(session.plan, project, TOGETHER))
    answers = {name: cells for name, *cells in _cells(ANSWERS)}
    for cells in _cells(RISKS):
        session.apply(edits.save_risk(session.plan, _risk(session, project, cells, answers.get(cells[0]), at)))


def _risk(
    session: Session, project: str, cells: list[str], answer: list[str] | None, at: Callable[[str, int], int]
) -> Risk:
    name, kind, cause, effect, chance, delays, cost, owner, due = cells
    plan = session.plan
    who = next((r.id for r in plan.resources.values() if r.initials == owner), None)
    risk = Risk(
        edits.new_id(), project, name, RiskKind(kind), cause, effect, read_chance(chance) if chance else 0.0,
        read_delays(plan, project, delays), _range(cost), owner=who, due=at(due, 0) // DAY if due else None,
        state=RiskState.HAPPENED if kind == RiskKind.ISSUE else RiskState.OPEN,
    )  # fmt: skip
    if answer is None:
        return risk
    way, words, price, taken, then, left = answer
    return replace(
        risk, answer=AnswerKind(way), answer_note=words, answer_cost=100 * int(price), answered=taken == "yes",
        chance_after=read_chance(then) if then else None,
        delays_after=read_delays(plan, project, left) if left else None,
    )  # fmt: skip


def _range(text: str) -> Range | None:
    amounts = [100 * int(part) for part in text.split(";") if part.strip()]
    return (amounts[0], amounts[len(amounts) // 2], amounts[-1]) if amounts else None


def _cells(text: str) -> list[list[str]]:
    return [[part.strip() for part in line.split("|")] for line in text.strip("\n").splitlines()]
