"""What an error of a vessel on load cells may come from: how it shows, what tells, what is done."""

from __future__ import annotations

from calibration.runs.cause_rows import CauseRow, table

SOURCE = "field practice of vessel weighing; OIML R 76 for the limits"
ROWS = table(
    CauseRow(
        id="scale_zero_moved",
        label="Zero moved",
        needs="zero after cleaning, insulation",
        looks="zero is off by the same after cleaning, insulation sound",
        excluded="after cleaning the zero is right",
        alike=(
            "build_up",
            "moisture",
        ),
        told_by="after_cleaning",
        remedy="Set the zero with the vessel empty.",
        sets=True,
        source=SOURCE,
    ),
    CauseRow(
        id="build_up",
        label="Something lies in or on the vessel",
        needs="zero after cleaning",
        looks="zero is high and comes back with cleaning",
        excluded="after cleaning the zero is as it was",
        alike=("scale_zero_moved",),
        told_by="after_cleaning",
        remedy="Clean it, then read again; zeroing now would hide what lies there.",
        source=SOURCE,
    ),
    CauseRow(
        id="moisture",
        label="Moisture in cell, cable or box",
        needs="insulation of cells and cable",
        looks="insulation is low and the zero wanders",
        excluded="insulation is above 1000 MΩ",
        alike=("scale_zero_moved",),
        told_by="insulation_mohm",
        remedy="Dry and seal it, or replace cell or cable; zeroing lasts until the weather turns.",
        source=SOURCE,
    ),
    CauseRow(
        id="span_parameter",
        label="Span in the electronics",
        needs="signal of the cells from empty to all weights",
        looks="the signal grew as the data say, and the display did not",
        excluded="the signal grew otherwise than the data say",
        alike=(
            "weights_wrong",
            "cell_signal",
            "piping",
        ),
        told_by="mvv_grown",
        remedy="Set the span with the weight that hangs.",
        sets=True,
        source=SOURCE,
    ),
    CauseRow(
        id="weights_wrong",
        label="The weights are not what they are said to be",
        needs="weights counted again, or another set",
        looks="counted again the span is right",
        excluded="counted again it reads the same",
        alike=(
            "span_parameter",
            "cell_signal",
            "piping",
        ),
        told_by="weights_percent",
        remedy="Count the pieces, read their marks, and run again with all of them.",
        lies_in="reference",
        source=SOURCE,
    ),
    CauseRow(
        id="cell_signal",
        label="Signal of the cells",
        needs="signal of the cells, weights, pipes loosened",
        looks="the signal is off, with weights counted and pipes loose",
        excluded="loosened pipes or counted weights bring it right",
        alike=(
            "piping",
            "weights_wrong",
        ),
        told_by="pipes_free_percent",
        remedy="The cells give another signal than on record: set the span with "
        "the weight, and note the new counts. After a calibration by data "
        "alone look at cable and sensitivity.",
        sets=True,
        source=SOURCE,
    ),
    CauseRow(
        id="piping",
        label="Pipes or supports carry load",
        needs="pipes and stays loosened",
        looks="loosened, the span comes right",
        excluded="loosened, it reads the same",
        alike=("cell_signal",),
        told_by="pipes_free_percent",
        remedy="Free pipes, stays and supports; a span that is set against them "
        "moves with every bolt. Then run again.",
        source=SOURCE,
    ),
    CauseRow(
        id="cell_dead",
        label="A cell without supply",
        needs="each corner by itself",
        looks="one corner counts nothing, and the whole is short",
        excluded="each corner counts",
        remedy="Find the cell whose corner does not count: supply, wire, plug. Then run again.",
        source=SOURCE,
    ),
    CauseRow(
        id="cell_open",
        label="A cell whose signal is open",
        needs="each corner by itself",
        looks="one corner counts nothing, and the rest count more",
        excluded="each corner counts",
        remedy="Find the cell whose corner does not count: its signal wire is "
        "open. A span with the load in the middle looks right all the same. "
        "Then run again.",
        source=SOURCE,
    ),
    CauseRow(
        id="corner_off",
        label="A corner differs",
        needs="each corner by itself",
        looks="one corner differs beyond the limit",
        excluded="the corners agree",
        remedy="Level the support, or trim that cell in the box, then take the corners again.",
        source=SOURCE,
    ),
    CauseRow(
        id="creep",
        label="Creep of a cell",
        needs="reading after it stood",
        looks="the reading creeps under a load that stands",
        excluded="the reading stands",
        remedy="Let it stand and read again; a cell that creeps is overloaded or wet: replace it.",
        source=SOURCE,
    ),
    CauseRow(
        id="no_return",
        label="It does not come back to zero",
        needs="reading after unloading",
        looks="it does not come back to zero",
        excluded="it comes back",
        remedy="Something sticks or has settled: look at stays, bumpers and feet, then again.",
        source=SOURCE,
    ),
)
