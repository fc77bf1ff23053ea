"""Documents for readers, written into a folder: which, in which formats, in which language."""

from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import closing
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Literal, get_args

from fresh_chair.core.errors import InputError
from fresh_chair.core.evidence.telling import Reader
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.frozen import frozen
from fresh_chair.core.words.catalogue import Words
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.figures.turning import turning
from fresh_chair.services.report.charts import chart_makers
from fresh_chair.services.report.finals import make_final, with_status
from fresh_chair.services.report.outputs import write_export
from fresh_chair.services.report.telling.consented import consented
from fresh_chair.services.report.telling.told import ToldStudy
from fresh_chair.services.report.writing import Produce
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.services.system.child import in_child
from fresh_chair.services.system.files import Written, write_file
from fresh_chair.services.system.language import words_in
from fresh_chair.store.address import Address

if TYPE_CHECKING:
    from fresh_chair.tell.document.model import Document
    from fresh_chair.tell.paper.style import Paper

Format = Literal["html", "md", "pdf", "odt"]
FORMATS: tuple[Format, ...] = get_args(Format)
READERS: tuple[Reader, ...] = get_args(Reader)
_CHART_KINDS: dict[Format, str] = {"html": "svg", "md": "svg", "pdf": "pdf", "odt": "png"}


@frozen
class Telling:
    """Which documents are written.

    Attributes:
        reader: For whom; None for the short report.
        chairs: Of documents for makers, whose; empty for all.
        sittings: Of documents for viewers, of which sittings; empty for all that are recorded, and walks.
        until: Of drafts for makers, the day until when they may answer.
        own: Only the reviewer's own evidence.
    """

    reader: Reader | None = None
    formats: tuple[Format, ...] = ("html", "md")
    language: str = "en"
    chairs: tuple[str, ...] = ()
    sittings: tuple[int, ...] = ()
    until: str = ""
    own: bool = False
    paper: "Paper" = "a4"

    @property
    def words(self) -> Words:
        """Its language. Raises InputError where there is no such catalogue."""
        return words_in(self.language)


@frozen
class Prepared:
    """A document that is ready to be drawn, with its source."""

    told: ToldStudy
    document: "Document"


def prepared(
    opened: StudyReading,
    telling: Telling,
    *,
    weighing: Weighing | None = None,
    words: Words | None = None,
    beside: Path | None = None,
    apart: bool = False,
) -> Iterator[Prepared]:
    """The documents of a telling, one after the other.

    Args:
        opened: The study.
        telling: Which documents.
        weighing, words, beside: As for `write_documents`.
        apart: Work out whether the answer turns in a process of its own, so that nobody's keys wait.

    Raises:
        InputError: Where there is no such language, chair or sitting.
    """
    return _prepared(_told(opened, telling, weighing, words, beside, apart=apart), telling)


def _prepared(base: ToldStudy, telling: Telling) -> Iterator[Prepared]:
    for told, make in _makers(base, telling):
        yield Prepared(told, with_status(told, _with_sample(told, make(told))))


def _told(
    opened: StudyReading,
    telling: Telling,
    weighing: Weighing | None = None,
    words: Words | None = None,
    beside: Path | None = None,
    *,
    apart: bool = False,
) -> ToldStudy:
    """Everything the documents of a telling are made from; whether the answer turns where the reader is told so."""
    figures = weighing or weigh(opened, own=telling.own)
    turns = telling.reader in ("decider", "researcher") and bool(figures.overall) and bool(figures.facts)
    return ToldStudy(
        consented(opened),
        figures,
        words or telling.words,
        turning=turning(opened, figures, apart=apart) if turns else None,
        own=telling.own,
        reader=telling.reader,
        beside=beside,
    )


def _makers(told: ToldStudy, telling: Telling) -> Iterator[tuple[ToldStudy, "Callable[[ToldStudy], Document]"]]:
    if telling.reader == "maker":
        from fresh_chair.services.report.telling.makers.maker import maker_document

        for letter in _chairs(told, telling.chairs):
            yield replace(told, chair=letter), lambda each: maker_document(each, until=telling.until)
    elif telling.reader == "viewer":
        from fresh_chair.services.report.telling.viewer import viewer_document

        for number in _sittings(told, telling.sittings):
            yield replace(told, sitting=number), lambda each: viewer_document(each, each.sitting)
    elif telling.reader == "decider":
        from fresh_chair.services.report.telling.decider import decider_document

        yield told, decider_document
    elif telling.reader == "researcher":
        from fresh_chair.services.report.telling.full.researcher import researcher_document

        yield told, researcher_document
    else:
        from fresh_chair.services.report.telling.brief import brief_document

        yield told, brief_document


def _chairs(told: ToldStudy, asked: Sequence[str]) -> Sequence[str]:
    strange = [letter for letter in asked if letter not in told.titles]
    if strange:
        raise InputError(f"There is no chair {strange[0]}; there are {', '.join(told.titles)}.", "Nothing was written.")
    return asked or tuple(told.titles)


def _sittings(told: ToldStudy, asked: Sequence[int]) -> Sequence[int]:
    from fresh_chair.services.report.telling.viewer import recorded_seats

    there = [seat.number for seat in recorded_seats(told.opened)]
    strange = [number for number in asked if number not in told.opened.sittings]
    if strange:
        raise InputError(f"Sitting {strange[0]} has not begun.", "Nothing was written.")
    return asked or there or (0,)


def _with_sample(told: ToldStudy, document: "Document") -> "Document":
    if not told.study.sample:
        return document
    return replace(document, sample=told.words.say("Sample data: everybody and everything in this report is made up."))


def write_documents(
    opened: StudyReading,
    folder: Path,
    telling: Telling,
    *,
    weighing: Weighing | None = None,
    words: Words | None = None,
    beside: Path | None = None,
) -> Iterator[Written]:
    """Write the documents of a telling into a folder, one file after another, so that progress can be shown.

    Args:
        opened: The open study.
        folder: Made where it is missing; files of the same names are replaced.
        telling: Which documents, in which formats.
        weighing: The figures, where they are known already.
        words: Its sentences, instead of those of the telling's language.
        beside: The study file, beside which attached pictures lie.

    Raises:
        InputError: Where there is no such language, chair or sitting.
        OutsideError: Where the folder or the disk refuses; files written before stay.
    """
    figures, said = weighing or weigh(opened, own=telling.own), words or telling.words
    # The short report has its charts as files of their own.
    kinds = {_CHART_KINDS[form] for form in telling.formats}
    kinds |= {"pdf"} if telling.reader is None else set()
    charts = _Charts(opened, figures, said, frozenset(kinds))
    base = _told(opened, telling, figures, said, beside)
    for ready in _prepared(base, telling):
        yield from _written(ready, folder, telling.formats, charts, telling.paper)
        yield from _beside(ready, folder)
    if telling.reader == "decider":
        # The numbers of the two pages lead into the full report, in whatever format they are.
        full = replace(telling, reader="researcher")
        for ready in _prepared(replace(base, reader="researcher"), full):
            yield from _written(ready, folder, ("html",), charts, telling.paper)
            yield from _beside(ready, folder)
    if telling.reader is None:
        for name in ("outcomes", "times"):
            yield write_file(folder / f"{name}.pdf", charts.drawn(name, "pdf"), f"{charts.title(name)}, PDF")


def _written(
    ready: Prepared, folder: Path, formats: Sequence[Format], charts: "_Charts", paper: "Paper"
) -> Iterator[Written]:
    """One document in each format, with the charts that Markdown links."""
    document, name = ready.document, ready.document.file
    what = document.subtitle or ready.told.words.say("the short report")
    figures = document.figures()
    if "md" in formats:
        for each in figures:
            yield write_file(folder / f"{each}.svg", charts.drawn(each, "svg"), f"{charts.title(each)}, SVG")
    for form in formats:
        drawn = {each: charts.drawn(each, _CHART_KINDS[form]) for each in figures} if form != "md" else {}
        yield write_file(folder / f"{name}.{form}", _rendered(ready, form, drawn, paper), f"{what}, {form}")


def _rendered(ready: Prepared, form: Format, charts: dict[str, bytes], paper: "Paper") -> bytes:
    from fresh_chair.services.report.telling.pictures import picture_bytes

    told, document = ready.told, ready.document
    if form == "md":
        from fresh_chair.tell.document.markdown import markdown_of

        return markdown_of(document).encode()
    pictures = picture_bytes(told, document)
    if form == "html":
        from fresh_chair.tell.document.html import html_of

        return html_of(document, charts, pictures, told.words.gettext).encode()
    if form == "pdf":
        from fresh_chair.draw.paper import font_folder
        from fresh_chair.tell.document.pdf import pdf_of

        return pdf_of(document, charts, pictures, paper=paper, fonts=font_folder())
    from fresh_chair.tell.document.odt import odt_of

    return odt_of(document, charts, pictures, day=told.day)


def _beside(ready: Prepared, folder: Path) -> Iterator[Written]:
    """The files beside a document: a file a finding for makers, chapters for viewers, pictures that Markdown links."""
    from fresh_chair.services.report.telling.pictures import picture_bytes

    told, document = ready.told, ready.document
    for name, data in picture_bytes(told, document).items():
        yield write_file(folder / name, data, told.words.say("a picture"))
    if document.name == "maker":
        from fresh_chair.services.report.telling.makers.maker import finding_files
        from fresh_chair.tell.document.markdown import finding_file

        for name, head, section in finding_files(told):
            text = finding_file(head, section)
            yield write_file(folder / document.file / name, text.encode(), told.words.say("a finding"))
    if document.name == "viewer" and document.file != "viewer":
        from fresh_chair.services.report.telling.viewer import chapters_of, web_vtt

        chapters = chapters_of(told, int(document.file.removeprefix("viewer-")))
        text = web_vtt(chapters, document.title)
        yield write_file(folder / f"{document.file}.vtt", text.encode(), told.words.say("chapters, WebVTT"))


class _Charts:
    """Charts as they are asked for, each drawn once in all the kinds that are wanted, and kept as bytes.

    Args:
        opened: The study.
        weighing: Its figures.
        words: The language of the words in them.
        kinds: Of svg, pdf and png those that are wanted.
    """

    def __init__(self, opened: StudyReading, weighing: Weighing, words: Words, kinds: frozenset[str]) -> None:
        self._makers = {name: (title, make) for name, title, make in chart_makers(opened, weighing, words)}
        self._kinds = kinds
        self._drawn: dict[tuple[str, str], bytes] = {}

    def title(self, name: str) -> str:
        """The title of a chart."""
        return self._makers[name][0]

    def drawn(self, name: str, kind: str) -> bytes:
        """A chart as svg, pdf or png."""
        from fresh_chair.draw.paper import saved

        if (name, kind) not in self._drawn:
            # The figure itself is large, and is let go once it was drawn.
            figure = self._makers[name][1]()
            for each in sorted(self._kinds | {kind}):
                self._drawn[name, each] = saved(figure, each)
        return self._drawn[name, kind]


def finalize(opened: OpenStudy, telling: Telling, day: str) -> list[str]:
    """Keep the documents of a telling as final, as they are now; returns their names.

    Args:
        opened: The open study.
        telling: Which documents; those of a reader.
        day: The day on which they are given out.

    Raises:
        InputError: Where the short report is meant, which is for nobody in particular, or a draft for makers.
        Refused, NotSaved: As `make_final`.
    """
    if telling.reader is None or telling.until:
        raise InputError(
            "Final is a document for a reader, and no draft to be answered.", "Say for whom, and leave the day out."
        )
    named = []
    # They are all made before the first is kept: a record more would change none of them, and still it is one moment.
    base = _told(opened, telling, beside=opened.beside)
    ready = [(told, _with_sample(told, make(told))) for told, make in _makers(base, telling)]
    for told, document in ready:
        make_final(opened, told, document, day)
        named.append(document.file)
    return named


def write_report(
    opened: StudyReading,
    folder: Path,
    *,
    weighing: Weighing | None = None,
    words: Words | None = None,
    own: bool = False,
) -> Iterator[Written]:
    """Write the short report with its charts, as `write_documents` does; its sentences in English by default."""
    return write_documents(opened, folder, Telling(own=own), weighing=weighing, words=words)


def produced(opened: OpenStudy, telling: Telling | None, *, apart: bool, redact: bool = False) -> Produce:
    """The producer of documents, or of the open data.

    Args:
        opened: The open study.
        telling: Which documents; None for the open data.
        apart: Write it in a process of its own, so that nobody's keys wait. That one reads the study file: marks that
            lie in a second place are not in it, and are then written here.
        redact: Of the open data, leave out words about people, as `write_export` does.
    """
    if apart and not opened.spool.waiting:
        path = opened.address
        if telling is None:
            return lambda folder: in_child(f"{__name__}:data_of_study", path, folder, redact)
        return lambda folder: in_child(f"{__name__}:documents_of_study", path, folder, telling)
    snapshot, beside = opened.snapshot(), opened.beside
    if telling is None:
        return lambda folder: write_export(snapshot, folder, redact=redact)
    return lambda folder: write_documents(snapshot, folder, telling, beside=beside)


def data_of_study(path: Address, folder: Path, redact: bool) -> Iterator[Written]:
    """The open data of the study at an address, as it is stored; for a process of its own."""
    with closing(open_study(path, write=False)) as opened:
        yield from write_export(opened, folder, redact=redact)


def documents_of_study(path: Address, folder: Path, telling: Telling) -> Iterator[Written]:
    """The documents of the study at an address, as it is stored; for a process of its own."""
    with closing(open_study(path, write=False)) as opened:
        yield from write_documents(opened, folder, telling, beside=opened.beside)


def formats_meant(text: str) -> tuple[Format, ...]:
    """The formats of a list parted by commas. Raises InputError where one is none there is."""
    found: Iterable[str] = [part.strip().lower() for part in text.split(",") if part.strip()]
    meant = []
    for part in found:
        if part not in FORMATS:
            raise InputError(f"{part!r} is no format; there are {', '.join(FORMATS)}.", "Nothing was written.")
        meant.append(part)
    if not meant:
        raise InputError(f"Say in which formats: {', '.join(FORMATS)}.", "Nothing was written.")
    return tuple(dict.fromkeys(meant))
