"""The week in words: what moved and who moved it, what is late, at risk and short, and what is to be decided.

Each file makes sentences of one heading from a ``Basis``. A sentence carries the fact that it claims, so that it can be
checked against the plan.
"""
