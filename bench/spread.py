"""How times are taken and said."""

import time
from collections.abc import Callable
from statistics import median


def timed(act: Callable[[], object]) -> float:
    """Seconds that something takes."""
    begun = time.perf_counter()
    act()
    return time.perf_counter() - begun


def spread(seconds: list[float]) -> str:
    """Median and 99th percentile in words."""
    ordered = sorted(seconds)
    p99 = ordered[min(round(0.99 * len(ordered)), len(ordered) - 1)]
    return f"p50 {1000 * median(ordered):6.1f} ms  p99 {1000 * p99:6.1f} ms"
