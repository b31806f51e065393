"""Hexapod: linked work breakdowns, critical path and float, levelling, dates that follow."""

__version__ = "0.1.0"

from hexapod.system.kernels import use_own_kernels

use_own_kernels()  # before anything imports numba
