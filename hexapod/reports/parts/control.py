"""Of control: money by period, earned value, risks and stages."""

from __future__ import annotations

from hexapod.control.money import Money, Step
from hexapod.control.planned_value import Measure
from hexapod.control.stages import StageHistory, cards_of, counts_of, stage_history
from hexapod.control.value import Value, Valuing
from hexapod.control.value_words import BY_KEY
from hexapod.plan.plan import Plan
from hexapod.plan.risks import RiskKind, RiskState
from hexapod.reports.basis import Basis
from hexapod.reports.report import Cell, CellKind, Chart, ChartKind, Column, Fact, Part, Sentence, Series, Table, Tone
from hexapod.reports.week.trouble import open_risks, risk_sentences
from hexapod.system.words import count_of
from hexapod.worktime.calendars import units_of

FROM_MONEY = "Hours at the rates of their days and what was entered; what is left at the rates to come."
FROM_VALUE = "The baseline, what was told of its tasks, and what was spent."
FROM_REGISTER = "The register of risks."
AMOUNTS = ("Budget", "Planned", "Spent", "Expected in all", "Income agreed")


def money(basis: Basis) -> Part:
    """By month: budget, planned, spent, expected and income, of all its projects together."""
    today = basis.now // 1440
    months: dict[int, Money] = {}
    whole = Money()
    for project in basis.scope:
        table = basis.costing(project).table(Step.MONTH, today)
        whole = whole + table.whole
        for period in table.periods:
            months[period.days[0]] = months.get(period.days[0], Money()) + period.money
    order = sorted(months)
    rows = tuple((basis.words.month(day * 1440), *_amounts(months[day])) for day in order)
    columns = (
        Column("Month"),
        *(Column(t, CellKind.MONEY, FROM_MONEY) for t in AMOUNTS),
    )
    left = whole.expected - whole.spent
    text = f"{basis.words.money(whole.spent)} were spent, {basis.words.money(left)} are still expected."
    said = [Sentence(text, Fact("money", basis.scope, (whole.spent, left)), source=FROM_MONEY), *_budgets(basis)]
    chart = Chart(
        "Spent and still expected", ChartKind.STACKED, tuple(str(r[0]) for r in rows),
        (Series("spent", tuple(months[d].spent / 100 for d in order)),
         Series("still expected", tuple((months[d].expected - months[d].spent) / 100 for d in order))),
    ) if rows else None  # fmt: skip
    return Part("money", "Money by month", tuple(said), chart, Table(columns, rows, total=("All", *_amounts(whole))))


def _budgets(basis: Basis) -> list[Sentence]:
    """Of each project that has a budget: what of it will be left, or how much more is needed."""
    said = []
    for row in basis.rows:
        if row.budget is None:
            continue
        by, words = row.budget - row.cost, basis.words
        how = "more" if by < 0 else "less"
        text = (
            f"“{basis.plan.projects[row.project].name}” will cost {words.money(row.cost)}, "
            f"{words.money(abs(by))} {how} than its budget of {words.money(row.budget)}."
        )
        tone = Tone.TROUBLE if by < 0 else Tone.PLAIN
        said.append(Sentence(text, Fact("budget", (row.project,), (row.cost, row.budget)), tone, source=FROM_MONEY))
    return said


def _amounts(money_: Money) -> tuple[int | None, ...]:
    return money_.budget, money_.planned, money_.spent, money_.expected, money_.agreed


def value(basis: Basis) -> Part:
    """Earned value of each project, in money where its baseline holds costs, else in hours."""
    found = [each for p in basis.scope if (each := value_of(basis, p)) is not None]
    rows, about = [], []
    said = []
    for each in found:
        whole, in_money = each.whole, each.measure is Measure.MONEY
        unit = 100 if in_money else 60
        numbers = [getattr(whole, key) for key in ("pv", "ev", "ac", "bac", "eac")]
        cells: list[Cell] = [None if n is None else round(n / unit, 1) for n in numbers]
        rows.append(
            (each.name, "money" if in_money else "hours", *cells, _two(whole.spi), _two(whole.cpi), each.finish)
        )
        about.append(each.project)
        if whole.spi is not None and whole.cpi is not None:
            slow = "behind" if whole.spi < 0.995 else "ahead" if whole.spi > 1.005 else "on plan"
            dear = "dearer" if whole.cpi < 0.995 else "cheaper" if whole.cpi > 1.005 else "as dear"
            ending = "as planned" if dear == "as dear" else "than planned"
            text = f"“{each.name}” is {slow} (SPI {whole.spi:.2f}) and {dear} {ending} (CPI {whole.cpi:.2f})."
            tone = Tone.ATTENTION if whole.spi < 0.9 or whole.cpi < 0.9 else Tone.PLAIN
            fact = Fact("value", (each.project,), (whole.spi, whole.cpi))
            said.append(Sentence(text, fact, tone, source=FROM_VALUE))
    if not found:
        text = "No project has a baseline to measure against."
        said.append(Sentence(text, Fact("no_baseline")))
    columns = (
        Column("Project"), Column("In"),
        *(Column(BY_KEY[k].short, CellKind.COUNT, _source(k)) for k in ("pv", "ev", "ac", "bac", "eac")),
        *(Column(BY_KEY[k].short, CellKind.RATIO, _source(k)) for k in ("spi", "cpi")),
        Column("Finish by SPI(t)", CellKind.FINISH, "The planned duration over SPI(t), from the start."),
    )  # fmt: skip
    table = Table(columns, tuple(rows), tuple(about)) if rows else None
    return Part("value", "Earned value", tuple(said), table=table)


def value_of(basis: Basis, project: str) -> Value | None:
    """The value of a project at its status date, else now; None where it has no baseline."""
    plan = basis.plan
    at = plan.projects[project].status_date or basis.now
    valuing = Valuing.of(plan, project, basis.ledger, at)
    if valuing.planned is None:
        return None
    measure = Measure.MONEY if valuing.planned.cost.any() else Measure.HOURS
    return valuing.at(at, measure, valuing.parts())


def _source(key: str) -> str:
    return f"{BY_KEY[key].words}: {BY_KEY[key].formula}."


def _two(number: float | None) -> float | None:
    return None if number is None else round(number, 2)


def risks(basis: Basis) -> Part:
    """The register: what weighs most first, then issues, actions and decisions."""
    plan: Plan = basis.plan
    kinds = list(RiskKind)
    mine = [r for r in plan.risks.values() if r.project in basis.inside]
    mine.sort(key=lambda r: (r.state is not RiskState.OPEN, kinds.index(r.kind), r.due or 10**9, r.name, r.id))
    heavy = [r for k in kinds for r in open_risks(basis, k)]
    mine = [*heavy, *(r for r in mine if r.state is not RiskState.OPEN)]
    rows = []
    for risk in mine:
        owner = plan.resources.get(risk.owner or "")
        is_risk = risk.kind is RiskKind.RISK
        adds = max((d.minutes[1] for d in risk.delays_of(after=risk.answered)), default=0)
        rows.append((
            risk.name, plan.projects[risk.project].name, risk.kind.value, risk.state.value,
            round(100 * risk.chance_of(after=risk.answered), 1) if is_risk else None,
            round(adds / units_of(plan, risk.project).day, 1) if adds else None,
            "" if risk.answer is None else risk.answer.value.replace("_", " "),
            "" if owner is None else owner.name, None if risk.due is None else (risk.due + 1) * 1440,
        ))  # fmt: skip
    columns = (
        Column("What"), Column("Project"), Column("Kind"), Column("How it is"),
        Column("Chance", CellKind.PERCENT, "As it was judged; after its answer, once that was taken."),
        Column("Likely adds", CellKind.DAYS, "The likely delay of the task that it delays most."),
        Column("Answer"), Column("Whose"), Column("Again by", CellKind.FINISH, "When somebody looks at it again."),
    )  # fmt: skip
    said = tuple(risk_sentences(basis)) or (Sentence("No risk is open.", Fact("no_risk"), source=FROM_REGISTER),)
    table = Table(columns, tuple(rows), tuple(r.id for r in mine)) if rows else None
    return Part("risks", "Risks, issues and decisions", said, table=table)


def stages(basis: Basis) -> Part:
    """How many cards each stage of the board holds, and how long they stayed in it."""
    plan = basis.plan
    cards = [c for c in cards_of(plan) if plan.tasks[c].project in basis.inside]
    past = None if basis.past is None else [(at, changes) for _, at, changes in basis.steps]
    history: StageHistory | None = None if past is None else stage_history(plan, past, basis.now)
    counts = counts_of(plan, cards)
    shown = plan.stages_in_order()
    rows = []
    for i, stage in enumerate(shown):
        days = None if history is None else history.days[i]
        rows.append((stage.name, counts.get(stage.id, 0), stage.most, None if days is None else round(days, 1)))
    full = [s.name for s in shown if s.most is not None and counts.get(s.id, 0) > s.most]
    text = f"{count_of(len(cards), 'card')} in {count_of(len(shown), 'stage')}"
    text += f"; “{full[0]}” holds more than it should." if full else "."
    columns = (
        Column("Stage"), Column("Cards", CellKind.COUNT, "Tasks of the board whose stage it is."),
        Column("At most", CellKind.COUNT, "How many it should hold."),
        Column("Days in it", CellKind.DAYS, "Mean days, round the clock, of cards that left it in these days."),
    )  # fmt: skip
    chart = Chart(
        "Cards by stage", ChartKind.BARS, tuple(s.name for s in shown),
        (Series("cards", tuple(counts.get(s.id, 0) for s in shown)),), "cards",
    ) if shown else None  # fmt: skip
    said = Sentence(text, Fact("stages", (), (len(cards), len(shown))), Tone.ATTENTION if full else Tone.PLAIN)
    return Part("stages", "Stages", (said,), chart, Table(columns, tuple(rows)) if rows else None)
