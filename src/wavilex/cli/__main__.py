"""`python -m wavilex.cli`."""

import sys

from wavilex.cli import main

sys.exit(main())
