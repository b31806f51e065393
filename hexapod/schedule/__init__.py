"""From a plan to its dates: network arrays, forward and backward pass, floats, reasons, shifts."""
