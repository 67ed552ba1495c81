"""The command line: the same questions as the interface, `--json` everywhere.

Heavy imports happen inside the commands that need them, so that a question about a link starts at once.
Exit 0 when the question was answered, 2 with one clear line when it was malformed.
"""

from __future__ import annotations

import sys

from wavilex.core.errors import WavilexError


def main(argv: list[str] | None = None) -> int:
    """Run one command. Returns the exit status."""
    from wavilex.cli.arguments import build_parser

    arguments = build_parser().parse_args(argv)
    try:
        return int(arguments.run(arguments))
    except WavilexError as error:
        print(f"wavilex: {error}", file=sys.stderr)
        return 2
    except BrokenPipeError:
        return 0
    except KeyboardInterrupt:
        return 130
