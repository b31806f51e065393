"""The chart of bars over time: pure geometry, painting, and the gestures on it."""
