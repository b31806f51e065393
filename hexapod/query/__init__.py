"""The expression language: what computed fields say, and what a plan is asked."""
