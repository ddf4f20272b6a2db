"""Causes at a mass flow meter: names, what is done, and what tells those apart that look alike."""

from __future__ import annotations

from calibration.families.shared.apart import Telling

CAUSES = {
    "zero_moved": "Zero moved",
    "valve_leaks": "A valve lets through",
    "gas_in_it": "Gas in the liquid",
    "not_full": "Not full",
    "solids_in_it": "Solids in the liquid",
    "crosstalk": "Another vibration beats with it",
    "tube_coated": "Coating on the tubes",
    "another_fluid": "Another liquid than usual",
    "runs_differ": "The runs do not repeat",
    "factor_moved": "Meter factor",
    "quantity_wrong": "The reference quantity",
}
TELLS = {
    t.id: t
    for t in (
        Telling(
            id="zero_at_pressure",
            label="Live zero at four times the pressure across the valve",
            unit="kg/h",
            tells="Raise the pressure before the shut valve about fourfold, read the live zero "
            "again: what leaks through doubles, a moved zero stays.",
        ),
        Telling(
            id="pressure_before",
            label="Pressure across the shut valve when the zero was read",
            unit="bar",
            tells="What leaks is driven by it.",
        ),
        Telling(
            id="pressure_other",
            label="Pressure across it now, raised as far as it goes",
            unit="bar",
            tells="Fourfold tells best; what is there is typed, and counted.",
        ),
        Telling(
            id="zero_at_other",
            label="Live zero at that pressure",
            unit="kg/h",
            tells="Raise the pressure before the shut valve as far as it goes, and read the live "
            "zero again: what leaks grows with the root of the pressure or faster, a moved zero "
            "stays.",
        ),
        Telling(
            id="density_later",
            label="Density after it stood ten minutes more",
            unit="kg/m³",
            tells="Let it stand: gas rises out and the density comes up, solids settle and it "
            "goes on falling.",
        ),
        Telling(
            id="sample_density",
            label="Density of a sample, at the same temperature",
            unit="kg/m³",
            tells="Weigh a sample: another liquid has the density that is shown, a coated tube "
            "shows more than the sample has.",
        ),
        Telling(
            id="reference_off",
            label="The reference says too much by, checked with a weight or another meter",
            unit="%",
            tells="Check the reference itself: what it says too much of a known weight, or against "
            "another meter. Then the rest is the meter's own.",
        ),
    )
}
REMEDIES = {
    "zero_moved": "Zero it under these conditions, and verify the new zero.",
    "valve_leaks": "Find the valve that passes: shut it tight, or shut the next one. Then verify "
    "again; zeroing now would store the leak.",
    "gas_in_it": "Let flow carry the gas out, or raise the pressure, then block it in again.",
    "not_full": "Fill it: it must be full of liquid, with no pocket at the top.",
    "solids_in_it": "Flush it, then block it in again; a zero over solids means nothing.",
    "crosstalk": "Look for a pump or another meter that shakes it: stop that one and read again; "
    "supports and drive frequency as the manual says.",
    "tube_coated": "The density is wrong, the zero is not: clean as the site's procedure says.",
    "another_fluid": "The liquid is another one: the zero stands; note it.",
    "runs_differ": "Find why they differ: gas, a valve that passes, a start that is not still. No "
    "factor is taken from these runs.",
    "factor_moved": "Set the meter factor from these runs, then prove it again.",
    "quantity_wrong": "Put this reference aside; prove it against another one.",
}
#: What setting cures; what lies in the test; what lies in the reference.
SET = ("zero_moved", "factor_moved")
TEST = ("valve_leaks", "gas_in_it", "not_full", "solids_in_it", "crosstalk", "runs_differ")
REFERENCE = ("quantity_wrong",)
