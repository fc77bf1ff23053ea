"""The one place where the command line turns a failure into words."""

import sys
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

import click

from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.text import legible_lines


@dataclass(slots=True)
class Result:
    """How a command ended."""

    code: int = 0


@contextmanager
def said() -> Iterator[Result]:
    """Run a command; whatever fails is said in a sentence, and becomes an exit code."""
    result = Result()
    try:
        yield result
    except FreshChairError as problem:
        result.code = _say(f"{problem.title}\n{problem.hint}" if problem.hint else problem.title, 1)
    except click.exceptions.Exit as ended:
        result.code = ended.exit_code
    except click.ClickException as problem:
        result.code = _say(problem.format_message(), 2)
    except (KeyboardInterrupt, click.Abort):
        result.code = _say("Stopped.", 130)
    except BrokenPipeError:
        sys.stderr.close()
        result.code = 141
    except Exception as problem:  # noqa: BLE001 - the last line: a traceback must not reach the user
        from fresh_chair.services.failure import report_bug

        file = report_bug(problem)
        where = f"\nA report without participants' data is at {file}." if file else ""
        result.code = _say(f"Fresh Chair met something it did not foresee and stopped.{where}", 70)


def _say(words: str, code: int) -> int:
    print(f"fresh-chair: {legible_lines(words)}", file=sys.stderr)
    return code
