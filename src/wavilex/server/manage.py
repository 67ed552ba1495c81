"""Django's commands: `python -m wavilex.server.manage`. What the data refuses is told in one sentence."""

import os
import sys

from wavilex.server.data_state import DataError, told

CANNOT = 3


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "wavilex.server.config.settings")
    from django.core.management import execute_from_command_line

    try:
        with told():
            execute_from_command_line(sys.argv)
    except DataError as error:
        print(error, file=sys.stderr)
        sys.exit(CANNOT)


if __name__ == "__main__":
    main()
