"""The one place where the command line turns a failure into words."""

import sys
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

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
    except SystemExit as ended:
        # Usage errors, help and the version: Typer has said its sentence already.
        result.code = ended.code if isinstance(ended.code, int) else 1 if ended.code else 0
    except KeyboardInterrupt:
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
