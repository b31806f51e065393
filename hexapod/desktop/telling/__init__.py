"""The Tell leg: all projects at a glance, for those who never open a schedule."""
