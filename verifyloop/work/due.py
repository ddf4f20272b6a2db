"""What is due, as a round by area: light rows of everything, to count and to choose from."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from itertools import groupby

from calibration.engine.method.family import family_of, newest
from verifyloop.plant.models import Instrument, Plan
from verifyloop.register.unchanged import unchanged


@dataclass(frozen=True)
class DueRow:
    """An instrument that is due: enough to sort, count and filter by."""

    pk: int
    tag: str
    description: str
    area: str
    order: int
    #: none where an instrument out of service has no date
    due: date | None
    out: bool
    mark: str
    family: str

    def group(self, today: date) -> str:
        """Return overdue, today or soon."""
        if self.out or self.due is None or self.due < today:
            return "overdue" if self.out or self.due is not None else "today"
        return "today" if self.due == today else "soon"

    @property
    def failed(self) -> bool:
        """Tell whether it is out of service or was left outside."""
        return self.out or self.mark == "outside"


@dataclass(frozen=True)
class Looked:
    """What of it is looked at; what is empty leaves everything in."""

    words: str = ""
    area: str = ""
    family: str = ""
    failed: bool = False
    #: only these instruments; none leaves all in
    among: frozenset[int] | None = None

    def among_all(self, rows: list[DueRow]) -> list[DueRow]:
        """Return the rows that are looked at; the same list where that is all."""
        return rows if self == Looked() else [row for row in rows if self.fits(row)]

    def fits(self, row: DueRow) -> bool:
        """Tell whether a row is looked at."""
        text = f"{row.tag} {row.description} {row.area}".lower()
        return (
            all(word in text for word in self.words.lower().split()[:6])
            and self.area in ("", row.area)
            and self.family in ("", row.family)
            and (not self.failed or row.failed)
            and (self.among is None or row.pk in self.among)
        )


NAMES = (
    "instrument_id",
    "instrument__tag",
    "instrument__description",
    "instrument__area__name",
    "instrument__area__order",
    "next_due",
    "instrument__last_mark_left",
    "method",
)


def due_rows(day: date) -> list[DueRow]:
    """Return what is due on or before a day or out of service, in the order of a round."""
    out = set(Instrument.objects.filter(out_of_service__isnull=False).values_list("pk", flat=True))
    plans = Plan.objects.filter(next_due__lte=day).values_list(*NAMES)
    left = Plan.objects.filter(instrument__out_of_service__isnull=False).values_list(*NAMES)
    families: dict[str, str] = {}
    found: dict[int, DueRow] = {}
    for pk, tag, description, area, order, due, mark, method in (*plans, *(left if out else ())):
        was = found.get(pk)
        if was is not None and (due is None or (was.due is not None and was.due <= due)):
            continue
        if method not in families:
            families[method] = family_of(newest(method)).title
        family = families[method]
        found[pk] = DueRow(pk, tag, description, area, order, due, pk in out, mark, family)
    return sorted(found.values(), key=lambda r: (r.order, r.area, r.due or date.min, r.tag))


def paged(rows: Sequence[DueRow], most: int) -> list[list[DueRow]]:
    """Return pages of whole areas; only an area that is larger than a page is cut."""
    pages: list[list[DueRow]] = [[]]
    for _, area in groupby(rows, key=lambda r: r.area):
        waiting = list(area)
        if pages[-1] and len(pages[-1]) + len(waiting) > most:
            pages.append([])
        while len(waiting) > most:
            pages[-1] += waiting[:most]
            waiting = waiting[most:]
            pages.append([])
        pages[-1] += waiting
    return [page for page in pages if page] or [[]]


def loaded(rows: Sequence[DueRow]) -> list[Instrument]:
    """Return the instruments of some rows, in their order."""
    every = Instrument.objects.select_related("area").prefetch_related("plans")
    known = every.in_bulk([r.pk for r in rows])
    return [known[r.pk] for r in rows]


def undated() -> int:
    """Return how many instruments in service have no plan with a day: nothing makes them due."""
    return unchanged("undated", None, _undated)


def _undated() -> int:
    # Two lists of keys by one index each: a join over all instruments takes ten times as long.
    never = set(Plan.objects.filter(next_due__isnull=True).values_list("instrument_id", flat=True))
    if not never:
        return 0
    dated = Plan.objects.filter(next_due__isnull=False, instrument_id__in=never)
    never -= set(dated.values_list("instrument_id", flat=True))
    found: int = Instrument.objects.filter(pk__in=never, out_of_service__isnull=True).count()
    return found


def names_of(rows: Iterable[DueRow]) -> tuple[list[str], list[str]]:
    """Return the areas in the order of the round, and the kinds by name."""
    every = list(rows)
    return list(dict.fromkeys(r.area for r in every)), sorted({r.family for r in every})
