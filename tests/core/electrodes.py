"""pH loops played by the virtual technician: acid side with technical buffers, or primary ones."""

from __future__ import annotations

from dataclasses import replace

from calibration.analyzers.ph import nernst_slope
from calibration.analyzers.ph.buffers import SHIPPED, value_at
from calibration.engine.method.family import newest
from calibration.families.ph.electrode import ElectrodeModel
from calibration.families.ph.rig import Poured
from calibration.simulate.technician import Technician
from tests.core.families import Visit, asset

BUFFERS = {
    "technical": ("7.00", "4.01", "9.18"),
    "primary": ("6.865", "4.006", "9.180"),
}
ROLES = ("buffer_near", "buffer_side", "buffer_third")


def facts(side="acid", process="3.4", set_="technical", **more):
    return {
        "tag": "AT-1",
        "serial": "S-77",
        "description": "Juice to filling",
        "area": "Juice house",
        "loop_role": "control",
        "input_unit": "pH",
        "input_lower": "0",
        "input_upper": "14",
        "output_unit": "mA",
        "output_lower": "4",
        "output_upper": "20",
        "tolerance": {"absolute": "0.1"},
        "tolerance_source": "loop data sheet",
        "smart": True,
        "indicated": True,
        "buffer_set": set_,
        "process_ph": process,
        "side": side,
        "mounting": "flow-through",
        "slope_percent": "98.0",
        "offset_mv": "-3.0",
        "settings": [{"name": "buffer_set", "value": set_, "label": "Buffer set"}],
        **more,
    }


def bottle(nominal, set_="technical", **more):
    return {
        "asset": f"B-{nominal}",
        "description": f"Buffer {nominal}",
        "serial": "1",
        "quantity": "ph_buffer",
        "unit": "pH",
        "spec": {"absolute": "0.02", "full_scale": "14"},
        "certificate": "C-1",
        "calibrated_on": "2026-01-01",
        "due_on": "2027-01-01",
        "set": set_,
        "nominal": nominal,
        "lot": "L-1",
        "opened_on": "2026-04-20",
        **more,
    }


def thermometer():
    return {
        **asset("temperature"),
        "asset": "R-T",
        "quantity": "buffer_temperature",
        "unit": "°C",
        "spec": {"absolute": "0.3", "full_scale": "100"},
    }


def counted_by(set_, poured, model):
    """Return slope and offset that an analyzer has after counting poured buffers by a set."""
    warm = model.room_c
    theory = nernst_slope(warm)
    tables = {t.nominal: value_at(t, warm, "t") for t in SHIPPED}
    known = [value_at(t, warm, "t") for t in SHIPPED if t.set == set_]
    points = []
    for nominal in poured:
        ph = tables[nominal]
        mv = model.slope * theory * (ph - 7) + model.offset_mv
        points.append((min(known, key=lambda v: abs(v - ph)), mv))
    (a, mv_a), (b, mv_b) = points
    per_ph = (mv_b - mv_a) / (b - a)
    return per_ph / theory, mv_a + per_ph * (7 - a)


class PhVisit(Visit):
    """One job on a pH loop from plan to signature."""

    def __init__(
        self,
        method="ph_buffers",
        seed=5,
        parameters=None,
        facts_=None,
        set_="technical",
        asks=False,
        **faults,
    ):
        given = facts_ or facts(set_=set_)
        self.method = newest(method)
        near, acid, alkaline = BUFFERS[set_]
        side, third = (acid, alkaline) if given["side"] == "acid" else (alkaline, acid)
        chosen = dict(zip(ROLES, (near, side, third), strict=True))
        model = replace(
            ElectrodeModel(process_ph=float(given["process_ph"]), programmed=set_), **faults
        )
        self.person = Technician(
            model,
            seed,
            {
                **{role: bottle(nominal, set_) for role, nominal in chosen.items()},
                "buffer_temperature": thermometer(),
                "current": asset("current"),
            },
            {"operator": "Jo"},
            serial="S-77",
            bottles={role: Poured(set_, nominal) for role, nominal in chosen.items()},
        )
        self.events = []
        self.push(
            "opened",
            job="J-1",
            instrument=given,
            method=self.method.id,
            version=self.method.version,
            parameters={k: {"value": v, "source": "test"} for k, v in (parameters or {}).items()},
            **({"asks": True} if asks else {}),
        )

    def causes(self):
        """Return the causes as found."""
        return list(self.state().as_found.causes)
