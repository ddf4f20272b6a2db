"""What tells causes apart that look alike: one more measurement, and where it is written."""

from __future__ import annotations

from calibration.families.shared.differential import Telling

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
