"""What a node of a grid is. No import of numba, so that the solver's process begins at once."""

LEAF, GATE, CLOSE, SPAN = range(4)
