"""The program: `fresh-chair`, or `python -m fresh_chair`."""

import gc
import os
import sys


def main() -> None:
    """Run the command line."""
    # Both for a quick start: loading modules makes much and leaves nothing to collect (a screen collects once it is
    # drawn), and no plugin of another package has any business in how this one checks its data.
    gc.disable()
    os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")
    from fresh_chair.cli.opening import choose_on_screen, open_on_screen, quick_open, quick_start
    from fresh_chair.cli.problems import catch_interrupts, guard_output, said

    arguments = sys.argv[1:]
    guard_output()
    catch_interrupts()
    with said() as result:
        quick = "_FRESH_CHAIR_COMPLETE" not in os.environ
        if quick and (plain_open := quick_open(arguments)):
            path, plain, light = plain_open
            result.code = open_on_screen(path, plain=plain, light=light)
        elif quick and (plain_start := quick_start(arguments)):
            plain, light = plain_start
            result.code = choose_on_screen(plain=plain, light=light)
        else:
            from fresh_chair.cli.program import program

            app = program(arguments[0] if arguments else "")
            gc.enable()
            gc.set_threshold(50_000, 20, 20)
            app(args=arguments, prog_name="fresh-chair")
    sys.exit(result.code)


if __name__ == "__main__":
    main()
