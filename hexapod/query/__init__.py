"""What a plan is asked: which rows, in what order and groups, kept as views."""
