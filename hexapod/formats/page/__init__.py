"""The read-only page: one HTML file of a project or of all, for people without the program."""
