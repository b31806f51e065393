"""Numbers that the arrays and kernels share. No import of numba, so that all may read them at no cost."""

NEVER = -(1 << 60)  # no bound from below
FOREVER = 1 << 60  # no bound from above

# Kinds of arcs: the four links, and the two ties between a summary and what lies below it.
FS, SS, FF, SF, GATE, CLOSE = range(6)

# What an early start rests on.
BY_BASE, BY_LINK, BY_LIMIT = range(3)
