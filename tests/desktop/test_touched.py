"""After an edit only the rows that it touched are drawn again, and the picture is that of all rows drawn anew."""

from __future__ import annotations

import random
import unittest

from PyQt6.QtGui import QImage

from hexapod.desktop.models.touched import touched_tasks
from hexapod.errors import HexapodError
from hexapod.plan import edits
from tests.desktop.case import WindowCase, settle
from tests.storm import random_edit


class Touched(WindowCase):
    ROWS = "\n".join(f"{'  ' if i % 5 else ''}Row {i}" for i in range(18))

    def test_the_picture_after_each_edit_is_that_of_all_rows_drawn_anew(self) -> None:
        rng, desk, grid = random.Random(5), self.window.desk, self.window.grid
        desk.looks.set_columns(["duration", "start", "links", "who", "float", "late_finish", "percent", "stream"])
        few = applied = 0
        for step in range(90):
            try:
                made = desk.session.apply(random_edit(rng, desk.plan))
            except HexapodError:
                continue
            if made is None:
                continue
            touched = touched_tasks(made)
            few += touched is not None and len(touched) < len(desk.plan.tasks) // 2
            applied += 1
            now = self.picture()
            grid.painter.forget()
            grid.viewport().update()
            self.assertEqual(now, self.picture(), (step, made.words))
        self.assertGreater(applied, 40)
        self.assertGreater(few, 8, "else nothing is spared")

    def picture(self) -> QImage:
        """The grid once all of it is drawn: on a busy machine one frame may not have the time for every row."""
        found = None
        for _ in range(50):
            settle()
            last, found = found, self.grid.grab().toImage()
            if found == last:
                return found
        self.fail("no two frames are the same")

    def test_a_row_that_nothing_touches_is_not_told_anew(self) -> None:
        told: list[object] = []
        self.grid.rows.told_anew.connect(told.append)
        first, last = self.id_of("Row 1"), self.id_of("Row 17")
        self.desk.do(edits.set_durations(self.desk.plan, [self.id_of("Row 9")], 9600))  # it ends last, whatever follows
        self.desk.do(edits.set_durations(self.desk.plan, [first], 960 + 60))
        self.assertIsInstance(told[-1], set)
        self.assertIn(first, told[-1])
        self.assertNotIn(last, told[-1])


if __name__ == "__main__":
    unittest.main()
