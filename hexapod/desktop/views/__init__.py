"""Choosing what is on show: the view bar, its query line, and keeping a view under a name."""
