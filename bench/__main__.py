"""Print the table of figures: ``python -m bench``, or a name of ``PARTS`` behind it for some of it."""

from __future__ import annotations

import gc
import sys

from bench import (
    bulk,
    chances,
    editing,
    levelling,
    moving,
    opening,
    passes,
    portfolio,
    reports,
    rounds,
    scenarios,
    spent,
    staff,
    track,
    whole_process,
)

PARTS = {
    "passes": passes.rows,
    "edits": editing.rows,
    "bulk": bulk.rows,
    "opening": opening.rows,
    "process": whole_process.rows,
    "moving": moving.rows,
    "staff": staff.rows,
    "round": rounds.rows,
    "track": track.rows,
    "spent": spent.rows,
    "chances": chances.rows,
    "scenarios": scenarios.rows,
    "portfolio": portfolio.rows,
    "reports": reports.rows,
    "levelling": levelling.rows,
}


def main() -> None:
    chosen = sys.argv[1:] or list(PARTS)
    gc.freeze()  # as the window does: what was imported is not gone through again and again
    print(f"{'what':52} {'ours':>14} {'reference':>34} {'ratio':>7}")
    for name in chosen:
        for what, ours, reference, ratio in PARTS[name]():
            print(f"{what:52} {ours:>14} {reference:>34} {ratio:>7}", flush=True)


if __name__ == "__main__":
    main()
