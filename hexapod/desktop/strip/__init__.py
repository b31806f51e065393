"""The load strip: one resource's load against capacity over time."""
