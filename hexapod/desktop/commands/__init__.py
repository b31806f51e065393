"""What each action does: the table of all actions, and the functions that they call."""
