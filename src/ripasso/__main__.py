"""`python -m ripasso` is the command `ripasso`."""

import sys

from ripasso.cli import main

if __name__ == "__main__":
    sys.exit(main())
