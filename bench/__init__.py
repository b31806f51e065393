"""Benchmarks: ours, a reference, and the ratio, measured in one run."""
