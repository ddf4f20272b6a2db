"""What a file really is, whatever it calls itself; photos lose what they tell of their place."""

from __future__ import annotations

import re
import unicodedata
from dataclasses import dataclass

from verifyloop.files import apart
from verifyloop.files.refusing import refused

#: A photo of a phone has less.
LARGEST = 15 * 1024 * 1024
#: What is opened in a process of its own, by how it begins.
OPENED = {b"%PDF-": "pdf", b"\xff\xd8\xff": "picture", b"\x89PNG\r\n\x1a\n": "picture"}
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


def checked(name: str, content: bytes) -> Checked:
    """Return a file as it is kept: by what it is, not by what it is called.

    Raises
    ------
    InputError
        ``file.*``, with what to do about it.
    Conflict
        ``file.others_first``.
    """
    if not content:
        raise refused("empty", "There is nothing in the file.", "Choose another one.")
    if len(content) > LARGEST:
        raise refused("too_large", "The file is too large.", "Use at most 15 MB.")
    what = next((w for begins, w in OPENED.items() if content.startswith(begins)), "")
    if not what:
        return Checked(_name(name, "txt"), "txt", _text(content))
    kind, kept = apart.opened(what, name, content)
    return Checked(_name(name, kind), kind, kept)


def _name(name: str, kind: str) -> str:
    """Return a name that no system takes for a path, with the ending of what it is."""
    last = re.split(r"[\\/]", name)[-1]
    plain = unicodedata.normalize("NFC", last)
    said = "".join(c for c in plain if c.isprintable() and c not in '<>:"|?*')
    stem = said.rpartition(".")[0] or said
    return f"{stem.strip('. ')[:100] or 'file'}.{kind}"


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
