"""The parts that reports are made of, one family a file: each makes a ``Part`` from a ``Basis``."""
