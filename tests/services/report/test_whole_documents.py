"""Documents as files: the same bytes twice, pictures in them cleaned, and hostile words that act in no format."""

import hashlib
import zipfile
from dataclasses import replace
from html.parser import HTMLParser
from io import BytesIO
from pathlib import Path

import pytest
from PIL import Image
from pypdf import PdfReader

from fresh_chair.core.evidence.telling import Reader
from fresh_chair.services.evidence.attachments import NamedFile, attach_to, read_attachment
from fresh_chair.services.evidence.records import put_evidence
from fresh_chair.services.file.new_walk import new_walk_demo
from fresh_chair.services.findings.sorting import open_finding
from fresh_chair.services.report.reports import FORMATS, Format, Telling, write_documents
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.tell.document.clean_pictures import clean_picture
from tests.cli.forked import run as fresh_chair

HOSTILE = "<script>alert(1)</script> =cmd|calc \x1b[31m **bold** [link](x) $x^2$ {{ 7777*7777 }} </text:p>"
PLACE = b"54.3233 North"


def sums(folder: Path) -> dict[str, str]:
    return {
        str(path.relative_to(folder)): hashlib.sha256(path.read_bytes()).hexdigest()
        for path in folder.rglob("*")
        if path.is_file()
    }


def photograph() -> bytes:
    """A JPEG that says where it was taken."""
    out = BytesIO()
    exif = Image.Exif()
    exif[0x010E] = PLACE.decode()
    Image.new("RGB", (2400, 1200), "teal").save(out, "jpeg", exif=exif)
    return out.getvalue()


@pytest.fixture
def pictured(tmp_path: Path) -> Path:
    """The demo of a reviewer alone, with a photograph and a damaged picture at two of its marks."""
    path = tmp_path / "walk.fresh"
    new_walk_demo(path)
    whole, damaged = tmp_path / "screen.jpg", tmp_path / "torn.png"
    whole.write_bytes(photograph())
    damaged.write_bytes(b"\x89PNG\r\n\x1a\n" + b"torn" * 40)
    opened = open_study(path)
    number, sitting = next(iter(sorted(opened.sittings.items())))
    marks = [remark.entry for remark in sitting.remarks.values() if remark.words][:2]
    for mark, file in zip(marks, (whole, damaged), strict=True):
        attach_to(opened, number, mark, read_attachment(NamedFile(file), path, copy=True))
        open_finding(opened, f"seen in {file.name}", [f"mark:{mark}"])
    opened.close()
    return path


@pytest.mark.long
@pytest.mark.parametrize("reader", ["researcher", "maker"])
def test_the_same_study_gives_the_same_bytes_in_every_format_and_its_pictures_are_clean(
    pictured: Path, tmp_path: Path, reader: str
) -> None:
    for name in ("one", "two"):
        ended = fresh_chair("report", pictured, "--for", reader, "--format", "html,md,pdf,odt", "--to", tmp_path / name)
        assert ended.returncode == 0, ended.stderr
    assert sums(tmp_path / "one") == sums(tmp_path / "two")
    assert {path.suffix for path in (tmp_path / "one").iterdir()} >= {".html", ".md", ".pdf", ".odt"}
    shown = list((tmp_path / "one").glob("*.jpg"))
    assert len(shown) == 1
    assert PLACE not in shown[0].read_bytes()
    assert not list((tmp_path / "one").glob("*.png")), "one that is damaged is not shown"
    for text in (tmp_path / "one").glob("*.odt"):
        with zipfile.ZipFile(text) as packed:
            assert all(PLACE not in packed.read(name) for name in packed.namelist())


def test_a_picture_is_turned_made_small_and_has_nothing_in_it_but_the_picture() -> None:
    data = clean_picture(photograph())
    assert data is not None
    assert PLACE not in data
    with Image.open(BytesIO(data)) as seen:
        assert (seen.size, seen.format, len(seen.getexif())) == ((1600, 800), "JPEG", 0)
    assert clean_picture(photograph()) == data
    exif = Image.Exif()
    exif[0x0112] = 6
    out = BytesIO()
    Image.new("RGB", (40, 20), "red").save(out, "jpeg", exif=exif)
    turned = clean_picture(out.getvalue())
    assert turned is not None
    with Image.open(BytesIO(turned)) as seen:
        assert seen.size == (20, 40)
    clear = BytesIO()
    Image.new("RGBA", (2, 2), (255, 0, 0, 0)).save(clear, "png")
    paper = clean_picture(clear.getvalue())
    assert paper is not None
    with Image.open(BytesIO(paper)) as seen:
        assert seen.getpixel((0, 0)) == (255, 255, 255)
    assert clean_picture(photograph()[:900]) is None
    assert clean_picture(b"GIF89a") is None


class _Tags(HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.seen: set[str] = set()

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.seen.add(tag)


def hostile(opened: OpenStudy) -> None:
    """Words that act wherever they are let, in every place that a document takes words from."""
    study = opened.study
    opened.amend(
        replace(
            study,
            title=HOSTILE[:80],
            question=HOSTILE,
            cards=tuple(replace(card, title=f"{n} {HOSTILE}"[:90]) for n, card in enumerate(study.cards)),
            chairs=tuple(replace(each, name=f"{each.letter} {HOSTILE}"[:80]) for each in study.chairs),
        )
    )
    for at in ("foreword", "answer", "outcomes"):
        put_evidence(opened, "paragraph", {"text": HOSTILE, "at": at})


@pytest.mark.long
@pytest.mark.parametrize(
    ("reader", "formats"), [("decider", ("html", "md")), ("maker", FORMATS), ("viewer", FORMATS)], ids=str
)
def test_hostile_words_act_in_no_format(
    demo: OpenStudy, tmp_path: Path, reader: Reader, formats: tuple[Format, ...]
) -> None:
    # The full report comes with the two pages of a decider.
    hostile(demo)
    telling = Telling(reader, formats, chairs=("A",) if reader == "maker" else ())
    list(write_documents(demo, tmp_path / "out", telling, beside=demo.beside))
    assert (tmp_path / "out" / "researcher.html").exists() is (reader == "decider")
    for path in (tmp_path / "out").rglob("*.*"):
        data = path.read_bytes()
        if path.suffix == ".html":
            tags = _Tags()
            tags.feed(data.decode())
            assert "script" not in tags.seen
        if path.suffix in (".html", ".md", ".vtt"):
            text = data.decode()
            assert "\x1b" not in text
            assert "60481729" not in text.split()
        if path.suffix == ".md":
            # The head of a finding's file is YAML, whose values act nowhere.
            body = text.split("---\n", 2)[-1] if text.startswith("---\n") else text
            assert "<script" not in body.replace("\\<script", "")
        if path.suffix == ".odt":
            with zipfile.ZipFile(path) as packed:
                content = packed.read("content.xml").decode()
            assert "<script" not in content
            assert "\x1b" not in content
        if path.suffix == ".pdf":
            assert all(page.extract_text() for page in PdfReader(path).pages)
