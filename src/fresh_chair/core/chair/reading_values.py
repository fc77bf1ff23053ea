"""A typed reading's value: read wholly, or refused wholly; where it is ambiguous, both meanings are given."""

import re

from fresh_chair.core.chair.units import converted, is_time, scale_of
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import clipped, legible

EXAMPLES = "412 MiB, 40 to 55 s, at least 20 fps, under 2 GB, about 3 min, 1:30 min, 3 of 5, 2.30.0, or felt and a word"
_NUMBER = r"[-+]?\d[\d.,'’\u00a0\u202f ]*"
_UNIT = r"[^\W\d_%°µ][^\d<>=~+]{0,39}|[%°µ][^\d<>=~+]{0,39}"
_LEADS = {
    "at least": "at least|no less than|not less than|never under|over|more than|above|from|>=|≥|>",
    "at most": "at most|no more than|not more than|never over|under|less than|below|up to|<=|≤|<",
    "about": "about|around|roughly|approximately|approx\\.?|circa|ca\\.?|some|~|≈",
}
_TO = r"\s*(?:to|until|-|–|—|\.\.\.?|…)\s*"
_VERSION = re.compile(r"v?\d+(?:\.\d+){2,}[\w.+~:-]*|v\d+(?:\.\d+)*[\w.+~:-]*", re.IGNORECASE)
_CLOCK = re.compile(r"(?:(\d{1,3}):)?(\d{1,3}):(\d{2}(?:[.,]\d{1,3})?)")
_GROUPED = re.compile(r"[-+]?\d{1,3}(?:([.,'’\u00a0\u202f ])\d{3})(?:\1\d{3})*")


class Ambiguous(ValueError):
    """A typed value with two possible meanings.

    Attributes:
        readings: Each of them, written so that it means nothing else.
    """

    def __init__(self, text: str, readings: tuple[str, ...]) -> None:
        super().__init__(f"it can be {' or '.join(readings)}; write which")
        self.text = text
        self.readings = readings


@frozen
class Value:
    """A typed value as the fields of a reading."""

    precision: str
    low: float | None = None
    high: float | None = None
    of: float | None = None
    unit: str = ""
    version: str = ""
    felt: str = ""


def read_value(text: str, *, what: str = "") -> Value:
    """A reading as it was typed.

    Args:
        text: Such as `412 MiB`, `40 to 55 s`, `2 min 30 s`, `3 of 5`, `version 4.10`, `felt heavy`.
        what: What was measured; where that is a version, so is the value.

    Raises:
        Ambiguous: Where it could mean either of two numbers.
        ValueError: Where it is no reading, or not wholly one.
    """
    text = " ".join(text.replace("\u202f", "\u00a0").split(" ")).strip()
    if not text:
        raise ValueError(f"a reading is such as {EXAMPLES}")
    if text.casefold().startswith("felt"):
        words = text[4:].lstrip(": ").strip()
        if not words:
            raise ValueError("say how it felt: felt heavy")
        return Value("felt", felt=words)
    version = _version(text, what)
    if version:
        return Value("version", version=version)
    share = _share(text)
    if share is not None:
        return share
    lead, rest = _lead(text)
    ends = re.split(_TO, rest, maxsplit=1, flags=re.IGNORECASE) if not _whole_number(rest) else [rest]
    if len(ends) == 2 and ends[0].strip() and ends[1].strip():
        if lead:
            raise ValueError(f"a range is not “{lead}” something besides")
        return _range(ends[0].strip(), ends[1].strip())
    number, unit = _one(rest)
    return Value(lead or "measured", low=number, unit=unit)


def _lead(text: str) -> tuple[str, str]:
    """At least, at most or about, where it begins with one or ends with a sign of one; and the rest."""
    for lead, words in _LEADS.items():
        match = re.match(rf"(?:{words})(?=[\s\d]|$)\s*", text, re.IGNORECASE)
        if match and match.end():
            return lead, text[match.end() :].strip()
    plus = re.fullmatch(rf"({_NUMBER})\s*\+\s*(\D*)", text)
    if plus:
        return "at least", f"{plus[1].strip()} {plus[2].strip()}".strip()
    return "", text


def _version(text: str, what: str) -> str:
    match = re.fullmatch(r"version\s+(\S+)", text, re.IGNORECASE)
    if match:
        return match[1]
    if _VERSION.fullmatch(text):
        return text
    # Where a version is asked for, nothing else is meant.
    asked = re.search(r"\bversions?\b", what, re.IGNORECASE) is not None
    return text if asked and re.fullmatch(r"v?\d[\w.+~:-]*", text, re.IGNORECASE) else ""


def _share(text: str) -> Value | None:
    match = re.fullmatch(r"(\d{1,9})\s*(?:of|out of|/)\s*(\d{1,9})(?:\s+([^\d<>=~+]{1,40}))?", text, re.IGNORECASE)
    if match is None:
        return None
    part, whole = int(match[1]), int(match[2])
    if not whole > 0 or part > whole:
        raise ValueError(f"{part} of {whole} is no share")
    return Value("share", low=float(part), of=float(whole), unit=(match[3] or "").strip())


def _range(first: str, second: str) -> Value:
    high, unit = _one(second)
    low, low_unit = _one(first)
    if low_unit and low_unit.casefold() != unit.casefold():
        low = converted(low, low_unit, unit or low_unit)
    unit = unit or low_unit
    if high < low:
        raise ValueError("the upper end of a range is not below the lower one")
    return Value("range", low=low, high=high, unit=unit)


def _one(text: str) -> tuple[float, str]:
    """One number and its unit, times in several parts included."""
    clock = _clock(text)
    if clock is not None:
        return clock
    parts = _compound(text)
    if parts is not None:
        return parts
    match = re.fullmatch(rf"({_NUMBER}?)\s*({_UNIT})?", text)
    if match is None or not match[1].strip():
        raise ValueError(f"a reading is such as {EXAMPLES}")
    unit = (match[2] or "").strip()
    return _number(match[1].strip(), unit, text), unit


def _clock(text: str) -> tuple[float, str] | None:
    """A time as a clock shows it, in seconds."""
    match = re.fullmatch(rf"{_CLOCK.pattern}\s*([a-zA-Z]*)", text)
    if match is None:
        return None
    first, second, third, unit = match.groups()
    unit = unit.casefold()
    last = float(third.replace(",", "."))
    if last >= 60 or (first is not None and int(second) >= 60):
        raise ValueError(f"“{_shown(text)}” is no time that a clock shows")
    if first is not None:
        if unit and not (is_time(unit) and unit[0] == "h"):
            raise ValueError(f"“{_shown(text)}” has hours, and is not of {unit}")
        return int(first) * 3600 + int(second) * 60 + last, "s"
    if not unit:
        minutes, hours = f"{int(second)} min {third} s", f"{int(second)} h {third} min"
        raise Ambiguous(text, (minutes, hours))
    if is_time(unit) and unit.startswith("h"):
        return int(second) * 3600 + last * 60, "s"
    if is_time(unit) and unit.startswith("min"):
        return int(second) * 60 + last, "s"
    raise ValueError(f"“{_shown(text)}” is no time of {unit}")


def _compound(text: str) -> tuple[float, str] | None:
    """A time in parts, `2 min 30 s`, in seconds; None for anything else."""
    found = re.findall(r"(\d+(?:[.,]\d+)?)\s*([a-zA-Z]+)\.?\s*(?:and\s+|,\s*)?", text)
    whole = re.fullmatch(r"(?:\d+(?:[.,]\d+)?\s*[a-zA-Z]+\.?\s*(?:and\s+|,\s*)?){2,}", text)
    if whole is None or not all(is_time(unit) for _, unit in found):
        return None
    factors = [scale_of(unit).factor for _, unit in found]
    if factors != sorted(set(factors), reverse=True):
        raise ValueError(f"the parts of “{_shown(text)}” do not follow each other")
    for (number, unit), above in zip(found[1:], factors, strict=False):
        if float(number.replace(",", ".")) * scale_of(unit).factor >= above:
            raise ValueError(f"{number} {unit} of “{_shown(text)}” is more than the part before it holds")
    return sum(converted(float(number.replace(",", ".")), unit, "s") for number, unit in found), "s"


def _whole_number(text: str) -> bool:
    """Whether a text is one number with a sign before it, and no range."""
    return re.fullmatch(r"[-+]\d[\d.,]*\s*\D*", text) is not None


def _number(text: str, unit: str, whole: str) -> float:
    """A number as it is usually written, thousands parted or not."""
    plain = text.rstrip(".,")
    if plain != text:
        raise ValueError(f"“{_shown(whole)}” is not wholly a number")
    points, commas = plain.count("."), plain.count(",")
    others = re.sub(r"[\d.,+-]", "", plain)
    if others:
        # Blanks and apostrophes part thousands and nothing else.
        head = re.split(r"[.,]", plain)[0]
        if _GROUPED.fullmatch(head.strip()) is None or len(set(others)) > 1:
            raise ValueError(f"“{_shown(text)}” is no number as one writes it")
        plain = re.sub(r"['’\u00a0\u202f ]", "", plain)
    if points and commas:
        last = max(plain.rfind("."), plain.rfind(","))
        sign = "," if plain[last] == "." else "."
        whole_part = plain[:last]
        if plain.count(plain[last]) > 1 or (_GROUPED.fullmatch(whole_part) is None or sign not in whole_part):
            raise ValueError(f"“{_shown(text)}” is no number as one writes it")
        return float(whole_part.replace(sign, "") + "." + plain[last + 1 :])
    if points + commas > 1:
        if _GROUPED.fullmatch(plain) is None:
            raise ValueError(f"“{_shown(text)}” is no number as one writes it")
        return float(re.sub(r"[.,]", "", plain))
    if points + commas == 1 and not others and _GROUPED.fullmatch(plain) and not re.match(r"[-+]?0", plain):
        sign = "." if points else ","
        thousands, fraction = plain.replace(sign, ""), f"{plain.replace(sign, '.')}0"
        end = f" {unit}" if unit else ""
        raise Ambiguous(whole, (f"{thousands}{end}", f"{fraction}{end}"))
    return float(plain.replace(",", "."))


def version_key(version: str) -> tuple[tuple[int, int, str], ...]:
    """A sort key for versions: numbers as numbers, letters as letters.

    >>> version_key("4.10") > version_key("4.9"), version_key("6.1-rc1") < version_key("6.1")
    (True, True)
    """
    parts: list[tuple[int, int, str]] = []
    for number, letters in re.findall(r"(\d+)|([A-Za-z~]+)", version.casefold().removeprefix("v")):
        # What is before a release (rc, beta, ~) comes before nothing at all, which is what the end of a version is.
        parts.append((2, int(number), "") if number else (0, 0, letters))
    return (*parts, (1, 0, ""))


def was_misread(low: float | None, unit: str) -> tuple[str, str] | None:
    """The typed text of a reading that an earlier version read in part only, and why; as far as it can be told.

    None where nothing speaks for it.
    """
    if low is None:
        return None
    shown = f"{low:.10g}"
    if re.match(r"[.,:/+]", unit) or re.search(r"\d", unit):
        return f"{shown}{'' if re.match(r'[.,:/+]', unit) else ' '}{unit}", "only its beginning was read"
    fraction = f"{low:.10g}".partition(".")[2]
    if len(fraction) == 3 and 1 <= abs(low) < 1000 and unit.casefold() in ("b", "kb", "mb", "gb", "kib", "mib", "gib"):
        return "", f"it may have been typed with parted thousands, as {round(low * 1000)} {unit}"
    return None


def _shown(text: str) -> str:
    return legible(clipped(text, 40))
