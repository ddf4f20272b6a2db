"""The list of results from before, by which a plant brings its history along."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import datetime
from typing import Any

from django.utils import timezone

from calibration.kernel.errors import InputError
from calibration.kernel.present import entries
from calibration.setup.past import PastForm, wrong_past
from verifyloop.accounts.models import User
from verifyloop.lists.columns import Column, columns_of
from verifyloop.lists.kinds import Row
from verifyloop.plant.models import Instrument, PastResult
from verifyloop.plant.past import COLUMNS, change_result, count_results, enter_results

STEP = 500


class Past:
    """Checks that were done before, as their papers say."""

    id, title, code = "results", "Results from before", "plant.setup"
    keys: tuple[str, ...] = ("tag", "day", "report")

    def columns(self) -> list[Column]:
        """Return the columns of a result."""
        return columns_of(entries(PastForm))

    def records(self) -> Iterator[tuple[str, dict[str, Any]]]:
        """Yield every result, by tag and day."""
        every = PastResult.objects.order_by("instrument__tag", "day", "report")
        for tag, day, *said in every.values_list("instrument__tag", "day", *COLUMNS).iterator():
            record = {"tag": tag, "day": str(day)}
            record |= {name: text for name, text in zip(COLUMNS, said, strict=True) if text}
            yield " ".join([tag, str(day), record.get("report", "")]).strip(), record

    def judge(self, rows: Sequence[Row], before: Mapping[str, dict[str, Any]]) -> Iterable[int]:
        """Say of each row what is wrong with it."""
        tags = set(Instrument.objects.values_list("tag", flat=True))
        today = timezone.localdate()
        for done, row in enumerate(rows, 1):
            tag = str(row.record.get("tag"))
            if tag not in tags:
                said = f"There is no instrument '{tag[:40]}'."
                row.wrong.append(
                    InputError("instrument.unknown", "tag", said, "Set it up first, or by a list.")
                )
            elif row.fate != "unchanged":
                row.wrong += wrong_past(row.record, today)
            if done % STEP == 0:
                yield done

    def store(self, rows: Sequence[Row], actor: User, why: str, now: datetime) -> Iterable[int]:
        """Enter new results in bulk, change others; then let the newest of each count."""
        tags = list(dict.fromkeys(str(r.record["tag"]) for r in rows))
        keys = dict(Instrument.objects.values_list("tag", "pk"))
        new = [r for r in rows if r.fate == "new"]
        for start in range(0, len(new), STEP):
            part = new[start : start + STEP]
            enter_results([(keys[r.record["tag"]], r.record) for r in part], actor, now)
            yield start + len(part)
        for done, row in enumerate((r for r in rows if r.fate == "changed"), len(new) + 1):
            change_result(keys[row.record["tag"]], row.record, actor, why, now)
            if done % STEP == 0:
                yield done
        for start in range(0, len(tags), STEP):
            count_results([keys[t] for t in tags[start : start + STEP]], now)
            yield len(rows)
