"""Is the plan sound, and is it on track: checks that a scheduler is asked for."""
