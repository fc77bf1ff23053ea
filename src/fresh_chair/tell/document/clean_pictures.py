"""Pictures made fit for a document: decoded whole, no larger than a page shows, and nothing in them but the picture."""

from io import BytesIO

from PIL import Image, ImageOps

# A page shows no more than that; and a picture that says to be larger than this in all is not decoded.
_MOST_PIXELS_ACROSS = 1600
_MOST_PIXELS = 100_000_000


def clean_picture(data: bytes) -> bytes | None:
    """The picture alone, without the rest of its file: where and by whom it was taken, comments, a small preview.

    Args:
        data: The content of a PNG or JPEG file.

    Returns:
        PNG or JPEG, turned as it is to be seen, with the same bytes for the same picture; None where it is damaged.
    """
    try:
        with Image.open(BytesIO(data), formats=("PNG", "JPEG")) as opened:
            if opened.width * opened.height > _MOST_PIXELS:
                return None
            kind = opened.format or "PNG"
            picture = ImageOps.exif_transpose(opened)
            picture.thumbnail((_MOST_PIXELS_ACROSS, _MOST_PIXELS_ACROSS))
            seen = picture.convert("RGBA")
            # What shows through is paper: documents are printed.
            plain = Image.new("RGB", seen.size, "white")
            plain.paste(seen, mask=seen.getchannel("A"))
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        return None
    out = BytesIO()
    # A picture made from pixels alone has nothing else in it.
    alone = Image.frombytes("RGB", plain.size, plain.tobytes())
    if kind == "JPEG":
        alone.save(out, "jpeg", quality=88)
    else:
        alone.save(out, "png", optimize=True)
    return out.getvalue()
