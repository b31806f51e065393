"""Interchange forms of a plan, one module a format."""
