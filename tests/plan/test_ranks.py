"""Ranks: one that is moved changes places with its neighbour, and no other record is touched."""

from __future__ import annotations

import unittest

from hexapod.plan.ranks import rank_moved, ranks_between


class Ranks(unittest.TestCase):
    def test_each_of_some_changes_places_with_its_neighbours(self) -> None:
        for count in range(2, 7):
            ranks = ranks_between(None, None, count)
            for at in range(count):
                for by in (-1, 1):
                    if not 0 <= at + by < count:
                        continue
                    wanted = list(range(count))
                    wanted.insert(at + by, wanted.pop(at))
                    moved = [rank_moved(ranks, at, by) if i == at else rank for i, rank in enumerate(ranks)]
                    self.assertEqual(sorted(range(count), key=moved.__getitem__), wanted, (count, at, by))


if __name__ == "__main__":
    unittest.main()
