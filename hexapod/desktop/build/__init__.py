"""Build: the outline and the time bars on one row, with the load strip beneath."""
