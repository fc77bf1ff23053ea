"""A database's failures become a FileProblem where it was read, and a NotSaved where it was written."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from fresh_chair.core.errors import FileProblem, NotSaved

# The sentence and the hint of a failure at a study of a name.
Sentence = Callable[[Exception, str], tuple[str, str]]


@contextmanager
def reading_from(name: str, kinds: tuple[type[Exception], ...], sentence: Sentence) -> Iterator[None]:
    """Turn failures of these kinds into a FileProblem."""
    try:
        yield
    except kinds as problem:
        raise FileProblem(*sentence(problem, name)) from problem


@contextmanager
def writing_to(name: str, kinds: tuple[type[Exception], ...], sentence: Sentence) -> Iterator[None]:
    """Turn failures of these kinds into a NotSaved."""
    try:
        yield
    except kinds as problem:
        title, hint = sentence(problem, name)
        raise NotSaved(title, f"This was not saved; all that was shown before is. {hint}") from problem
