"""The fonts of a PDF."""

from typing import Any

from pypdf import PdfReader


def unembedded(reader: PdfReader) -> set[str]:
    """The names of the fonts that are not in the file."""
    found = set()
    for page in reader.pages:
        resources: Any = page["/Resources"]
        for font in resources.get("/Font", {}).values():
            whole = font.get_object()
            parts = [each.get_object() for each in whole.get("/DescendantFonts", [])] or [whole]
            for part in parts:
                described = part.get("/FontDescriptor")
                given = described.get_object() if described is not None else {}
                if part.get("/Subtype") != "/Type3" and not {"/FontFile", "/FontFile2", "/FontFile3"} & set(given):
                    found.add(str(part.get("/BaseFont")))
    return found
