"""The program: `fresh-chair`, or `python -m fresh_chair`."""

import sys


def main() -> None:
    """Run the command line."""
    from fresh_chair.cli.program import run

    sys.exit(run(sys.argv[1:]))


if __name__ == "__main__":
    main()
