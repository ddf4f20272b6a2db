"""What is read of a run that a device wrote into a file."""

from __future__ import annotations

from decimal import Decimal

from calibration.engine.files.device_file import FileColumn, FileForm, FileRow, serial_of
from calibration.engine.job.reads import Reads
from calibration.families.chromatograph.facts import peaks
from calibration.families.chromatograph.injections import AT
from calibration.families.chromatograph.words import Injection

#: Other names of a gas: formula and older names (IUPAC 2013 recommendations retain ethylene
#: and acetylene beside ethene and ethyne).
ALSO = {
    "hydrogen": ("H2",),
    "carbon monoxide": ("CO",),
    "methane": ("CH4",),
    "carbon dioxide": ("CO2",),
    "ethylene": ("C2H4", "ethene"),
    "ethane": ("C2H6",),
    "acetylene": ("C2H2", "ethyne"),
    "propane": ("C3H8",),
    "propylene": ("C3H6", "propene"),
    "oxygen": ("O2",),
    "nitrogen": ("N2",),
}
COLUMNS = (
    FileColumn(
        id="component",
        label="Component",
        known_as=("gas", "compound", "name", "peak", "substance", "analyte"),
    ),
    FileColumn(
        id="shows",
        label="Shows",
        known_as=("concentration", "conc", "amount", "result", "value", "ppm", "content"),
        units={"ppm": Decimal(1), "ppb": Decimal("0.001"), "% vol": Decimal(10_000)},
    ),
    FileColumn(
        id="at",
        label="Retention time",
        known_as=("retention", "ret time", "rt", "t ret", "at", "time"),
        units={"s": Decimal(1), "min": Decimal(60)},
        required=False,
    ),
)


def form(job: Reads) -> FileForm | None:
    """Return what an injection takes from a file; none at other steps."""
    if not isinstance(job.current, Injection):
        return None
    return FileForm(
        columns=COLUMNS,
        rows=tuple(
            FileRow(
                label=peak.label,
                known_as=(peak.gas, *ALSO.get(peak.gas, ())),
                fields={"shows": peak.id, "at": peak.id + AT},
            )
            for peak in peaks(job.ledger.facts)
        ),
        serial=serial_of(job),
    )
