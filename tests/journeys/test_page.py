"""The read-only page in a real browser: no complaint, no request; it folds, zooms, filters and finds."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

from hexapod.formats.page.content import page_content
from hexapod.formats.page.page import page_html
from hexapod.plan.outline import rows
from hexapod.reports.basis import Basis, scope_of
from hexapod.reports.report import plain_words
from hexapod.schedule.engine import schedule
from tests.formats.test_reports import hostile_plan
from tests.journeys.browser import DRIVER, Browser
from tests.reports.test_parts import NOW, WEEK, rich_plan

SHOWN = "[...document.querySelectorAll('#rows tbody tr')].filter(r => r.getClientRects().length)"
FRAMES = "return new Promise(done => requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(done))))"
READS = Path(__file__).with_name("page_checks.js").read_text("utf-8")


@unittest.skipIf(DRIVER is None, "there is no Chromium here")
class PageInABrowser(unittest.TestCase):
    def opened(self, plan) -> Browser:  # type: ignore[no-untyped-def]
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        path = Path(folder.name) / "page.html"
        basis = Basis(schedule(plan), NOW, scope_of(plan), NOW - WEEK, NOW)
        path.write_bytes(page_html(page_content(basis), plain_words()))
        browser = Browser(Path(folder.name))
        self.addCleanup(browser.close)
        browser.resize(1280, 800)
        browser.open(path)
        return browser

    def test_a_reader_folds_zooms_filters_and_finds(self) -> None:
        plan = rich_plan(4)
        browser = self.opened(plan)
        count = browser.run(f"return {SHOWN}.length")
        every = sum(1 for p in plan.projects for r in rows(plan, p) if r.task) + len(plan.projects)
        self.assertEqual(count, every)
        browser.press("#fold")
        self.assertEqual(browser.run(f"return {SHOWN}.length"), len(plan.projects))
        browser.press("#rows .project .fold")  # the first project alone
        first = plan.projects_in_order()[0].id
        self.assertEqual(browser.run(f"return {SHOWN}.length"), len(plan.projects) + len(plan.children_of(first, None)))
        self.assertEqual(browser.run("return document.querySelector('.fold').getAttribute('aria-expanded')"), "true")
        browser.press("#open")
        wide = browser.run("return document.querySelector('#rows tbody .c').offsetWidth")
        bar = browser.run("return document.querySelector('#rows .task .c b').getBoundingClientRect().width")
        browser.press("#in")
        self.assertAlmostEqual(
            browser.run("return document.querySelector('#rows tbody .c').offsetWidth") / wide, 1.5, 1
        )
        wider = browser.run("return document.querySelector('#rows .task .c b').getBoundingClientRect().width")
        self.assertTrue(bar <= 2.01 or abs(wider / bar - 1.5) < 0.05)
        browser.press("#now")
        browser.type_into("#find", "T1")
        found = browser.run("return [...document.querySelectorAll('tr.found th span')].map(e => e.textContent)")
        self.assertEqual(sorted(found), sorted(t.name for t in plan.tasks.values() if "t1" in t.name.lower()))
        self.assertEqual(browser.text_of("#says"), f"{len(found)} found")
        self.assertEqual(browser.run(f"return {SHOWN}.filter(r => r.classList.contains('found')).length"), len(found))
        hidden = browser.run(f"return {SHOWN}.filter(r => r.dataset.l > 0 && !r.classList.contains('found') && "
                             "!r.classList.contains('summary')).length")  # fmt: skip
        self.assertEqual(hidden, 0)
        browser.clear("#find")
        browser.run(
            "const s = document.querySelector('#show'); s.value = 'milestone'; s.dispatchEvent(new Event('change'))"
        )
        kinds = browser.run(f"return {SHOWN}.map(r => r.classList[0])")
        self.assertLessEqual(set(kinds), {"project", "summary", "milestone"})
        self.assertEqual(browser.text_of("#says"), f"{kinds.count('milestone')} found")
        self.assertGreater(kinds.count("milestone"), 0)
        self.check_quiet(browser)

    def check_quiet(self, browser: Browser) -> None:
        """Nothing was asked for, nothing complained of."""
        self.assertEqual(browser.complaints(), [])
        asked = browser.run("return performance.getEntriesByType('resource').map(e => e.name)")
        self.assertEqual(asked, [])

    def test_everything_has_a_name_and_can_be_read_in_the_light_and_in_the_dark(self) -> None:
        browser = self.opened(rich_plan(4))
        for scheme in ("light", "dark"):
            browser.prefer(scheme)
            self.assertEqual(browser.run(f"{READS}; return poorContrast()"), [], scheme)
        self.assertEqual(browser.run(f"{READS}; return nameless()"), [])

    def test_on_a_phone_nothing_is_wider_than_the_screen_but_the_chart_in_its_frame(self) -> None:
        browser = self.opened(rich_plan(4))
        browser.phone(390, 844)
        self.assertLessEqual(browser.run("return document.documentElement.scrollWidth"), 390)
        self.assertTrue(browser.run("return document.querySelector('#scroll').scrollWidth > 390"))
        self.assertTrue(browser.run("return document.querySelector('#find').getClientRects().length > 0"))

    def test_no_date_is_cut_and_on_paper_it_is_light_and_as_wide_as_the_sheet(self) -> None:
        browser = self.opened(rich_plan(4))
        cut = "return [...document.querySelectorAll('#rows tbody td')].filter(c => !c.classList.contains('c') && " \
              "c.scrollWidth > c.clientWidth + 1).map(c => c.textContent)"  # fmt: skip
        self.assertEqual(browser.run(cut), [])
        browser.prefer("dark")
        browser.phone(1000, 700)
        browser.prefer("dark", on_paper=True)
        self.assertEqual(browser.run(cut), [])
        self.assertEqual(browser.run("return getComputedStyle(document.body).color"), "rgb(30, 43, 49)")
        wide = (
            "return Math.max(...[...document.querySelectorAll('#rows .c')].map(c => c.getBoundingClientRect().right))"
        )
        self.assertLessEqual(browser.run(wide), 1000)

    def test_who_has_it_read_aloud_hears_a_table(self) -> None:
        plan = rich_plan(4)
        browser = self.opened(plan)
        browser.run("document.getElementById('chart').scrollIntoView()")
        browser.run(FRAMES)
        roles = browser.roles()
        every = sum(1 for p in plan.projects for r in rows(plan, p) if r.task) + len(plan.projects)
        self.assertGreaterEqual(roles.count("row"), every)
        self.assertEqual(roles.count("rowheader"), every)
        self.assertGreaterEqual(roles.count("cell"), 6 * every)
        self.assertIn("columnheader", roles)

    def test_hostile_names_are_only_read(self) -> None:
        browser = self.opened(hostile_plan())
        self.assertEqual(browser.run("return document.querySelectorAll('script').length"), 1)
        self.assertIn("<script>alert(1)</script>", browser.run("return document.querySelector('#rows').textContent"))
        self.check_quiet(browser)


if __name__ == "__main__":
    unittest.main()
