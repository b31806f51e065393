"""Reports as data."""
