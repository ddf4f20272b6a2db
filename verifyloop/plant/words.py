"""The words of all instruments, kept in this process: a search looks through them, not the store.

The register says which instruments were changed since it looked last; those are read again. Where
its lines do not go on from the last one that was seen, all are.
"""

from __future__ import annotations

import threading
from dataclasses import dataclass, field

from verifyloop.plant.models import Area, Instrument
from verifyloop.register.kept import subject_of
from verifyloop.register.models import Entry
from verifyloop.register.unchanged import line_now

COLUMNS = ("pk", "tag", "description", "serial", "area__name")
#: Beyond so many new lines all are read again; beyond so many hits the store looks by itself.
MOST_LINES, MOST_HITS = 2_000, 1_000


@dataclass
class _Known:
    line: tuple[int, str] = (0, "")
    #: by key: what is looked through, in small letters
    texts: dict[int, str] = field(default_factory=dict)


_known = _Known()
_reading = threading.Lock()


def matching(words: list[str]) -> list[int] | None:
    """Return the keys of the instruments in which all words stand; none where they are many."""
    left = _texts()
    for word in words:
        small = word.lower()
        left = {pk: text for pk, text in left.items() if small in text}
    hits = list(left)
    return hits if len(hits) <= MOST_HITS else None


def _texts() -> dict[int, str]:
    with _reading:
        line = line_now()
        if line != _known.line:
            changed = _changed_since(_known.line, line)
            if changed is None:
                _known.texts = _read()
            else:
                # Another one, never the same changed: somebody may be looking through it just now.
                left = {pk: text for pk, text in _known.texts.items() if pk not in changed}
                _known.texts = left | _read(changed)
            _known.line = line
        return _known.texts


def _read(keys: set[int] | None = None) -> dict[int, str]:
    rows = Instrument.objects.order_by()
    rows = rows if keys is None else rows.filter(pk__in=keys)
    return {pk: "\n".join(said).lower() for pk, *said in rows.values_list(*COLUMNS)}


def _changed_since(before: tuple[int, str], now: tuple[int, str]) -> set[int] | None:
    """Return the keys of instruments that were changed between two lines; none for all of them."""
    last, seal = before
    if not last or not Entry.objects.filter(pk=last, seal=seal).exists():
        return None
    if now[0] - last > MOST_LINES:
        return None
    subjects = Entry.objects.filter(pk__gt=last, pk__lte=now[0]).values_list("subject", flat=True)
    mine, areas = subject_of(Instrument, ""), subject_of(Area, "")
    found = set()
    for subject in subjects:
        if subject.startswith(areas):
            return None
        if subject.startswith(mine):
            found.add(int(subject.removeprefix(mine)))
    return found
