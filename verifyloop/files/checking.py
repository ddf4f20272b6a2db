"""What a file really is, whatever it calls itself; photos lose what they tell of their place."""

from __future__ import annotations

import io
import re
import unicodedata
import warnings
from dataclasses import dataclass

from PIL import Image, ImageOps, UnidentifiedImageError

from calibration.kernel.errors import InputError

#: A photo of a phone has less.
LARGEST, MOST_PIXELS = 15 * 1024 * 1024, 60_000_000
#: Pictures are kept no wider or higher than this: enough to read a plate. [pixels]
WIDEST = 3000
#: What makes a PDF do something by itself.
ACTIVE = (b"/JavaScript", b"/JS", b"/Launch", b"/EmbeddedFile", b"/OpenAction", b"/AA", b"/XFA")
TYPES = {
    "jpg": "image/jpeg",
    "png": "image/png",
    "pdf": "application/pdf",
    "txt": "text/plain; charset=utf-8",
}


@dataclass(frozen=True)
class Checked:
    """A file as it is kept."""

    name: str
    kind: str
    content: bytes


def refused(code: str, message: str, remedy: str) -> InputError:
    """Return the refusal of a file."""
    return InputError(f"file.{code}", "file", message, remedy)


def checked(name: str, content: bytes) -> Checked:
    """Return a file as it is kept: by what it is, not by what it is called.

    Raises
    ------
    InputError
        ``file.*``, with what to do about it.
    """
    if not content:
        raise refused("empty", "There is nothing in the file.", "Choose another one.")
    if len(content) > LARGEST:
        raise refused("too_large", "The file is too large.", "Use at most 15 MB.")
    if content[:5] == b"%PDF-":
        kind, kept = "pdf", _pdf(content)
    elif content[:3] == b"\xff\xd8\xff" or content[:8] == b"\x89PNG\r\n\x1a\n":
        kind, kept = _picture(content)
    else:
        kind, kept = "txt", _text(content)
    return Checked(_name(name, kind), kind, kept)


def _name(name: str, kind: str) -> str:
    """Return a name that no system takes for a path, with the ending of what it is."""
    last = re.split(r"[\\/]", name)[-1]
    plain = unicodedata.normalize("NFC", last)
    said = "".join(c for c in plain if c.isprintable() and c not in '<>:"|?*')
    stem = said.rpartition(".")[0] or said
    return f"{stem.strip('. ')[:100] or 'file'}.{kind}"


def _pdf(content: bytes) -> bytes:
    if b"%%EOF" not in content[-2048:]:
        raise refused("damaged", "The PDF is not whole.", "Save it anew.")
    if any(re.search(re.escape(word) + rb"(?![A-Za-z])", content) for word in ACTIVE):
        raise refused(
            "active",
            "The PDF does something by itself, or holds other files.",
            "Print it into a plain PDF, or take a photo.",
        )
    return content


def _picture(content: bytes) -> tuple[str, bytes]:
    """Return a picture drawn anew: without place, device, and whatever hides behind it."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(content)) as opened:
                if opened.format not in ("JPEG", "PNG"):
                    raise UnidentifiedImageError
                if opened.width * opened.height > MOST_PIXELS:
                    raise refused("too_large", "The picture is too large.", "Make it smaller.")
                upright = ImageOps.exif_transpose(opened)
                kind = "jpg" if opened.format == "JPEG" else "png"
                drawn = upright.convert("RGB" if kind == "jpg" else "RGBA")
    except InputError:
        raise
    except (
        UnidentifiedImageError,
        Image.DecompressionBombError,
        Image.DecompressionBombWarning,
        OSError,
        ValueError,
        SyntaxError,
        MemoryError,
    ):
        raise refused("damaged", "The picture cannot be opened.", "Take it anew.") from None
    drawn.thumbnail((WIDEST, WIDEST))
    out = io.BytesIO()
    bare = Image.new(drawn.mode, drawn.size)
    bare.paste(drawn)
    bare.save(out, "JPEG" if kind == "jpg" else "PNG", quality=88)
    return kind, out.getvalue()


def _text(content: bytes) -> bytes:
    """Return plain text; markup that a browser would run is none."""
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = "\x00"
    if any(unicodedata.category(c) == "Cc" and c not in "\r\n\t" for c in text):
        raise refused(
            "kind",
            "That is no photo, no PDF and no plain text.",
            "Take a photo (JPEG or PNG), a PDF, or text in UTF-8.",
        )
    if re.search(r"<\s*(script|svg|html|!doctype|iframe|\?xml)", text, re.I):
        raise refused(
            "markup", "The text holds markup that a browser would run.", "Save it as a PDF."
        )
    return content
