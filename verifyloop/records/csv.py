"""The point tables of a certificate as CSV."""

from __future__ import annotations

import csv
import io
from typing import Any

#: What a spreadsheet takes for the beginning of a formula.
FORMULA = tuple("=+-@\t\r")


def as_csv(certificate: dict[str, Any]) -> str:
    """Return the point tables as CSV (RFC 4180), one row per reading."""
    out = io.StringIO()
    writer = csv.writer(out)
    runs = [(run, certificate[run]) for run in ("as_found", "as_left")]
    runs += [(run["title"], run) for run in certificate["extra_runs"]]
    applied, shown = (_unit(runs, f"{way}_unit") for way in ("input", "output"))
    writer.writerow(
        [
            "job",
            "tag",
            "run",
            "nominal_percent",
            "direction",
            "cycle",
            f"applied{applied}",
            f"ideal{shown}",
            f"reading{shown}",
            f"digital{applied}",
            f"indicated{applied}",
            "error_percent_of_span",
            "limit_percent_of_span",
            "uncertainty_percent_of_span",
            "k",
            "decision",
            "mark",
            "source",
            "serial",
            "references",
            "signed_by",
            "signed_at",
            "notes",
            "input_unit",
            "output_unit",
            "error",
            "error_unit",
            "counts_as",
        ]
    )
    job = _of_the_job(certificate)
    for run, content in runs:
        for p in content["points"]:
            writer.writerow(
                [
                    certificate["number"],
                    safe(certificate["instrument"]["tag"]),
                    safe(run),
                    p["nominal_percent"],
                    p["direction"],
                    p["cycle"],
                    _plain(p["applied"]),
                    _plain(p["ideal"]),
                    # Yes or no is no reading; the mark says which.
                    "" if p["numbers"]["reading"] is None else _plain(p["reading"]),
                    *(_plain(p[k]) for k in ("digital", "indicated")),
                    _plain(p["error_percent"]),
                    _plain(p["limit_percent"]).lstrip("±"),
                    _plain(p["uncertainty_percent"]),
                    p["k"],
                    p["decision"],
                    p["mark"],
                    p["source"],
                    *job,
                    content["input_unit"],
                    content["output_unit"],
                    _plain(p["error"]),
                    content["error_unit"],
                    _plain(p.get("counts_as", "")),
                ]
            )
    return out.getvalue()


def _unit(runs: list[tuple[str, dict[str, Any]]], name: str) -> str:
    """Return the unit that all runs share, as the end of a heading; nothing where they differ."""
    units = {run[name] for _, run in runs if run["points"]}
    return f"_{units.pop()}" if len(units) == 1 else ""


def _of_the_job(certificate: dict[str, Any]) -> list[str]:
    """Return what is the same for every reading of a job."""
    performed = certificate["performed"]
    return [
        safe(certificate["instrument"]["serial"]),
        safe(", ".join(r["asset"] for r in certificate["references"])),
        safe(performed["signed_by"]),
        performed["signed_at"],
        safe("; ".join(certificate["notes"])),
    ]


def safe(text: str) -> str:
    """Return text that no spreadsheet takes for a formula."""
    return f"'{text}" if text[:1] in FORMULA else text


def _plain(shown: str) -> str:
    """Return a shown number as software reads it: hyphen for minus, no thin spaces."""
    return shown.replace("\u2212", "-").replace("\u202f", "").lstrip("+")
