"""The keys that seal the records: in a file of their own, never in the database.

The file has one line a key, its number and 32 random bytes as hex. The last one seals; the
earlier ones still prove what they sealed. ``manage.py new_seal_key`` adds one.
"""

from __future__ import annotations

import hmac
import os
import secrets
from functools import lru_cache
from pathlib import Path

from django.conf import settings
from django.core.exceptions import ImproperlyConfigured

from calibration.engine.job.sealing import seal as plain_seal

BYTES = 32


def place() -> Path:
    """Return where the keys are."""
    return Path(settings.SEAL_KEYS)


def add_key() -> int:
    """Write a new key behind the others and return its number; from now on it seals."""
    standing = _read(place()) if place().exists() else {}
    number = max(standing, default=0) + 1
    flags = os.O_WRONLY | os.O_CREAT | (os.O_APPEND if standing else os.O_EXCL)
    with os.fdopen(os.open(place(), flags, 0o600), "w") as file:
        file.write(f"{number} {secrets.token_hex(BYTES)}\n")
        file.flush()
        os.fsync(file.fileno())
    _kept.cache_clear()
    return number


def keys() -> dict[int, bytes]:
    """Return every key by its number.

    Raises
    ------
    ImproperlyConfigured
        The file is not there, or a line of it cannot be read.
    """
    return _kept(settings.SEAL_KEYS)


@lru_cache(maxsize=4)
def _kept(path: str | Path) -> dict[int, bytes]:
    return _read(Path(path))


def _read(path: Path) -> dict[int, bytes]:
    try:
        lines = [line.split() for line in path.read_text().splitlines() if line.strip()]
        found = {int(number): bytes.fromhex(key) for number, key in lines}
    except FileNotFoundError:
        raise ImproperlyConfigured(
            f"The keys of the seals are missing ({path}). Bring them back from the backup; "
            "`manage.py migrate` makes the first one of a new database."
        ) from None
    except ValueError:
        raise ImproperlyConfigured(f"A line of {path} is no key: number and hex digits.") from None
    if not found or any(len(key) < BYTES for key in found.values()):
        raise ImproperlyConfigured(f"{path} has no key, or one that is too short.")
    return found


def seal(previous: str, text: str) -> str:
    """Return the keyed seal of a text chained to the one before: number of the key, a dot, hex.

    HMAC with SHA-256 (RFC 2104, FIPS 180-4).
    """
    number = max(keys())
    return f"{number}.{_hmac(keys()[number], previous, text)}"


def fits(previous: str, text: str, found: str) -> bool:
    """Tell whether a seal is that of a text after another; one without a key is plain SHA-256."""
    number, dot, digits = found.partition(".")
    if not dot:
        return hmac.compare_digest(plain_seal(previous, text), found)
    key = _key_of(int(number)) if number.isdigit() else None
    return key is not None and hmac.compare_digest(_hmac(key, previous, text), digits)


def _key_of(number: int) -> bytes | None:
    """Return a key; one that is new is looked for in the file again."""
    if number not in keys():
        _kept.cache_clear()
    return keys().get(number)


def keyed(found: str) -> bool:
    """Tell whether a seal was made with a key."""
    return "." in found


def _hmac(key: bytes, previous: str, text: str) -> str:
    return hmac.new(key, f"{previous}\n{text}".encode(), "sha256").hexdigest()
