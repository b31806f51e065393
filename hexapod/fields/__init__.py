"""The fields of a task: one entry each, and how their texts are read and written.

Columns, exports, guesses of the import, queries and formulas are made from the entries in ``table``.
"""
