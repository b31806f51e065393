"""What a person enters: records in an immutable plan, the edits that make the next one, and their difference."""
