"""A copy of all data while work goes on, and the way back; the keys of the seals go apart."""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import sqlite3
from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from pathlib import Path

FORMAT = "verify-loop-backup/1"
DATA, MANIFEST, KEYS, FILES = "data.sqlite3", "manifest.json", "seal.keys", "attachments"
#: Pages that are copied at once; between two lots others may write.
PAGES = 500


class BackupError(Exception):
    """A copy that cannot be made, or cannot be trusted; says what to do."""


@dataclass(frozen=True)
class Copied:
    """What was copied: how large it is, and the newest line of the register in it."""

    folder: Path
    size: int
    register_line: int
    register_seal: str
    files: int = 0
    made_at: str = ""


def digest_of(path: Path) -> str:
    """Return the SHA-256 of a file."""
    found = hashlib.sha256()
    with path.open("rb") as file:
        for block in iter(lambda: file.read(1 << 20), b""):
            found.update(block)
    return found.hexdigest()


def copy_file(database: Path, target: Path) -> None:
    """Copy a file of SQLite, of one moment, while others write."""
    with sqlite3.connect(database) as source, sqlite3.connect(target) as copy:
        source.backup(copy, pages=PAGES, sleep=0.01)


def back_up(
    database: Path | Callable[[Path], None],
    into: Path,
    now: datetime,
    attachments: Path | None = None,
) -> Copied:
    """Copy the database into a new folder, whole and of one moment, while others write.

    ``database`` is its file, or what writes its rows into a new file. Attachments never change
    once they lie there: those that the copy names are copied after it.

    Raises
    ------
    BackupError
        when the folder cannot be made, or the copy is not sound.
    """
    folder = into / now.astimezone(UTC).strftime("verifyloop-%Y%m%dT%H%M%SZ")
    half = folder.with_name(f"{folder.name}.half")
    try:
        half.mkdir(parents=True)
        half.chmod(0o700)
        copied = _copy(database, half, now, attachments)
        half.rename(folder)
    except (OSError, sqlite3.Error) as wrong:
        raise BackupError(
            f"{folder} cannot be made: {wrong}. Nothing is left of it; look at the disk, then try "
            "again."
        ) from None
    finally:
        # Half a copy is none: whoever restores must not find it.
        shutil.rmtree(half, ignore_errors=True)
    return replace(copied, folder=folder)


def _copy(
    database: Path | Callable[[Path], None], folder: Path, now: datetime, attachments: Path | None
) -> Copied:
    target = folder / DATA
    if isinstance(database, Path):
        copy_file(database, target)
    else:
        database(target)
    with sqlite3.connect(target) as copy:
        copy.execute("PRAGMA journal_mode=DELETE")
    line, seal = sound(target)
    target.chmod(0o600)
    _flush(target)
    files = _copy_files(target, attachments, folder / FILES) if attachments is not None else 0
    manifest = {
        "format": FORMAT,
        "made_at": now.astimezone(UTC).isoformat(timespec="seconds"),
        "sha256": digest_of(target),
        "register_line": line,
        "register_seal": seal,
        "files": files,
    }
    (folder / MANIFEST).write_text(json.dumps(manifest, indent=1) + "\n")
    _flush(folder / MANIFEST)
    return Copied(folder, target.stat().st_size, line, seal, files)


def _copy_files(database: Path, source: Path, into: Path) -> int:
    """Copy every attachment that a database names, and return how many there are.

    Raises
    ------
    BackupError
        when one is not there, or not as it was kept.
    """
    digests = named_files(database)
    for digest in digests:
        place, target = source / digest[:2] / digest, into / digest[:2] / digest
        if not place.exists() or digest_of(place) != digest:
            raise BackupError(f"Attachment {digest[:12]} is not as it was kept: {place}.")
        target.parent.mkdir(parents=True, exist_ok=True)
        target.write_bytes(place.read_bytes())
        target.chmod(0o600)
        _flush(target)
    return len(digests)


def named_files(database: Path) -> list[str]:
    """Return the digests of all attachments that a database names; none before there were any."""
    with sqlite3.connect(f"file:{database}?mode=ro", uri=True) as copy:
        known = copy.execute(
            "SELECT count(*) FROM sqlite_master WHERE name = 'files_attachment'"
        ).fetchone()[0]
        if not known:
            return []
        rows = copy.execute("SELECT DISTINCT digest FROM files_attachment ORDER BY digest")
        return [str(row[0]) for row in rows]


def sound(database: Path) -> tuple[int, str]:
    """Return the newest line of the register of a copy that SQLite finds whole.

    Raises
    ------
    BackupError
        when a page of it is damaged, or it is no database of this product.
    """
    try:
        with sqlite3.connect(f"file:{database}?mode=ro", uri=True) as copy:
            said = copy.execute("PRAGMA integrity_check").fetchone()[0]
            if said != "ok":
                raise BackupError(f"{database} is damaged: {said[:200]}")
            head = copy.execute(
                "SELECT id, seal FROM register_entry ORDER BY id DESC LIMIT 1"
            ).fetchone()
    except sqlite3.DatabaseError as wrong:
        raise BackupError(f"{database} cannot be read: {wrong}.") from None
    return head or (0, "")


def copy_keys(keys: Path, into: Path) -> Path:
    """Copy the keys of the seals into a folder of their own.

    Raises
    ------
    BackupError
        when it lies inside a backup of the data: who has both can rewrite records.
    """
    if any((place / MANIFEST).exists() for place in (into, *into.parents)):
        raise BackupError("Keys and data do not go together: choose a folder elsewhere.")
    into.mkdir(parents=True, exist_ok=True)
    target = into / KEYS
    flags = os.O_WRONLY | os.O_CREAT | os.O_TRUNC
    with os.fdopen(os.open(target, flags, 0o600), "wb") as file:
        file.write(keys.read_bytes())
    _flush(target)
    return target


def restore(folder: Path, database: Path, attachments: Path | None = None) -> Copied:
    """Put a copy in the place of a database that is not there.

    Raises
    ------
    BackupError
        when the copy is not as it was made, or there is a database already.
    """
    source, line, made_at = looked_at(folder)
    beside = [database.with_name(database.name + end) for end in ("", "-wal", "-shm")]
    there = next((p for p in beside if p.exists()), None)
    if there is not None:
        raise BackupError(f"{there} is there. Stop the server and move it away first.")
    half = database.with_name(database.name + ".half")
    half.write_bytes(source.read_bytes())
    half.chmod(0o600)
    found = sound(half)
    if found[0] != line:
        half.unlink()
        raise BackupError(f"{source} ends at another line of the register than its manifest says.")
    _flush(half)
    files = _copy_files(half, folder / FILES, attachments) if attachments is not None else 0
    half.rename(database)
    return Copied(folder, database.stat().st_size, *found, files, made_at)


def restore_rows(folder: Path, read: Callable[[Path], None], attachments: Path) -> Copied:
    """Hand the file of a copy to what puts its rows into another database.

    Raises
    ------
    BackupError
        when the copy is not as it was made.
    """
    source, line, made_at = looked_at(folder)
    found = sound(source)
    if found[0] != line:
        raise BackupError(f"{source} ends at another line of the register than its manifest says.")
    files = _copy_files(source, folder / FILES, attachments)
    read(source)
    return Copied(folder, source.stat().st_size, *found, files, made_at)


def looked_at(folder: Path) -> tuple[Path, int, str]:
    """Return the file of a copy, the newest line of the register in it, and when it was made.

    Raises
    ------
    BackupError
        when it is not as it was made.
    """
    try:
        manifest = json.loads((folder / MANIFEST).read_text())
        known = manifest["format"] == FORMAT
        digest, line = str(manifest["sha256"]), int(manifest["register_line"])
    except (OSError, ValueError, KeyError, TypeError):
        raise BackupError(f"{folder} holds no backup: {MANIFEST} cannot be read.") from None
    source = folder / DATA
    if not known or not source.exists():
        raise BackupError(f"{folder} holds no backup that this version knows.")
    if digest_of(source) != digest:
        raise BackupError(f"{source} is not as it was made. Take another backup.")
    return source, line, str(manifest.get("made_at", ""))


def _flush(path: Path) -> None:
    """Bring a file onto the disk."""
    handle = os.open(path, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
