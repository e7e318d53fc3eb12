"""`python -m ivory_quilt.cli`."""

import sys

from ivory_quilt.cli import main

if __name__ == "__main__":
    sys.exit(main())
