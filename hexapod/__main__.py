"""``python -m hexapod``."""

import sys

from hexapod.cli import main

if __name__ == "__main__":
    sys.exit(main())
