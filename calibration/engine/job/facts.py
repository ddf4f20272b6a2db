"""What a job knows of its instrument and of its references; frozen when it is opened or chosen."""

from __future__ import annotations

from dataclasses import dataclass, replace
from decimal import Decimal
from functools import cached_property
from typing import Literal

from calibration.decisions.reference import Spec
from calibration.decisions.tolerance import Tolerance
from calibration.kernel.codec import about, swept
from calibration.kernel.own import Own
from calibration.signals.transfer import Characteristic, Transfer


@dataclass(frozen=True, kw_only=True)
class Parameter:
    """A limit or setting of the method, and who says so."""

    value: str = about("as written")
    unit: str = about("unit", default="")
    source: str = about("manual, site rule or product default")


@dataclass(frozen=True, kw_only=True)
class Setting:
    """One setting or dimension of the instrument's record."""

    name: str = about("name")
    value: str = about("as written")
    unit: str = about("unit", default="")
    label: str = about("in words", default="")


@dataclass(frozen=True, kw_only=True)
class RunLimit:
    """What error is allowed in one run of the instrument, where that is another one."""

    run: str = about("run of the method")
    tolerance: Tolerance = about("what error is allowed in it")
    source: str = about("who says so")


@dataclass(frozen=True, kw_only=True)
class InstrumentFacts:
    """What the job must know of the instrument; frozen when the job is opened."""

    tag: str = about("tag")
    serial: str = about("serial number on record")
    maker: str = about("who made it", default="")
    model: str = about("its model", default="")
    description: str = about("what it measures")
    area: str = about("where it is")
    loop_role: Literal["control", "trip", "indication"] = about("what depends on it")
    input_unit: str = about("unit of the input")
    input_lower: Decimal = about("lower range value", unit="input unit")
    input_upper: Decimal = about("upper range value", unit="input unit")
    output_unit: str = about("unit of the output")
    output_lower: Decimal = about("output at the lower range value", unit="output unit")
    output_upper: Decimal = about("output at the upper range value", unit="output unit")
    characteristic: Characteristic = about("shape of the transfer", default="linear")
    tolerance: Tolerance = about("what error is allowed")
    tolerance_source: str = about("who says so")
    run_limits: tuple[RunLimit, ...] = about("limits of single runs", default=())
    smart: bool = about("has a digital value to read", default=False)
    indicated: bool = about("the control room shows its value", default=False)
    rig: bool = about("wired to a simulated rig", default=False)
    sensor: str = about("temperature sensor, e.g. Pt100 or K", default="")
    wires: int = about("wires of a platinum sensor", default=4)
    junction_c: float = about("reference junction, or the room", unit="°C", default=23.0)
    settings: tuple[Setting, ...] = about("settings and dimensions on record", default=())
    indicated_unit: str = about("unit that the control room shows", default="")
    indicated_lower: Decimal | None = about("shown at the lower end", default=None)
    indicated_upper: Decimal | None = about("shown at the upper end", default=None)
    indicated_characteristic: Characteristic = about("root in the receiver", default="linear")
    #: what its family adds, read as the family's own type
    own: Own = swept()

    @cached_property
    def transfer(self) -> Transfer:
        """Return range and characteristic."""
        return Transfer(
            characteristic=self.characteristic,
            input_lower=self.input_lower,
            input_upper=self.input_upper,
            output_lower=self.output_lower,
            output_upper=self.output_upper,
        )

    @cached_property
    def receiver(self) -> Transfer | None:
        """Return what the control room makes of the output; none when it shows the input."""
        if self.indicated_lower is None or self.indicated_upper is None:
            return None
        return Transfer(
            characteristic=self.indicated_characteristic,
            input_lower=self.output_lower,
            input_upper=self.output_upper,
            output_lower=self.indicated_lower,
            output_upper=self.indicated_upper,
        )

    def in_run(self, run: str) -> InstrumentFacts:
        """Return the instrument with the limit that it has in a run."""
        own = next((limit for limit in self.run_limits if limit.run == run), None)
        if own is None:
            return self
        return replace(self, tolerance=own.tolerance, tolerance_source=own.source)

    @property
    def shown_unit(self) -> str:
        """Return the unit of what the control room shows."""
        return self.indicated_unit or self.input_unit

    def setting(self, name: str) -> str:
        """Return a setting on record by name; empty when there is none."""
        return next((s.value for s in self.settings if s.name == name), "")


@dataclass(frozen=True, kw_only=True)
class AssetFacts:
    """A reference as it was when it was chosen."""

    asset: str = about("number of the asset")
    description: str = about("what it is")
    serial: str = about("serial number")
    quantity: str = about("what it measures")
    unit: str = about("its unit")
    spec: Spec = about("its accuracy")
    certificate: str = about("number of its certificate")
    issued_by: str = about("laboratory that issued the certificate", default="")
    calibrated_on: str = about("date of its certificate")
    due_on: str = about("date until which it may be used")
    withdrawn: str = about("why it may not be used; empty when it may", default="")
    #: what a family adds, read as its own type
    own: Own = swept()
