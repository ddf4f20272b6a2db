"""PDFs of others are kept as they are, where all they do is show something."""

from __future__ import annotations

import io
from collections.abc import Iterator
from typing import Any

from pypdf import PdfReader
from pypdf.errors import PyPdfError
from pypdf.generic import ArrayObject, DictionaryObject, IndirectObject

from calibration.kernel.errors import InputError
from verifyloop.files.refusing import refused

#: What makes a PDF do something by itself or carry other files, and so many parts are looked at.
ACTIVE = {"/JavaScript", "/JS", "/Launch", "/EmbeddedFile", "/EmbeddedFiles", "/AA", "/XFA"}
ACTIONS = ("/JavaScript", "/Launch", "/SubmitForm", "/ImportData", "/GoToE", "/GoToR", "/Rendition")
MOST_PARTS = 500_000


def as_kept(name: str, content: bytes) -> tuple[str, bytes]:
    """Return a PDF that only shows something: what else it may do is looked up in all its parts."""
    try:
        reader = PdfReader(io.BytesIO(content), strict=False)
        if reader.is_encrypted:
            raise refused("encrypted", "The PDF is locked with a password.", "Save it without one.")
        if not reader.pages:
            raise refused("damaged", "The PDF has no page.", "Save it anew.")
        acts = _acts(reader)
    except InputError:
        raise
    except (PyPdfError, OSError, ValueError, KeyError, TypeError, AttributeError, RecursionError):
        raise refused("damaged", "The PDF is not whole.", "Save it anew.") from None
    if acts:
        raise refused(
            "active",
            "The PDF does something by itself, or holds other files.",
            "Print it into a plain PDF, or take a photo.",
        )
    return "pdf", content


def _acts(reader: PdfReader) -> bool:
    """Tell whether any object of a PDF acts, however its names are written or packed."""
    ahead: list[Any] = [reader.trailer]
    for number in _numbers(reader):
        ahead.append(reader.get_object(number))
    seen = 0
    while ahead:
        one = ahead.pop()
        seen += 1
        if seen > MOST_PARTS:
            raise refused("too_heavy", "The PDF has too many parts.", "Print it anew.")
        if isinstance(one, DictionaryObject):
            if ACTIVE & set(one):
                return True
            # An open action that only turns to a page does nothing.
            if _opens(one.get("/OpenAction")) or one.get("/S") in ACTIONS:
                return True
            ahead.extend(v for v in one.values() if not isinstance(v, IndirectObject))
        elif isinstance(one, ArrayObject):
            ahead.extend(v for v in one if not isinstance(v, IndirectObject))
    return False


def _opens(action: Any) -> bool:
    found = action.get_object() if isinstance(action, IndirectObject) else action
    return found is not None and not isinstance(found, ArrayObject)


def _numbers(reader: PdfReader) -> Iterator[IndirectObject]:
    """Yield every object that a PDF lists, plain or packed."""
    for generation, places in reader.xref.items():
        for number in places:
            yield IndirectObject(number, generation, reader)
    for number in reader.xref_objStm:
        yield IndirectObject(number, 0, reader)
