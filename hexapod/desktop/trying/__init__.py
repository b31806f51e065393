"""The Try leg: how sure the dates are, and what may happen."""
