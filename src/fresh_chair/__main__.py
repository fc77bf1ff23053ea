"""The program: `fresh-chair`, or `python -m fresh_chair`."""

import gc
import os
import sys


def main() -> None:
    """Run the command line."""
    # Both for a quick start: loading modules makes much and leaves little to collect, and no plugin of another
    # package has any business in how this one checks its data.
    gc.set_threshold(50_000, 20, 20)
    os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")
    from fresh_chair.cli.program import run

    sys.exit(run(sys.argv[1:]))


if __name__ == "__main__":
    main()
