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
    from fresh_chair.cli.problems import catch_interrupts, guard_output, said
    from fresh_chair.cli.quick import quick_open

    arguments = sys.argv[1:]
    guard_output()
    catch_interrupts()
    with said() as result:
        plain_open = quick_open(arguments) if "_FRESH_CHAIR_COMPLETE" not in os.environ else None
        if plain_open is not None:
            from fresh_chair.cli.opening import open_on_screen

            path, plain, light = plain_open
            result.code = open_on_screen(path, plain=plain, light=light)
        else:
            from fresh_chair.cli.program import app

            app(args=arguments, prog_name="fresh-chair")
    sys.exit(result.code)


if __name__ == "__main__":
    main()
