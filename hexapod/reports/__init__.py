"""Reports as data: sentences, tables and charts made from a plan; nothing about paper, slides or screens."""
