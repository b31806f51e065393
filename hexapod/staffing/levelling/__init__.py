"""Levelling: delay work until no capacity is exceeded, argue for each move, and say what else would do."""
