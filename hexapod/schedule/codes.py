"""The numbers by which arrays and kernels tell kinds of links and gaps apart; without numba, which loads slowly."""

NEVER = -(1 << 60)  # no bound from below
FOREVER = 1 << 60  # no bound from above

# Kinds of arcs: the four links, the two ties between a summary and what lies below it, and links that only warn.
FS, SS, FF, SF, GATE, CLOSE, WARN = range(7)

# What an early start rests on.
BY_BASE, BY_LINK, BY_LIMIT, BY_LATENESS, BY_GAP = range(5)
