"""Gases with molar mass and two published sets of lower explosive limits.

Molar masses from the IUPAC standard atomic weights (2021). The limits of the two standards differ:
a site picks one set, and every %LEL figure says which. Where the site's own procedure or the gas
certificate gives another limit, that one is typed instead. The values were entered from memory of
the two tables and are [to be checked] against the edition that the site holds.
"""

from __future__ import annotations

from typing import Literal, NamedTuple

from calibration.kernel.errors import InputError

LelSet = Literal["IEC", "NFPA"]
SETS = {
    "IEC": "ISO/IEC 80079-20-1",
    "NFPA": "NFPA 325",
}


class Gas(NamedTuple):
    """Molar mass [g/mol] and lower explosive limits [% volume]; none for gases that do not burn."""

    molar_mass: float
    iec: float | None = None
    nfpa: float | None = None


GASES: dict[str, Gas] = {
    "acetone": Gas(58.080, 2.5, 2.5),
    "acetylene": Gas(26.038, 2.3, 2.5),
    "ammonia": Gas(17.031, 15.0, 15.0),
    "benzene": Gas(78.114, 1.2, 1.2),
    "butane": Gas(58.124, 1.4, 1.9),
    "carbon dioxide": Gas(44.009),
    "carbon monoxide": Gas(28.010, 10.9, 12.5),
    "chlorine": Gas(70.90),
    "ethane": Gas(30.070, 2.4, 3.0),
    "ethanol": Gas(46.069, 3.1, 3.3),
    "ethylene": Gas(28.054, 2.3, 2.7),
    "hexane": Gas(86.178, 1.0, 1.1),
    "hydrogen": Gas(2.016, 4.0, 4.0),
    "hydrogen sulfide": Gas(34.08, 4.0, 4.0),
    "isobutane": Gas(58.124, 1.3, 1.8),
    "methane": Gas(16.043, 4.4, 5.0),
    "methanol": Gas(32.042, 6.0, 6.0),
    "nitric oxide": Gas(30.006),
    "nitrogen": Gas(28.014),
    "nitrogen dioxide": Gas(46.005),
    "oxygen": Gas(31.998),
    "pentane": Gas(72.151, 1.1, 1.5),
    "propane": Gas(44.097, 1.7, 2.1),
    "propylene": Gas(42.081, 2.0, 2.0),
    "sulfur dioxide": Gas(64.06),
    "toluene": Gas(92.141, 1.0, 1.1),
}
GasName = Literal[
    "acetone",
    "acetylene",
    "ammonia",
    "benzene",
    "butane",
    "carbon dioxide",
    "carbon monoxide",
    "chlorine",
    "ethane",
    "ethanol",
    "ethylene",
    "hexane",
    "hydrogen",
    "hydrogen sulfide",
    "isobutane",
    "methane",
    "methanol",
    "nitric oxide",
    "nitrogen",
    "nitrogen dioxide",
    "oxygen",
    "pentane",
    "propane",
    "propylene",
    "sulfur dioxide",
    "toluene",
]


def published_lel(gas: GasName, lel_set: LelSet) -> float | None:
    """Return the lower explosive limit of a set; none for a gas that does not burn. [% volume]

    >>> published_lel("methane", "IEC"), published_lel("methane", "NFPA")
    (4.4, 5.0)
    """
    entry = GASES[gas]
    return entry.iec if lel_set == "IEC" else entry.nfpa


def lel_needed(gas: GasName | None, own: float | None, lel_set: LelSet, field: str) -> float:
    """Return the limit typed, or the published one. [% volume]

    Raises
    ------
    InputError
        ``lel.needed``, ``lel.not_positive``.

    >>> lel_needed("methane", None, "NFPA", "lel"), lel_needed("methane", 4.2, "NFPA", "lel")
    (5.0, 4.2)
    """
    found = own if own is not None else published_lel(gas, lel_set) if gas else None
    if found is None:
        raise InputError(
            "lel.needed",
            field,
            f"{gas or 'This gas'} has no lower explosive limit in the {lel_set} set.",
            "Type the limit in percent by volume, or choose a gas that burns.",
        )
    if not 0 < found <= 100:
        raise InputError(
            "lel.not_positive",
            field,
            "A lower explosive limit lies above 0 and up to 100 % by volume.",
            "Give it in percent by volume, for example 4.4.",
        )
    return found
