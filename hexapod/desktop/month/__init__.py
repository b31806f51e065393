"""The month view: tasks and milestones on the days of a month."""
