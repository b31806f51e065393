"""Faults put in by hand, one at a time: does any test see them? ``python -m tests.faults [words of the ones wanted]``.

Each runs in a copy of the tree, where kernels are plain Python. A fault that nothing catches is a gap in the tests.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import NamedTuple

ROOT = Path(__file__).parents[1]
LONGEST = 900  # seconds for one; whatever takes longer is told as hanging

PASSES = "hexapod/schedule/passes.py"
FORWARD = "hexapod/schedule/forward.py"
BACKWARD = "hexapod/schedule/backward.py"
ARCS = "hexapod/schedule/arc_columns.py"
COLUMNS = "hexapod/schedule/columns.py"
STRUCTURE = "hexapod/schedule/structure.py"
NETWORK = "hexapod/schedule/network.py"
ORACLES = ("tests.schedule.test_oracle", "tests.schedule.test_passes", "tests.schedule.test_rules")
PATCHED = ("tests.schedule.test_network",)
GAPS = ("tests.schedule.test_rules", "tests.schedule.test_reasons")
BEGUN = "hexapod/schedule/begun.py"
PROGRESS = ("tests.schedule.test_progress", "tests.schedule.test_oracle")
RESTS = ("tests.staffing.test_rests",)
ROUND = ("tests.control.test_round",)
BOARDING = ("tests.plan.test_boarding",)
MINE = ("tests.control.test_mine",)
STAGES = ("tests.control.test_stages",)
ATTENTION = ("tests.control.test_attention",)
NOTICES = ("tests.test_notifying",)
FORMS = ("tests.formats.test_forms",)
HOURS = ("tests.control.test_hours",)
MONEY = ("tests.control.test_money",)
DRIFT = ("tests.control.test_drift",)
VALUE = ("tests.control.test_value",)
ROUNDS = ("tests.outlook.test_rounds",)
CHANCES = ("tests.outlook.test_outside",)
RISKS = ("tests.plan.test_risks", "tests.fields.test_unsure_text", "tests.formats.test_risk_tables")
IN_ROUNDS = "hexapod/outlook/rounds.py"
MERGE = "hexapod/outlook/merge.py"
MERGED = ("tests.outlook.test_merge",)
SCENARIOS = ("tests.test_scenarios",)
WAYS = ("tests.outlook.test_ways",)
TRYING = ("tests.plan.test_trying",)
REPORTS = ("tests.reports.test_week", "tests.reports.test_parts")
FILES = ("tests.formats.test_reports",)
REQUESTS = ("tests.formats.test_requests",)
APPROVALS = ("tests.plan.test_approvals",)
OUTSIDE = ("tests.reports.test_outside",)
PAGE = ("tests.journeys.test_page",)
PROJECTS = (
    "tests.control.test_summary",
    "tests.control.test_outlay",
    "tests.plan.test_portfolio",
    "tests.desktop.test_projects",
    "tests.desktop.test_milestones",
)
LOGS = ("tests.formats.test_log_tables",)
LOAD = ("tests.staffing.test_staffing", "tests.staffing.test_load_table")
LINES = ("tests.lines.test_line", "tests.lines.test_notes")
LEVELLING = (
    "tests.staffing.test_profile",
    "tests.staffing.test_search",
    "tests.staffing.test_scope",
    "tests.staffing.test_staffing",
)


class Fault(NamedTuple):
    what: str
    file: str
    right: str
    wrong: str
    judges: tuple[str, ...] = ORACLES


FAULTS = (
    Fault("spent: a sheet that was sent back counts", "hexapod/control/ledger.py",
          "return ~self.back if until is None else ~self.back & (self.day <= until)",
          "return (self.day <= until) if until is not None else self.day > -1", VALUE),
    Fault("spent: a rate counts from the day after", "hexapod/control/ledger.py",
          "found[(who == i) & (day >= first)] = rate", "found[(who == i) & (day > first)] = rate", MONEY),
    Fault("spent: a changed log keeps its old minutes", "hexapod/control/ledger.py",
          'columns["minutes"][rows] = minutes = ', 'minutes = ', HOURS),
    Fault("spent: a log that is taken out stays in the ledger", "hexapod/control/ledger.py",
          'columns["minutes"][row_of[log_id]] = columns["cost"][row_of[log_id]] = 0', "pass", HOURS),
    Fault("spent: the effort that somebody said does not count", "hexapod/control/efforts.py",
          "np.where(self._said, said, made)", "made", HOURS),
    Fault("spent: hours of a summary's rows are counted twice", "hexapod/control/hours.py",
          "logged[slots[task]] = minutes", "logged[slots[task]] = 2 * minutes", HOURS),
    Fault("spent: approved hours can be changed", "hexapod/plan/validity_of_accounts.py",
          "if sheet is None or sheet.state is not SheetState.APPROVED:", "if sheet or not sheet:", HOURS),
    Fault("spent: a day may have any hours", "hexapod/plan/edits/hours.py",
          "if total > DAY:", "if total > 99 * DAY:", HOURS),
    Fault("spent: hours do not begin a task", "hexapod/control/worked.py",
          "if task.actual_start is None:", "if False:", HOURS),
    Fault("spent: before the first week hours are missing", "hexapod/control/weeks.py",
          "if first is None or week[1] < first:", "if False:", HOURS),
    Fault("spent: the same log is taken twice from a file", "hexapod/formats/log_tables.py",
          "if there[_same(log)]:", "if False:", LOGS),
    Fault("spent: closed weeks are taken from a file", "hexapod/formats/log_tables.py",
          "if sheet is not None and sheet.state in CLOSED:", "if False:", LOGS),
    Fault("money: what is charged is a cost", "hexapod/control/money.py",
          "spent = logged + sums.get((EntryKind.COST, False), 0)",
          "spent = logged + sums.get((EntryKind.COST, False), 0) + sums.get((EntryKind.INVOICED, False), 0)", MONEY),
    Fault("money: what is paid later is spent today", "hexapod/control/money.py",
          "until = last if entry.planned else min(last, today)", "until = last", MONEY),
    Fault("money: a spread amount loses its last cents", "hexapod/control/spreading.py",
          "    if day >= end:\n        return amount\n", "", MONEY),
    Fault("money: the rest costs the usual rate", "hexapod/control/money.py",
          "[[rate_on(r, day) for day in fine[:-1]] for r in resources]", "[[r.rate for day in fine[:-1]] for r in resources]",
          MONEY),
    Fault("money: a branch holds only its own row", "hexapod/control/money.py",
          "None if task is None else set(self.plan.branch(task))", "None if task is None else {task}", MONEY),
    Fault("money: two commas are read as one", "hexapod/fields/money_text.py",
          "if any(len(group) != 3 for group in groups) or not 1 <= len(first) <= 3:", "if False:", MONEY),
    Fault("drift: an undo is taken for the edit", "hexapod/session.py",
          "changes.inverse() if row.kind == UNDO else changes", "changes", DRIFT),
    Fault("drift: edits before the baseline have parts", "hexapod/control/drift.py",
          "known = known[known >= found.kept]", "", DRIFT),
    Fault("drift: an edit without dates is forgotten", "hexapod/control/drift.py",
          "after += is_after", "after += is_after and bool(step[2].tasks)", DRIFT),
    Fault("value: a budget is spread by the clock", "hexapod/control/planned_value.py",
          "done, whole = self._parts(at)\n        part =", "done, whole = at - self.start, self.finish - self.start\n        part =",
          VALUE),
    Fault("value: curves run backwards", "hexapod/control/planned_value.py",
          "_UP_TO[self.curve, k] * self.work", "_UP_TO[self.curve, 9 - k] * self.work", VALUE),
    Fault("value: a summary and what is below it both have a budget", "hexapod/control/planned_value.py",
          "if row.own or row.task not in holders", "if row.task", VALUE),
    Fault("value: earned schedule by clock days", "hexapod/control/planned_value.py",
          "return from_start + day * (earned - before) / (after - before)",
          "return from_start + 1440 * (earned - before) / (after - before)", VALUE),
    Fault("value: what earns half has earned all at its start", "hexapod/control/earned.py",
          "WHOLE // 2 if is_begun else 0", "WHOLE if is_begun else 0", VALUE),
    Fault("value: milestones weigh the same", "hexapod/control/earned.py",
          "reached = sum(Decimal(repr(t.weight)) for t in found if t.is_done)",
          "reached = sum(Decimal(1) for t in found if t.is_done)", VALUE),
    Fault("value: costs that were entered are not spent", "hexapod/control/value.py",
          "                    alone += amount\n", "                    pass\n", VALUE),
    Fault("value: the estimate forgets what is spent", "hexapod/control/value.py",
          "return self.ac + _rounded(self.left * self.ac, self.ev)", "return _rounded(self.left * self.ac, self.ev)", VALUE),
    Fault("track: a card goes into the first stage that is not above", "hexapod/plan/boarding.py",
          "return found[-1] if found else None", "return found[0] if found else None", BOARDING),
    Fault("track: a card always takes the per cent of its stage", "hexapod/plan/boarding.py",
          "or meant_by(stages, new.percent) is own", "", BOARDING),
    Fault("track: what is told moves a card out of a stage without a per cent", "hexapod/plan/boarding.py",
          "own.percent in (None, task.percent)", "own.percent == task.percent", BOARDING),
    Fault("track: a week begins on Sunday", "hexapod/control/mine.py", "MONDAY = 4 * DAY", "MONDAY = 3 * DAY", MINE),
    Fault("track: what ends at midnight is due a day later", "hexapod/control/mine.py",
          "last = (finish - 1) // DAY", "last = finish // DAY", MINE),
    Fault("track: a begun predecessor is waited for by SS", "hexapod/control/mine.py",
          "is_start = link.type in (LinkType.SS, LinkType.SF)", "is_start = False", MINE),
    Fault("track: links of summaries are not waited for", "hexapod/control/mine.py",
          "for row in (task_id, *plan.ancestors(task_id)):", "for row in (task_id,):", MINE),
    Fault("track: a card that is there still counts as having left", "hexapod/control/stages.py",
          "if not is_there:", "if True:", STAGES),
    Fault("track: a deleted card stays in the past", "hexapod/control/stages.py",
          "before = None if old is None or not old.on_board else", "before = None if old is None else", STAGES),
    Fault("track: what waits and is due is not blocked", "hexapod/control/attention.py",
          "NeedKind.BLOCKED if blocked else NeedKind.DUE", "NeedKind.DUE", ATTENTION),
    Fault("track: archived projects need somebody", "hexapod/control/attention.py",
          "leaves &= kept[tasks.project[:size]] if len(kept) else False", "pass", ATTENTION),
    Fault("track: a finish beyond its target has always just passed it", "hexapod/control/attention.py",
          "before is not None and before <= target", "True", ATTENTION),
    Fault("track: people are told of what they did themselves", "hexapod/control/notices.py",
          "if set(who) != {plan.resources[item.person].name}", "if item", NOTICES),
    Fault("track: what is due is told each time", "hexapod/notifying.py",
          "if _key(item) not in ledger.sent", "if item", NOTICES),
    Fault("track: what is to be sent is not written down first", "hexapod/notifying.py",
          "_sort(told.schedule.plan, ledger, _items(told, ledger, now), made, now)\n        write_whole(place",
          "_sort(told.schedule.plan, ledger, _items(told, ledger, now), made, now)\n        bytes or write_whole(place",
          NOTICES),
    Fault("track: a finish that passes its target again is not told", "hexapod/control/notices.py",
          "target/{project.id}/{target}/{since}", "target/{project.id}/{target}", NOTICES),
    Fault("track: a part of a name names somebody", "hexapod/control/notices.py",
          'for name in {" ".join(words), " ".join(words[-2:])} if " " in name', "for name in words", NOTICES),
    Fault("track: an old form is laid unasked", "hexapod/fields/returned.py",
          "if status is not None and (since is None or since < status):", "if False:", FORMS),
    Fault("track: a form is laid twice", "hexapod/fields/returned.py", "if digest in known:", "if False:", FORMS),
    Fault("track: names on a page are not escaped", "hexapod/formats/forms.py",
          "return html.escape(text, quote=True)", "return text", FORMS),
    Fault("track: the began of a form is dropped", "hexapod/control/round.py",
          "if answer.began is not None:", "if False:", FORMS),
    Fault("progress: the rest ignores the moment it was told", COLUMNS,
          "for moment in (project.status_date, task.as_of)", "for moment in (project.status_date,)", PROGRESS),
    Fault("progress: the rest of a crew goes on as one", BEGUN,
          "begin = max(begin, held)", "begin = held", PROGRESS),
    Fault("progress: what goes on waits all the same", FORWARD,
          "if progress[j] == REST_GOES_ON:", "if progress[j] == -1:", PROGRESS),
    Fault("progress: limits on the start hold what has begun", COLUMNS,
          "rows.start_from[i], rows.start_until[i] = NEVER, FOREVER", "rows.start_until[i] = FOREVER", RESTS),
    Fault("progress: what is done asks for its start of those before it", BACKWARD,
          "total[j] = free[j] = on_start = on_finish = free_on_start = free_on_finish = FOREVER",
          "total[j] = free[j] = on_finish = free_on_start = free_on_finish = FOREVER", PROGRESS),
    Fault("progress: the free float of a rest is its total float", BACKWARD,
          "if until_finish != free_until:", "if until_finish == -1:", PROGRESS),
    Fault("progress: half a minute is rounded down", "hexapod/plan/records.py",
          "(100 - int(self.percent)) + 50) // 100", "(100 - int(self.percent)) + 49) // 100", PROGRESS),
    Fault("progress: a task that should begin is late only by what it takes", "hexapod/schedule/standing.py",
          "worked(pool, c, status[j]) - worked(pool, c, planned[j])", "tasks.duration[j]", PROGRESS),
    Fault("progress: a finish that holds keeps others from beginning", "hexapod/schedule/standing.py",
          "(kind >= FF and not (j < n and leaf[j] and duration[j] == 0))", "(kind == 99)", PROGRESS),
    Fault("progress: done ends when it was planned, also after now", "hexapod/schedule/telling.py",
          "end = max(begun or 0, min(finish, latest))", "end = max(begun or 0, finish)", PROGRESS),
    Fault("progress: less than done keeps the finish", "hexapod/plan/edits/progress.py",
          "finish = None if percent < WHOLE else task.actual_finish", "finish = task.actual_finish", PROGRESS),
    Fault("progress: load counts the whole of what is begun", "hexapod/staffing/demand.py",
          "start = np.where(is_told, schedule.free_start[slots], start)", "start = start + 0", RESTS),
    Fault("progress: levelling takes what is begun for as long as ever", "hexapod/staffing/levelling/rests.py",
          "np.where(is_begun, tasks.rest, np.where(is_done, 0, tasks.duration))",
          "np.where(is_done, 0, tasks.duration)", RESTS),
    Fault("progress: the round asks of what has not to move", "hexapod/control/round.py",
          "((starts < at) | (schedule.finish <= at))", "((starts <= at + 1440) | (schedule.finish <= at))", ROUND),
    Fault("progress: as planned in a round leaves all of it", "hexapod/control/round.py",
          "answer = Answer(what, amount=question.rest)", "answer = Answer(what, amount=task.rest)", ROUND),
    Fault("the start of a summary binds all its leaves", BACKWARD,
          'if early_start[j] == early_start[k]:', 'if True:'),
    Fault("a link to the finish of a summary holds all its leaves", STRUCTURE,
          "for t in branch - waited_for if", "for t in branch if"),
    Fault("a percentage lag of a summary takes its own duration", FORWARD,
          "if s >= n or spans[s] == 1:", "if spans[s] == 1:"),
    Fault("the longest path ends at a summary", PASSES,
          "if marked[j] & 1 and finish[s] == finish[j]:", "if marked[j] & 4 and finish[s] == finish[j]:"),
    Fault("the longest path takes any leaf of a summary", PASSES,
          "if marked[j] & 2 and start[s] == start[j]:", "if marked[j] & 2:"),
    Fault("a summary is as early as its last leaf", PASSES,
          '        earliest = min(earliest, start[source[a]])', '        earliest = max(earliest % FOREVER, start[source[a]])'),
    Fault("late finish of a summary binds only free float", BACKWARD,
          'on_finish, free_on_finish = min(on_finish, asks[k, 1]), min(free_on_finish, asks[k, 3])', 'on_finish, free_on_finish = on_finish, min(free_on_finish, asks[k, 3])'),
    Fault("the lag of a lead is rounded down", FORWARD,
          "percents[a] / 100_000 + 0.5", "percents[a] / 100_000"),
    Fault("a lag to a summary's finish counts on the leaf's calendar", ARCS,
          'np.where(of_summary, tasks.calendar[successor], -1)', 'np.full(len(slots), -1)'),
    Fault("a lag counts on the wrong calendar", FORWARD,
          "t = shifted(pool, calendar if lag_calendars[a] < 0 else lag_calendars[a], t, lags[a])\n                if kind",
          "t = shifted(pool, calendar, t, lags[a])\n                if kind"),
    Fault("finish to finish holds the start", FORWARD,
          "                if kind == FF or kind == SF:\n                    from_finish = max(from_finish, t)\n"
          "                else:\n                    from_start = max(from_start, t)\n            reached",
          "                if kind == SF:\n                    from_finish = max(from_finish, t)\n"
          "                else:\n                    from_start = max(from_start, t)\n            reached"),
    Fault("a levelling hold is not taken off for what precedes", BACKWARD,
          "on_start = late_start[j] if hold == 0 else start_side(pool, calendar, late - hold)",
          "on_start = late_start[j]"),
    Fault("a limit on the latest start is not kept", BACKWARD,
          "until_start = min(on_start, start_until[j])", "until_start = on_start"),
    Fault("the project's own finish does not bind free float", BACKWARD,
          "free_until = min(free_on_finish, end)", "free_until = free_on_finish if free_on_finish < FOREVER else end + 60"),
    Fault("a crew's float counts only its start", BACKWARD,
          '                    worked(pool, calendar, late_start[j]) - now, worked(pool, calendar, late_finish[j]) - done\n', '                    worked(pool, calendar, late_start[j]) - now, FOREVER\n'),
    Fault("a crew ends with its first", "hexapod/schedule/crews.py",
          "found = max(found, finish_side(pool, calendars[c]", "found = min(found % FOREVER, finish_side(pool, calendars[c]"),
    Fault("a span starts where its links arrive", FORWARD,
          "logic = next_working(pool, calendar, from_start)\n            tie", "logic = from_start\n            tie"),
    Fault("as late as possible goes beyond its total float", BACKWARD,
          "by = min(free[j], total[j])", "by = free[j]"),
    Fault("a backward project is placed early", "hexapod/schedule/engine.py",
          "start[mine], finish[mine] = late.start[mine], late.finish[mine]", "pass"),
    Fault("the start that a finish demands is the latest of all", "hexapod/schedule/passing.py",
          "demanded = int(first.late.start[mine].min())", "demanded = int(first.late.start[mine].max())"),
    Fault("the status date holds nothing", COLUMNS,
          'p.id: p.start if p.status_date is None else max(p.start, p.status_date)', 'p.id: p.start'),
    Fault("leave is forgotten", "hexapod/schedule/timing.py",
          "other = _WORK + resource.id if resource.leave else resource.calendar\n    return",
          "other = resource.calendar\n    return"),
    Fault("a task's calendar is not that of its summary", "hexapod/schedule/timing.py",
          "above = plan.tasks.get(above.parent) if above.parent is not None else None", "above = None"),
    Fault("a link that only warns holds", STRUCTURE,
          "np.where(links.gap[slot] == GAPS[Gap.WARN], WARN, kind)", "kind"),
    Fault("a driving link is one that arrives at the minute", FORWARD,
          "driving[a] = reached[a] >= tie\n            elif stretched", "driving[a] = reached[a] == logic\n            elif stretched"),
    Fault("load counts a run twice where a period ends in it", "hexapod/staffing/load.py",
          "        total[p] += units * max(0, then - done)\n        done = max(done, then)",
          "        total[p] += units * max(0, then - done)", LOAD),
    Fault("load counts the rate of half", "hexapod/staffing/demand.py",
          "units = 0 if total else in_parts(rate_of(plan, a))", "units = 0 if total else in_parts(min(1.0, rate_of(plan, a)))", LOAD),
    Fault("a load at its capacity is over it", "hexapod/staffing/overloads.py",
          "            if now > capacity:\n", "            if now >= capacity:\n", LOAD),
    Fault("capacity from a day on is forgotten", "hexapod/staffing/load.py",
          "found[row] = np.add.reduceat(time[calendar] * capacity.at(row, fine[:-1]), first)",
          "found[row] = np.add.reduceat(time[calendar] * capacity.at(row, fine[:1]), first)", LOAD),
    Fault("levelling moves what has begun", "hexapod/staffing/levelling/placing.py",
          "network.structure.leaf * (network.tasks.percent == 0)", "network.structure.leaf * (network.tasks.percent < 10_000)", LEVELLING),
    Fault("levelling moves what is pinned", "hexapod/staffing/levelling/placing.py",
          "return in_scope and not task.pinned and", "return in_scope and", LEVELLING),
    Fault("levelling books a task for a part of its time", "hexapod/staffing/levelling/serial.py",
          "end = advance(layout.pool, works, at, layout.duration[j])", "end = advance(layout.pool, works, at, layout.duration[j] * 3 // 4)", LEVELLING),
    Fault("levelling within the float moves the finish", "hexapod/staffing/levelling/placing.py",
          "latest = free.late_start if within_float else", "latest = free.late_start + 480 if within_float else", LEVELLING),
    Fault("levelling takes low priority first", "hexapod/staffing/levelling/placing.py",
          "enumerate(sorted(set(wish)))", "enumerate(sorted(set(wish), reverse=True))", LEVELLING),
    Fault("what follows a moved task is not placed again", FORWARD,
          "                    touched[arcs.head[arcs.out[o]]] = 1", "                    pass", PATCHED),
    Fault("what comes before a task that asks otherwise is not bound again", BACKWARD,
          "                    touched[source[a]] = 1", "                    pass", PATCHED),
    Fault("a new link does not touch its successor", "hexapod/schedule/passing.py",
          "    found[network.links.successor[patch.links]] = 1", "    pass", PATCHED),
    Fault("a gap is kept whatever moved the task", FORWARD,
          "                if by != 0:", "                if True:", GAPS),
    Fault("a limit stays where it was though a gap is kept", FORWARD,
          "    if is_moved and moves < 0:", "    if False:", GAPS),
    Fault("two plans are compared by slot", "hexapod/schedule/shift.py",
          "at = network.slots.tasks_in(before.network.slots)", "at = np.arange(network.size)", ("tests.schedule.test_values",)),
    Fault("a prepared edit is committed on any plan", "hexapod/session.py",
          "if prepared.base is not self.plan:", "if False:", ("tests.test_session",)),
    Fault("a row that rotted is read", "hexapod/store/checksums.py",
          "if checksum(values) != found:", "if False:", ("tests.store.test_damage",)),
    Fault("the history is read as of today", "hexapod/store/record_versions.py",
          "if version <= first]", "if version < 0]", ("tests.store.test_migrations",)),
    Fault("a quick look passes a row below itself", "hexapod/plan/screening.py",
          "return reached == len(plan.tasks)", "return True", ("tests.plan.test_screening",)),
    Fault("of a line a part of the name is taken as sure", "hexapod/lines/lengths.py",
          "sure=not is_size and not is_vague)", "sure=True)", LINES),
    Fault("of a line a word in small letters is a row for sure", "hexapod/lines/known.py",
          'quoted or " " in name or any(', "True or any(", LINES),
    Fault("of a line the second length is forgotten", "hexapod/lines/line.py",
          "each[which] = changed(each[which], lag=lag.meaning.minutes)", "each[which] = each[which]", LINES),
    Fault("of a line what stands before unsure words is taken", "hexapod/lines/line.py",
          "if not clause.sure and not clause.question:", "if False:", LINES),
    Fault("of a line a row may wait for itself", "hexapod/lines/known.py",
          "if t != self.own]", "]", LINES),
    Fault("of notes the first link of a loop is left out", "hexapod/lines/notes.py",
          "for i in range(len(notes.rows) - 1, -1, -1):", "for i in range(len(notes.rows)):", LINES),
    Fault("of notes the plan's numbers come before their own", "hexapod/lines/notes.py",
          "own.get(number) or task_at(plan, project, number) or", "task_at(plan, project, number) or own.get(number) or", LINES),
    Fault("of notes rows are found only above", "hexapod/lines/notes.py",
          "return lambda name: called.get(name) or before(name)", "return before", LINES),
    Fault("of a line a printed target is a limit", "hexapod/lines/printing.py",
          'parts.append(f"by {write_date(task.target)}")', 'parts.append(f"from {write_date(task.target)}")', LINES),
    Fault("scenarios: what the plan alone changed is lost", MERGE, "if theirs == before or theirs == mine:\n        return mine",
          "if theirs == before or theirs == mine or mine is not None:\n        return mine", MERGED),
    Fault("scenarios: what only the scenario changed is not taken", MERGE, "        take = True\n", "        take = False\n", MERGED),
    Fault("scenarios: what both changed is not asked", MERGE,
          "            questions.append(Question(place, name_of(scenario, kind, mine), old, new, own))\n", "", MERGED),
    Fault("scenarios: an answer for the plan is taken for the scenario's", MERGE,
          "take = said.get(place) is Side.SCENARIO", "take = place in said", MERGED),
    Fault("scenarios: a place is merged field by field", MERGE, '"tasks": {"place": ("project", "parent", "rank")},', '"tasks": {},', MERGED),
    Fault("scenarios: a broken rule is let through", MERGE, "for error in broken_records(found):", "for error in ():", MERGED),
    Fault("scenarios: a loop is let through", MERGE, "return reschedule(dates, found, changes) if dates is not None else None",
          "return None", MERGED),
    Fault("scenarios: links of a task that is kept are forgotten", MERGE, 'if kind == "tasks":\n        for of, keys', 'if not kind:\n        for of, keys', MERGED),
    Fault("scenarios: a step of before counts after it was undone", "hexapod/store/scenarios.py", "undone.append(done.pop())", "undone.append(done[-1])", SCENARIOS),
    Fault("scenarios: the base is the first one for good", "hexapod/store/scenarios.py", "for step in reversed(self.steps()) if step.base", "for step in self.steps() if step.base", SCENARIOS),
    Fault("scenarios: edits of before it was brought up count again", "hexapod/store/scenarios.py", "for step in steps[first:]:", "for step in steps:", SCENARIOS),
    Fault("scenarios: what was chosen brings all with it", "hexapod/outlook/taking.py", "        if wanted is None or _is_chosen(place, before, after, wanted)\n", "", SCENARIOS),
    Fault("scenarios: what the chosen need is left behind", "hexapod/outlook/taking.py", "            if not more:\n", "            if True:\n", SCENARIOS),
    Fault("scenarios: what happened can be told in one", "hexapod/scenarios.py", "if any(_is_told(kind, before, after)", "if all(_is_told(kind, before, after)", SCENARIOS),
    Fault("scenarios: a lost file loses them", "hexapod/store/rescue.py", "        for scenario, own in scenarios.items():\n", "        for scenario, own in ():\n", SCENARIOS),
    Fault("scenarios: a project on hold asks for people", "hexapod/staffing/demand.py", "and not (held and plan.tasks[a.task].project in held)", "", SCENARIOS),
    Fault("ways: one more than needed is hired", "hexapod/outlook/ways.py", "for count in range(1, MOST_MORE + 1):", "for count in range(2, MOST_MORE + 1):", WAYS),
    Fault("ways: who is hired costs nothing", "hexapod/outlook/ways.py", "entry if price else None)", "None)", WAYS),
    Fault("ways: the second may end before the first", "hexapod/outlook/ways.py", "for each in (begins, ends):", "for each in (begins,):", WAYS),
    Fault("ways: what others lose is not said", "hexapod/outlook/ways.py", "after is not None and after > before:", "after is not None and after > before + 9**9:", WAYS),
    Fault("ways: the best of a row is the worst", "hexapod/outlook/side_by_side.py", "max(known) if more else min(known)", "min(known) if more else max(known)", WAYS),
    Fault("trying: a delay leaves rows that wait for what is done", "hexapod/plan/edits/trying.py", "plan.tasks[key[0]].actual_finish is None", "True", TRYING),
    Fault("trying: more people, as long as before", "hexapod/plan/edits/trying.py", "shorter = max(1, round(task.minutes / by))", "shorter = task.minutes", TRYING),
    Fault("trying: who is hired stays for good", "hexapod/plan/edits/trying.py", "((last_day + 1, 0.0),)", "()", TRYING),
    Fault("trying: begun work is scaled whole", "hexapod/plan/edits/trying.py", "length = task.minutes if task.actual_start is None else task.rest", "length = task.minutes", TRYING),
    Fault("reports: a finish that went sooner went later", "hexapod/reports/week/moved.py", "found[project.id] = by if now > then else -by", "found[project.id] = by", REPORTS),
    Fault("reports: the least cause comes first", "hexapod/reports/week/moved.py", "key=lambda p: -abs(p.minutes))", "key=lambda p: abs(p.minutes))", REPORTS),
    Fault("reports: what was told in other projects counts", "hexapod/reports/week/moved.py", "new is None or old is None or new.project not in basis.inside", "new is None or old is None", REPORTS),
    Fault("reports: what was done long ago was done now", "hexapod/reports/week/moved.py", "at is not None and basis.since <= at < basis.until", "at is not None and at < basis.until", REPORTS),
    Fault("reports: the first late task is the worst", "hexapod/reports/week/trouble.py", "return sorted(found, key=lambda pair: (-pair[1], pair[0]))", "return sorted(found)", REPORTS),
    Fault("reports: what is archived is late", "hexapod/reports/week/trouble.py", "p in projects and schedule.plan.projects[p].is_at_work", "p in projects", REPORTS),
    Fault("reports: closed risks are said", "hexapod/reports/week/trouble.py", "and r.kind is kind and r.state is RiskState.OPEN", "and r.kind is kind", REPORTS),
    Fault("reports: the last critical task is to be before", "hexapod/reports/week/needs.py", "np.argmin(schedule.start[slots])", "np.argmax(schedule.start[slots])", REPORTS),
    Fault("reports: milestones of next month come this week", "hexapod/reports/week/needs.py", "last = basis.now + 7 * DAY", "last = basis.now + 37 * DAY", REPORTS),
    Fault("reports: the plan of today is told of days that are past", "hexapod/reporting.py", "now, found = end, schedule(session.plan_after(before[-1].number))", "now, found = end, session.compute()", REPORTS),
    Fault("reports: edits after the days count", "hexapod/reporting.py", "before = [row for row in rows if row.moment < end]", "before = list(rows)", REPORTS),
    Fault("reports: a table without its last column", "hexapod/formats/reports/sheets.py", "for c, (value, column) in enumerate(zip(row, table.columns, strict=True)):", "for c, (value, column) in enumerate(zip(row[:-1], table.columns)):", FILES),
    Fault("reports: money in pence", "hexapod/formats/reports/sheets.py", "value / 100 if kind is CellKind.MONEY else value", "value", FILES),
    Fault("reports: a day late", "hexapod/formats/reports/sheets.py", "int(value) if kind is CellKind.START else ends_on(int(value))", "int(value)", FILES),
    Fault("reports: texts run as formulas", "hexapod/formats/reports/sheets.py", "sheet.write_string(r, c, _text(value))\n        elif kind", "sheet.write(r, c, \"=\" + value)\n        elif kind", FILES),
    Fault("reports: names are not escaped", "hexapod/formats/reports/web.py", "return escape(clean(text), quote=True)", "return clean(text)", FILES),
    Fault("reports: a slide leaves sentences out", "hexapod/formats/reports/slides.py", "            page, lines = [], 0\n            needs += sentence.under == under\n        page.append(sentence)", "            page, lines = [], 0\n            continue\n        page.append(sentence)", FILES),
    Fault("requests: one file makes two", "hexapod/formats/requests.py", "if request.source not in known:", "if True:", REQUESTS),
    Fault("requests: a project that nobody wants by a day", "hexapod/plan/edits/requesting.py", "draft.put(replace(draft.get(\"projects\", made), target_finish=target))", "pass", REQUESTS),
    Fault("requests: no without a word", "hexapod/plan/edits/requesting.py", "if not word.strip():", "if False:", REQUESTS),
    Fault("requests: days of work are hours", "hexapod/formats/requests.py", "DAY_OF_WORK = 480", "DAY_OF_WORK = 60", REQUESTS),
    Fault("approvals: anybody answers for the next", "hexapod/plan/approvals.py", "return left[:1] if self.in_order else left", "return left", APPROVALS),
    Fault("approvals: what waited for the work does not wait", "hexapod/plan/edits/approving.py", "draft.put(replace(link, predecessor=mark))", "draft.put(link)", APPROVALS),
    Fault("approvals: one yes is enough", "hexapod/plan/approvals.py", "if self.people and said.issuperset(self.people):", "if self.people and said:", APPROVALS),
    Fault("approvals: a no leaves the work done", "hexapod/plan/edits/approving.py", "elif not yes and approval.work is not None and _is_worked(plan, approval.work):", "elif False:", APPROVALS),
    Fault("approvals: who left is waited for", "hexapod/plan/approvals.py", "tuple(p for p in approval.people if p != person)", "approval.people", APPROVALS),
    Fault("money of a row stays behind in its project", "hexapod/plan/edits/outlining.py", "_take_along(draft, moved, place[0])", "pass", ("tests.plan.test_edits",)),
    Fault("outside: what is below a row that says no is seen", "hexapod/plan/outside.py", "known[task_id] = above if task.outside is None else task.outside", "known[task_id] = above or bool(task.outside)", OUTSIDE),
    Fault("outside: a project's name goes with its rows", "hexapod/reports/outside.py", "return Project(key, NOT_NAMED, project.start", "return Project(key, project.name, project.start", OUTSIDE),
    Fault("outside: notes go with a row", "hexapod/reports/outside.py", "target=task.target, fields=kept, outside=True)", "target=task.target, fields=task.fields, outside=True)", OUTSIDE),
    Fault("outside: the names of holidays go", "hexapod/reports/outside.py", "exceptions=free)", "exceptions=found.exceptions)", OUTSIDE),
    Fault("outside: begun rows begin anew", "hexapod/reports/outside.py", "percent=percent, actual_start=start)", "percent=percent)", OUTSIDE),
    Fault("page: a fold hides its neighbours", "hexapod/formats/page/page.js", "if (level[i] <= hidden) hidden = Infinity;", "", PAGE),
    Fault("page: what is found is not shown", "hexapod/formats/page/page.js", "shown[i] = true;\n    count += 1;", "count += 1;", PAGE),
    Fault("page: letters too pale to read", "hexapod/formats/web/palette.css", "--muted: #566268;", "--muted: #9aa5aa;", PAGE),
    Fault("page: its script is not allowed", "hexapod/formats/page/page.html", "script-src '$script_hash'", "script-src 'none'", PAGE),
    Fault("projects: planned costs of days that are past count again", "hexapod/control/outlay.py", "max(entry.first_day, today + 1) if entry.planned else entry.first_day", "entry.first_day", PROJECTS),
    Fault("projects: one rate for all of a month", "hexapod/control/outlay.py", "return sorted({first, *months, *steps, last})", "return sorted({first, *months, last})", PROJECTS),
    Fault("projects: what has float is held up too", "hexapod/control/summary.py", "ahead, behind = ahead[schedule.critical[behind] == 1], behind[schedule.critical[behind] == 1]", "pass", PROJECTS),
    Fault("projects: any link holds up", "hexapod/control/summary.py", "network, driving = schedule.network, driving_links(schedule)", "network, driving = schedule.network, driving_links(schedule) | True", PROJECTS),
    Fault("projects: the next one due is the last", "hexapod/control/summary.py", "ahead = min((mark.at", "ahead = max((mark.at", PROJECTS),
    Fault("projects: what is below a summary is in no stream of its own", "hexapod/control/summary.py", "if task.stream or task.parent is None:", "if task.parent is None:", PROJECTS),
    Fault("projects: late ones are folded away", "hexapod/desktop/models/portfolio.py", "calm = [row for row in found[name] if not row.needs_attention]", "calm = list(found[name])", PROJECTS),
    Fault("projects: days after the target are never forgiven", "hexapod/control/status.py", "is_late = not thresholds.late_days or -room > thresholds.late_days * units.day", "is_late = True", PROJECTS),
    Fault("projects: nothing leads to another one", "hexapod/control/summary.py", "there = network.links, network.links.alive == 1", "there = network.links, network.links.alive == 2", PROJECTS),
    Fault("projects: open tasks are all tasks", "hexapod/desktop/models/project_lanes.py", "if not t.is_done or self.shown is not Tasks.OPEN", "if True", PROJECTS),
    Fault("projects: a view forgets its columns", "hexapod/desktop/models/portfolio.py", "self.show_columns(view.columns)", "pass", PROJECTS),
    Fault("projects: a view of tasks gives way to one of projects", "hexapod/plan/edits/viewing.py", "if v.name == name and v.of == of), None)", "if v.name == name), None)", PROJECTS),
    Fault("projects: a question is only words", "hexapod/desktop/models/portfolio.py", "if not is_named and row.project not in self.asked.found:", "if not is_named:", PROJECTS),
    Fault("templates: all of many begin alike", "hexapod/plan/edits/starting.py", "read(day) if day else usual", "usual", ("tests.desktop.test_library",)),
    Fault("projects: a part of the sentence shows all", "hexapod/desktop/models/portfolio.py", "return row.status.state.value == self.only.value", "return True", PROJECTS),
    Fault("projects: a delay of the first for all", "hexapod/plan/edits/portfolio.py", "delay_project(plan, p, minutes[p])", "delay_project(plan, p, minutes[ids[0]])", PROJECTS),
    Fault("projects: what is put away comes back by itself", "hexapod/desktop/models/milestones.py", "if (task_id in away) is not (self.whose == AWAY):", "if self.whose == AWAY and task_id not in away:", PROJECTS),
    Fault("projects: midnight belongs to the next month", "hexapod/desktop/models/portfolio.py", "date_of((at - 1) // DAY)", "date_of(at // DAY)", PROJECTS),
    Fault("projects: the form is that of another project", "hexapod/desktop/commands/changing.py", "        return desk.portfolio.chosen\n", "        return desk.project\n", PROJECTS),
    Fault("chances: a kept gap is forgotten", IN_ROUNDS, "keeps[a] != 0 and kept[a] > 0", "keeps[a] != 0 and kept[a] > 9**9",
          ROUNDS),
    Fault("chances: a hold is forgotten", IN_ROUNDS, "release = held_start(pool, calendar, duration, release, holds[j])",
          "pass", ROUNDS),
    Fault("chances: work that is begun is drawn as if all were left", IN_ROUNDS,
          "rest = 0 if stretched else length[j, r]\n                whole = 0 if stretched else done + rest",
          "rest = 0 if stretched else length[j, r] + done\n                whole = 0 if stretched else done + rest", ROUNDS),
    Fault("chances: the end of a summary is its first leaf's", IN_ROUNDS,
          "finish[j, r] = max(finish[j, r], finish[source[a], r])", "finish[j, r] = finish[source[a], r]", ROUNDS),
    Fault("chances: a float of one minute is none", IN_ROUNDS, "1 if total <= 0 and spans[j] == 0", "1 if total <= 1 and spans[j] == 0",
          ROUNDS),
    Fault("chances: a lag of a share of the length takes the planned one", IN_ROUNDS, "whole = lanes.length[i, r]",
          "whole = tasks.duration[i]", ROUNDS),
    Fault("chances: what is as late as possible begins sooner", "hexapod/outlook/simulation.py",
          "base[later] = schedule.start[later]", "pass", ROUNDS),
    Fault("chances: draws depend on the number of threads", "hexapod/outlook/simulation.py",
          "drawn_by, begin, first, min(", "drawn_by, begin, first - piece[0], min(", ROUNDS),
    Fault("chances: a stream moves together by its correlation as it is said", "hexapod/outlook/draws.py",
          "return 2 * math.sin(math.pi * rank_correlation / 6)", "return rank_correlation**2", CHANCES),
    Fault("chances: a beta is narrower than it should be", "hexapod/outlook/draws.py", "a, b = 1 + 4 * lean, 5 - 4 * lean",
          "a, b = 1 + 5 * lean, 6 - 5 * lean", CHANCES),
    Fault("chances: a risk happens a little too often", IN_ROUNDS, "< varied.chance[q]", "< varied.chance[q] * 1.1", CHANCES),
    Fault("chances: delays of a risk do not wait for it", IN_ROUNDS, "                if happened[q, r]:\n", "                if True:\n", CHANCES),
    Fault("chances: an answer counts before it is taken", "hexapod/plan/risks.py",
          "return self.delays_after if taken and", "return self.delays_after if", (*CHANCES, *RISKS)),
    Fault("chances: a quantile is one round too early", "hexapod/outlook/chances.py", "- 1e-9)) - 1))", "- 1e-9)) - 2))", CHANCES),
    Fault("chances: what a risk adds is all there is", "hexapod/outlook/chances.py",
          "without=(risk,) if risk else ()", "without=()", CHANCES),
    Fault("chances: equal lengths have ranks of their own", "hexapod/outlook/chances.py",
          "np.repeat(firsts + (counts + 1) / 2, counts)", "np.arange(1, len(values) + 1)", CHANCES),
    Fault("risks: what happened adds nothing to the plan", "hexapod/plan/edits/risks.py",
          "draft.put(_longer(task, delay.minutes[1]))", "pass", RISKS),
    Fault("risks: a task that goes stays in them", "hexapod/plan/plan.py",
          "self.put(without_tasks(self.get(\"risks\", key), gone))", "pass", RISKS),
    Fault("risks: of two lengths the middle is likely", "hexapod/plan/estimates.py", "(worst - best) // 3", "(worst - best) // 2", RISKS),
    Fault("risks: a column that is not in the file empties the entry", "hexapod/formats/risk_tables.py",
          "            if column in self._columns:\n                fields[column] = self._read(row, column, read)",
          "            fields[column] = self._read(row, column, read)", RISKS),
    Fault("of a line a start before the day is a target on it", "hexapod/lines/dates.py",
          'at += -DAY if word == "before" else DAY', "at += 0", LINES),
)  # fmt: skip


def seen_by(fault: Fault, place: Path) -> str:
    """The first test that sees it, ``nothing``, or what went wrong."""
    shutil.rmtree(place, ignore_errors=True)
    ignored = shutil.ignore_patterns("__pycache__", ".venv", ".git", "*.png", "*.egg-info")
    shutil.copytree(ROOT, place, ignore=ignored)
    file = place / fault.file
    text = file.read_text()
    if text.count(fault.right) != 1:
        return f"cannot be put in: {text.count(fault.right)} places are like it"
    file.write_text(text.replace(fault.right, fault.wrong))
    is_compiled = any(".staffing." in judge or ".outlook." in judge for judge in fault.judges)
    environment = {**os.environ, "PYTHONPATH": str(place), "QT_QPA_PLATFORM": "offscreen"}
    if is_compiled:  # a search, and many rounds, need their kernels; they are compiled anew where the fault is
        environment["XDG_CACHE_HOME"] = environment["NUMBA_CACHE_DIR"] = str(place.parent / "kernels")
        shutil.rmtree(place.parent / "kernels", ignore_errors=True)
    else:
        environment["NUMBA_DISABLE_JIT"] = "1"
        environment["NUMBA_CACHE_DIR"] = str(place.parent / "none")
    command = [sys.executable, "-m", "unittest", "-f", *fault.judges]
    try:
        run = subprocess.run(
            command, cwd=place, env=environment, capture_output=True, text=True, timeout=LONGEST, check=False
        )
    except subprocess.TimeoutExpired:
        return "hangs"
    failed = [line for line in run.stderr.splitlines() if line.startswith(("FAIL:", "ERROR:"))]
    if run.returncode:
        return failed[0] if failed else run.stderr[-300:]
    return "nothing"


def main() -> int:
    words = [w.casefold() for w in sys.argv[1:]]
    chosen = [f for f in FAULTS if not words or any(w in f.what for w in words)]
    unseen = 0
    with tempfile.TemporaryDirectory(prefix="hexapod-faults-") as folder:
        for fault in chosen:
            seen = seen_by(fault, Path(folder) / "tree")
            unseen += seen == "nothing" or seen.startswith("cannot")
            print(f"{fault.what}: {seen}", flush=True)
    print(f"{len(chosen) - unseen} of {len(chosen)} faults seen")
    return 1 if unseen else 0


if __name__ == "__main__":
    sys.exit(main())
