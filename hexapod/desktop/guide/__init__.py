"""The guide in the window."""
