"""The panel at the side, and the table of its pages."""
