"""Photos and other pictures are drawn anew, and no larger than is needed to read a plate."""

from __future__ import annotations

import io
import warnings

from PIL import Image, ImageOps, UnidentifiedImageError

from calibration.kernel.errors import InputError
from verifyloop.files.refusing import refused

#: A photo is decoded at the size that is kept, another picture as large as it is.
MOST_PIXELS = {"jpg": 110_000_000, "png": 30_000_000}
#: They are kept no wider or higher than this. [pixels]
WIDEST = 3000


def as_kept(name: str, content: bytes) -> tuple[str, bytes]:
    """Return a picture drawn anew: without place, device, and whatever hides behind it."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(content)) as opened:
                if opened.format not in ("JPEG", "PNG"):
                    raise UnidentifiedImageError
                kind = "jpg" if opened.format == "JPEG" else "png"
                if opened.width * opened.height > MOST_PIXELS[kind]:
                    raise refused("too_large", "The picture is too large.", "Make it smaller.")
                # A large photo is decoded small at once.
                opened.draft("RGB", (WIDEST, WIDEST))
                opened.thumbnail((WIDEST, WIDEST))
                upright = ImageOps.exif_transpose(opened)
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
    out = io.BytesIO()
    bare = Image.new(drawn.mode, drawn.size)
    bare.paste(drawn)
    bare.save(out, "JPEG" if kind == "jpg" else "PNG", quality=88)
    return kind, out.getvalue()
