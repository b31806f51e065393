"""What the views share, without widgets: what is looked at, the way to the door, proposals, what is counted."""
