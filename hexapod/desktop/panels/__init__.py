"""The panels at the right side; one is shown at a time."""
