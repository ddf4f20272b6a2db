"""What an error of such an analyzer may come from: how it shows, what tells, what is done."""

from __future__ import annotations

from calibration.runs.cause_rows import CauseRow, table

SOURCE = "field practice of extractive analysis; Dalton for pressures, the molar balance for parts"
ROWS = table(
    CauseRow(
        id="air_drawn_in",
        label="Air drawn into the mixture",
        needs="oxygen beside the others, with a good overflow",
        looks="all parts are low, oxygen is high, and both go with more flow",
        excluded="with a good overflow it reads the same",
        alike=("cell_pressure",),
        told_by="overflow",
        remedy="Find where it draws air: more flow at the tee, tight fittings, a "
        "free outlet. Then read again; setting would hide it.",
        lies_in="test",
        source=SOURCE,
    ),
    CauseRow(
        id="cell_pressure",
        label="Pressure in the cells",
        needs="all components, with a good overflow",
        looks="all parts are off by the same share whatever the overflow",
        excluded="with a good overflow it comes right",
        alike=("air_drawn_in",),
        told_by="overflow",
        remedy="Look at the outlet: bent, wet or shared line. Bring the cells to "
        "the pressure of the process, then read again.",
        lies_in="test",
        source=SOURCE,
    ),
    CauseRow(
        id="mix_zero_moved",
        label="Zero moved",
        needs="zero gas",
        looks="one component is off by the same in zero gas",
        excluded="zero gas reads zero",
        remedy="Set its zero.",
        sets=True,
        source=SOURCE,
    ),
    CauseRow(
        id="mix_span_moved",
        label="Span moved",
        needs="another mixture, or a gas of it alone",
        looks="one component is off by the same share in another mixture",
        excluded="another mixture reads right",
        alike=(
            "mix_part_wrong",
            "mix_cross",
        ),
        told_by="other",
        remedy="Set its span.",
        sets=True,
        source=SOURCE,
    ),
    CauseRow(
        id="mix_cross",
        label="Another component disturbs",
        needs="a gas of it alone",
        looks="the error goes when it is read alone",
        excluded="alone it is off as before",
        alike=("mix_span_moved",),
        told_by="single",
        remedy="Set the component that disturbs first, then read this one again; "
        "its compensation is set as the manual says.",
        source=SOURCE,
    ),
    CauseRow(
        id="mix_part_wrong",
        label="This part of the mixture",
        needs="another mixture",
        looks="another mixture reads right",
        excluded="another mixture is off by the same share",
        alike=("mix_span_moved",),
        told_by="other",
        remedy="Put this mixture aside; read another one before anything is set.",
        source=SOURCE,
    ),
    CauseRow(
        id="mix_air",
        label="The air is poor or rich in oxygen",
        needs="another instrument in the same air",
        looks="another instrument reads the same air otherwise than usual",
        excluded="another instrument reads usual air",
        alike=("mix_span_moved",),
        told_by="air",
        remedy="Leave if others may be at risk. Bring good air to it, from "
        "outdoors or a cylinder, and read it again; nothing is set in this "
        "air.",
        source=SOURCE,
    ),
)
