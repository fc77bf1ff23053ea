"""Whether a chair is fresh, in the words that entries keep."""

from typing import Literal

Freshness = Literal["fresh", "not fresh", "not checked"]
