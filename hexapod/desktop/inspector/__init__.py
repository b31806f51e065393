"""The side about what is selected: what it is, why it lies where it does, and what a change moves."""
