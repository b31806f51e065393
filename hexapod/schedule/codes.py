"""The numbers by which arrays and kernels tell kinds of links and gaps apart; without numba, which loads slowly."""

NEVER = -(1 << 60)  # no bound from below
FOREVER = 1 << 60  # no bound from above

# Kinds of arcs: the four links, the two ties between a summary and what lies below it, and links that only warn.
FS, SS, FF, SF, GATE, CLOSE, WARN = range(7)

# What an early start rests on.
BY_BASE, BY_LINK, BY_LIMIT, BY_LATENESS, BY_GAP, BY_ACTUAL = range(6)

# How far a task is. The rest of what is begun waits for what holds it, or goes on whatever that does.
NOT_BEGUN, REST_WAITS, REST_GOES_ON, DONE = range(4)
