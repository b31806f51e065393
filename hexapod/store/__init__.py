"""The workspace file: one SQLite database, one transaction an edit, the history, recovery."""
