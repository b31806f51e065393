"""Rounds against published examples, probability theory, SciPy, and a simulation that shares nothing with ours."""

from __future__ import annotations

import itertools
import unittest
from collections.abc import Mapping, Sequence

import numpy as np
from scipy import stats

from hexapod.errors import HexapodError
from hexapod.outlook.chances import Chances, Outlook, added_by
from hexapod.outlook.costs import cost_range
from hexapod.outlook.simulation import simulate
from hexapod.outlook.words import chance_words
from hexapod.plan.estimates import Points, Shape, points_of
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Link, Project, Record, Resource, Task
from hexapod.plan.risks import AnswerKind, Risk, RiskDelay, RiskKind, RiskState
from hexapod.schedule.engine import schedule
from tests.support import MONDAY

WEEK = 7 * 1440
ROUNDS = 20_000

# Hillier and Lieberman, Introduction to Operations Research, the construction project of the PERT/CPM chapter (from
# memory): optimistic, most likely and pessimistic weeks, and what each activity waits for.
TEXTBOOK = {
    "A": ((1, 2, 3), ""), "B": ((2, 3.5, 8), "A"), "C": ((6, 9, 18), "B"), "D": ((4, 5.5, 10), "C"),
    "E": ((1, 4.5, 5), "C"), "F": ((4, 4, 10), "E"), "G": ((5, 6.5, 11), "D"), "H": ((5, 8, 17), "EG"),
    "I": ((3, 7.5, 9), "C"), "J": ((3, 9, 9), "FI"), "K": ((4, 4, 4), "J"), "L": ((1, 5.5, 7), "J"),
    "M": ((1, 2, 3), "H"), "N": ((5, 5.5, 9), "KL"),
}  # fmt: skip
LONGEST = "ABCEFJLN"


def network(
    points: Mapping[str, Sequence[float]], before: Mapping[str, Sequence[str]], shape: Shape = Shape.PERT,
    streams: Mapping[str, str] | None = None, together: tuple[tuple[str, float], ...] = (), unit: int = WEEK,
) -> Plan:  # fmt: skip
    """Tasks that are worked round the clock, so that a length is a length."""
    records: list[Record] = [Project("p", "Roof", MONDAY, "a", calendar="always", moves_together=together)]
    for i, (name, three) in enumerate(points.items()):
        best, likely, worst = (max(1, round(x * unit)) for x in three)
        stream = (streams or {}).get(name, "")
        records.append(Task(name, "p", name, f"a{i:03}", duration=likely, estimate=(best, likely, worst), shape=shape,
                            stream=stream))  # fmt: skip
    records += [Link(b, name) for name, waits in before.items() for b in waits]
    return Plan.of(records)


def outlook(plan: Plan, rounds: int = ROUNDS, seed: int = 7) -> Outlook:
    return Outlook(simulate(schedule(plan), rounds, seed))


class Published(unittest.TestCase):
    def test_the_path_of_the_textbook_project(self) -> None:
        path = {name: TEXTBOOK[name][0] for name in LONGEST}
        found = outlook(network(path, dict(zip(LONGEST[1:], LONGEST[:-1], strict=True))))
        weeks = (found.of_project("p").finishes - MONDAY) / WEEK
        self.assertAlmostEqual(44, weeks.mean(), delta=4 * 3.05 / np.sqrt(ROUNDS))
        self.assertAlmostEqual(9.29, weeks.var(), delta=0.4)
        # Known of the path from the rules: P(path <= 47) is about 0.834.
        self.assertAlmostEqual(0.834, found.of_project("p").chance_by(MONDAY + 47 * WEEK), delta=0.012)

    def test_the_whole_of_it_is_later_than_its_longest_path(self) -> None:
        before = {name: list(waits) for name, (_, waits) in TEXTBOOK.items()}
        found = outlook(network({n: three for n, (three, _) in TEXTBOOK.items()}, before)).of_project("p")
        self.assertLess(found.chance_by(MONDAY + 47 * WEEK), 0.834 - 0.01)
        self.assertGreater(found.finishes.mean(), MONDAY + 44.3 * WEEK)

    def test_the_greatest_of_two_is_later_than_each_by_what_clark_says(self) -> None:
        # Clark, "The greatest of a finite set of random variables" (1961): of two independent and equal normal ones
        # the mean is greater by the standard deviation over the root of pi. Sums of forty parts are nearly normal.
        names = [f"{chain}{i}" for chain in "ab" for i in range(40)]
        before = {f"{c}{i}": [f"{c}{i - 1}"] for c in "ab" for i in range(1, 40)}
        found = outlook(network(dict.fromkeys(names, (2, 4, 6)), before, unit=600)).of_project("p").finishes - MONDAY
        deviation = 600 * np.sqrt(40 * stats.beta(3, 3).var() * 16)
        error = deviation / np.sqrt(ROUNDS)
        self.assertAlmostEqual(40 * 4 * 600 + deviation / np.sqrt(np.pi), found.mean(), delta=4 * error)
        # His second moment: the variance is less by one over pi of it.
        self.assertAlmostEqual(1 - 1 / np.pi, found.var() / deviation**2, delta=0.03)


class AgainstOthers(unittest.TestCase):
    def test_every_shape_is_the_distribution_of_its_name(self) -> None:
        for three in ((2, 3, 9), (2, 2, 9), (2, 9, 9), (2, 5.5, 9)):
            for shape in Shape:
                found = outlook(network({"A": three}, {}, shape), seed=3)
                lean = (three[1] - 2) / 7
                known = {
                    Shape.PERT: stats.beta(1 + 4 * lean, 5 - 4 * lean, loc=2, scale=7),
                    Shape.TRIANGULAR: stats.triang(lean, loc=2, scale=7),
                    Shape.UNIFORM: stats.uniform(2, 7),
                }[shape]
                weeks = found.found.lengths[0] / WEEK
                self.assertGreater(stats.kstest(weeks, known.cdf).pvalue, 0.001, (three, shape))
                self.assertTrue(weeks.min() >= 2 and weeks.max() <= 9)

    def test_what_moves_together_does_so_by_its_rank_correlation_and_what_does_not_does_not(self) -> None:
        tasks = {"A": (2, 3, 9), "B": (1, 4, 5), "C": (2, 3, 4), "D": (2, 3, 4)}
        streams = {"A": "Glass", "B": "Glass", "C": "Wood", "D": "Wood"}
        lengths = outlook(network(tasks, {}, streams=streams, together=(("Glass", 0.6),))).found.lengths
        rho = {(i, j): stats.spearmanr(lengths[i], lengths[j]).statistic for i in range(4) for j in range(i)}
        self.assertAlmostEqual(0.6, rho[1, 0], delta=0.02)
        for pair in set(rho) - {(1, 0)}:
            self.assertAlmostEqual(0, rho[pair], delta=0.03)

    def test_independent_parts_add_up_as_the_central_limit_says(self) -> None:
        rng = np.random.default_rng(4)
        three = {f"t{i}": tuple(np.sort(rng.uniform(1, 9, 3))) for i in range(60)}
        names = list(three)
        found = outlook(network(three, {b: [a] for a, b in itertools.pairwise(names)}, unit=1440)).of_project("p")
        leans = {n: (m - b) / (w - b) for n, (b, m, w) in three.items()}
        parts = [stats.beta(1 + 4 * leans[n], 5 - 4 * leans[n], loc=b, scale=w - b) for n, (b, _, w) in three.items()]
        mean, deviation = sum(p.mean() for p in parts), np.sqrt(sum(p.var() for p in parts))
        days = (found.finishes - MONDAY) / 1440
        self.assertAlmostEqual(mean, days.mean(), delta=4 * deviation / np.sqrt(ROUNDS))
        self.assertAlmostEqual(1, days.std() / deviation, delta=0.02)
        for part in (0.1, 0.5, 0.8, 0.9):
            wanted = stats.norm(mean, deviation).ppf(part)
            self.assertAlmostEqual(wanted, (found.quantile(part) - MONDAY) / 1440, delta=0.06 * deviation)

    def test_random_networks_against_a_simulation_in_numpy(self) -> None:
        for seed in range(8):
            rng = np.random.default_rng(seed)
            three = {f"t{i}": tuple(np.sort(rng.uniform(1, 9, 3))) for i in range(25)}
            before = {f"t{i}": [f"t{j}" for j in set(rng.integers(0, i, 2).tolist())] for i in range(1, 25)}
            found = outlook(network(three, before, unit=1440), seed=seed)
            ends, critical = simulated(three, before, rng)
            known = found.of_project("p")
            days, deviation = (known.finishes - MONDAY) / 1440, ends.std()
            self.assertAlmostEqual(ends.mean(), days.mean(), delta=6 * deviation / np.sqrt(ROUNDS))
            for part in (0.1, 0.5, 0.8, 0.9):
                wanted = np.quantile(ends, part)
                self.assertAlmostEqual(wanted, (known.quantile(part) - MONDAY) / 1440, delta=0.08 * deviation)
            for name, share in critical.items():
                self.assertAlmostEqual(share, found.criticality(name), delta=0.02, msg=name)

    def test_cruciality_is_the_rank_correlation_of_length_and_finish(self) -> None:
        three = {"A": (2, 3, 9), "B": (1, 4, 5), "C": (2, 3, 4)}
        found = outlook(network(three, {"B": ["A"]}), rounds=3000)
        for task, value in found.crucialities("p").items():
            row = found.found.varied.index(task)
            wanted = stats.spearmanr(found.found.lengths[row], found.found.projects[0]).statistic
            self.assertAlmostEqual(wanted, value, places=9)

    def test_standard_errors_are_what_many_seeds_differ_by(self) -> None:
        plan = network({"A": (2, 3, 9), "B": (2, 3, 9)}, {"B": ["A"]})
        several = [outlook(plan, rounds=800, seed=s).of_project("p") for s in range(150)]
        sure = [each.quantile(0.8) for each in several]
        chance = [each.chance_by(MONDAY + 8 * WEEK) for each in several]
        said = np.mean([each.error_of_quantile(0.8) for each in several])
        self.assertAlmostEqual(1, np.std(sure) / said, delta=0.25)
        self.assertAlmostEqual(1, np.std(chance) / np.mean([c.error_of_chance(p) for c, p in zip(several, chance,
                               strict=True)]), delta=0.25)  # fmt: skip


def simulated(three, before, rng):  # type: ignore[no-untyped-def]
    """The ends of another simulation, and how often each task lay on a longest path: no calendars, whole arrays."""
    finish, start, length = {}, {}, {}
    for name, (b, m, w) in three.items():
        lean = (m - b) / (w - b)
        length[name] = b + (w - b) * rng.beta(1 + 4 * lean, 5 - 4 * lean, ROUNDS)
        start[name] = np.max([finish[x] for x in before.get(name, ())] or [np.zeros(ROUNDS)], axis=0)
        finish[name] = start[name] + length[name]
    ends = np.max(list(finish.values()), axis=0)
    late = {name: ends.copy() for name in three}
    for name in reversed(three):
        for x in before.get(name, ()):
            late[x] = np.minimum(late[x], late[name] - length[name])
    return ends, {name: float((late[name] - finish[name] < 1e-9).mean()) for name in three}


class Risks(unittest.TestCase):
    def plan(self, **fields: object) -> Plan:
        certain = {"A": (4, 4, 4), "B": (2, 2, 2)}
        base = network(certain, {"B": ["A"]}, unit=1440)
        risk = Risk("q", "p", "Glass breaks", chance=0.25, delays=(RiskDelay("A", (1440, 2880, 7200)),))
        draft = base.draft()
        draft.put(Risk(**{**{f: getattr(risk, f) for f in risk.__struct_fields__}, **fields}))
        return draft.finish()[0]

    def test_it_happens_as_often_as_it_is_likely_and_adds_its_range(self) -> None:
        found = outlook(self.plan())
        self.assertAlmostEqual(0.25, found.found.happened[0].mean(), delta=4 * np.sqrt(0.25 * 0.75 / ROUNDS))
        added = found.of_project("p").finishes - MONDAY - 6 * 1440
        self.assertEqual(0.0, added[: int(0.7 * ROUNDS)].max(), "where it does not happen, all is as planned")
        mean = (1440 + 4 * 2880 + 7200) / 6
        worth = added_by(found, "p", risk="q")
        self.assertAlmostEqual(0.25 * mean, worth.mean, delta=60)
        self.assertEqual(worth.sure, found.of_project("p").quantile(0.8) - MONDAY - 6 * 1440)
        self.assertEqual(worth.happened, found.found.happened[0].mean())

    def test_an_answer_changes_what_is_drawn_once_it_is_taken(self) -> None:
        fields = {"answer": AnswerKind.LESSEN, "chance_after": 0.05, "delays_after": (RiskDelay("A", (60, 60, 60)),)}
        for answered, after, often, longest in ((False, False, 0.25, 7200), (True, False, 0.05, 60),
                                                (False, True, 0.05, 60)):  # fmt: skip
            found = simulate(schedule(self.plan(answered=answered, **fields)), ROUNDS, after=after)
            self.assertAlmostEqual(often, found.happened[0].mean(), delta=0.013)
            self.assertLessEqual((found.projects[0] - MONDAY - 6 * 1440).max(), longest)
        avoided = simulate(schedule(self.plan(answered=True, delays_after=())), 2000)
        self.assertEqual({MONDAY + 6 * 1440}, set(avoided.projects[0].tolist()))

    def test_what_is_over_or_no_risk_does_nothing(self) -> None:
        for fields in ({"state": RiskState.CLOSED}, {"state": RiskState.HAPPENED}, {"kind": RiskKind.ISSUE}):
            found = simulate(schedule(self.plan(**fields)), 500)
            self.assertEqual(({MONDAY + 6 * 1440}, ()), (set(found.projects[0].tolist()), found.risks))

    def test_a_risk_left_out_leaves_all_other_numbers_as_they_are(self) -> None:
        plan = self.plan()
        draft = plan.draft()
        draft.put(Risk("r", "p", "Rain", chance=0.5, delays=(RiskDelay("B", (60, 600, 900)),)))
        dates = schedule(draft.finish()[0])
        both, one = simulate(dates, 500), simulate(dates, 500, without=["q"])
        np.testing.assert_array_equal(both.happened[1], one.happened[0])
        np.testing.assert_array_equal(both.lengths[both.varied.index("B")], one.lengths[one.varied.index("B")])


class Costs(unittest.TestCase):
    def test_the_cost_of_what_is_left_follows_the_drawn_work_and_the_risks(self) -> None:
        base = network({"A": (4, 4, 4), "B": (1, 2, 6)}, {"B": ["A"]}, unit=1440)
        draft = base.draft()
        draft.put(Resource("mo", "Mo", "a", calendar="always", rate=6000))
        draft.put(Assignment("A", "mo"))
        draft.put(Assignment("B", "mo", units=0.5))
        draft.put(Risk("q", "p", "Glass breaks", chance=0.3, cost=(10_000, 20_000, 60_000)))
        found = outlook(draft.finish()[0])
        costs = cost_range(found, "p")
        self.assertEqual(costs.planned, 4 * 24 * 6000 + 24 * 6000)
        mean = 4 * 24 * 6000 + 12 * 6000 * (1 + 8 + 6) / 6 + 0.3 * (10_000 + 80_000 + 60_000) / 6
        self.assertAlmostEqual(mean, costs.chances.finishes.mean(), delta=mean * 0.004)
        happened = found.found.happened[0]
        self.assertGreaterEqual(costs.chances.finishes.max(), 4 * 24 * 6000 + 12 * 6000)
        drawn = 4 * 24 * 6000 + found.found.lengths[found.found.varied.index("B")] / 60 * 3000
        alone = np.sort(np.floor(drawn[happened == 0] + 0.5))
        known = set(costs.chances.finishes.tolist())
        self.assertTrue(set(alone.astype(int).tolist()) <= known, "where it does not happen, it costs nothing")

    def test_what_costs_nothing_has_no_range(self) -> None:
        self.assertIsNone(cost_range(outlook(network({"A": (1, 2, 3)}, {}), rounds=50), "p"))


class Small(unittest.TestCase):
    def test_a_quantile_is_the_first_finish_that_holds_for_such_a_part(self) -> None:
        known = Chances(np.arange(1, 11))
        self.assertEqual([1, 1, 5, 8, 9, 10, 10], [known.quantile(p) for p in (0, 0.1, 0.5, 0.8, 0.9, 0.91, 1)])
        self.assertEqual([0, 0.5, 1], [known.chance_by(m) for m in (0, 5, 10)])

    def test_chances_are_said_without_rounding_a_rare_one_up(self) -> None:
        said = [chance_words(chance) for chance in (0.004, 0.012, 0.05, 0.12, 0.5, 0.92, 0.996)]
        self.assertEqual(said[:3], ["as good as never", "1 time in 100", "5 times in 100"])
        self.assertEqual(said[3:], ["1 time in 10", "5 times in 10", "92 times in 100", "as good as always"])

    def test_of_two_lengths_the_likely_one_is_the_duration_or_a_third_of_the_way(self) -> None:
        self.assertEqual([Points(3, 5, 9), Points(3, 5, 9), Points(3, 3, 9)],
                         [points_of((3, 9), d) for d in (5, 20, 3)])  # fmt: skip

    def test_no_round_and_too_many_are_refused(self) -> None:
        dates = schedule(network({"A": (1, 2, 3)}, {}))
        for rounds in (0, -3, 10**9):
            with self.assertRaisesRegex(HexapodError, "from 1 to 1,000,000"):
                simulate(dates, rounds)

    def test_somebody_may_stop_it(self) -> None:
        dates, asked = schedule(network({"A": (1, 2, 3)}, {})), []
        with self.assertRaisesRegex(HexapodError, "stopped"):
            simulate(dates, 100_000, is_stopped=lambda: bool(asked.append(0)) or len(asked) > 3)
        self.assertLess(len(asked), 10)

    def test_the_worst_round_may_reach_beyond_the_calendars_of_the_plan(self) -> None:
        plan = network({"A": (1, 2, 900)}, {}, Shape.UNIFORM)
        finishes = simulate(schedule(plan), 500).projects[0]
        self.assertGreater(finishes.max(), MONDAY + 800 * WEEK)
        with self.assertRaisesRegex(HexapodError, "after the year 2250"):
            simulate(schedule(network({f"t{i}": (1, 2, 5000) for i in range(9)},
                                      {f"t{i}": [f"t{i - 1}"] for i in range(1, 9)})), 10)  # fmt: skip


if __name__ == "__main__":
    unittest.main()
