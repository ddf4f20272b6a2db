"""What two hops of a loop say together: the receiver by itself, or the meter between them."""

from __future__ import annotations

from decimal import Decimal

from calibration.kernel import fits
from calibration.kernel.numbers import HUNDRED, to_float
from calibration.kernel.rounding import show
from calibration.runs.causes import Cause, cause
from calibration.runs.chain import ChainReading, LocateIn, locate
from calibration.signals.transfer import Transfer, percent_of_input_span

#: Two hops that take each other back leave at most this share of what each adds.
LEFT_OVER = Decimal("0.25")
#: So far apart must two points lie before a picture over the range is one. [% of input span]
APART = Decimal(50)


def meter_in_doubt(request: LocateIn) -> Cause | None:
    """Name the meter in the loop, where output and receiver take each other's error back.

    A meter that reads high by so much makes the output look high by it, and the receiver low: so
    do two hops that are wrong against each other. Only a second look at the current tells.

    Returns
    -------
    Cause or None
        None where one of both was not read at two points far apart, where neither is outside the
        limit, or where they do not take each other back.

    References
    ----------
    The error of a chain is the sum of what its hops add; that of the meter enters two of them
    with opposite signs.

    >>> from calibration.decisions.tolerance import Tolerance
    >>> pump = {"input_lower": Decimal(0), "input_upper": Decimal(1600),
    ...         "output_lower": Decimal(4), "output_upper": Decimal(20),
    ...         "indicated_lower": Decimal(0), "indicated_upper": Decimal(1600)}
    >>> read = [ChainReading(applied=Decimal(p), output=Decimal(ma), indicated=Decimal(room))
    ...         for p, ma, room in (("0", "4.021", "0.3"), ("1600.2", "20.097", "1600.7"))]
    >>> meter_in_doubt(LocateIn(**pump, tolerance=Tolerance(percent_of_span=Decimal("0.5")),
    ...                         readings=tuple(read))).evidence[:38]
    'Output +0.59 and control room −0.56 %,'
    """
    if request.receiver is None or not request.readings:
        return None
    hops = locate(request).hops
    ways = [h for h in hops[:-1] if h.name in ("output", "transmitter")]
    if not ways or hops[-1].name != "receiver" or (ways[-1].within and hops[-1].within):
        return None
    both = [
        (percent_of_input_span(request, r.applied), out, shown)
        for r, out, shown in zip(
            request.readings, ways[-1].errors_percent, hops[-1].errors_percent, strict=True
        )
        if out is not None and shown is not None
    ]
    at = [place for place, _, _ in both]
    if not both or max(at) - min(at) < APART:
        return None
    _, out, shown = max(both, key=lambda one: abs(one[1]))
    left = max((o + s for _, o, s in both), key=abs)
    if out * shown >= 0 or abs(left) > LEFT_OVER * min(abs(out), abs(shown)):
        return None
    said = [show(v, 2, sign=True) for v in (out, shown, left)]
    return cause(
        "meter_in_doubt",
        to_float(out),
        f"Output {said[0]} and control room {said[1]} %, nearly equal and opposite; together "
        f"{said[2]} %. Two good hops and a meter that is off would look the same.",
    )


def receiver_cause(request: LocateIn) -> Cause | None:
    """Name what the receiver does with the signal, when it is that which is wrong.

    Returns
    -------
    Cause or None
        A root that is missing or taken twice, or a scaling error; none when the receiver is
        within the limit or was not read.

    References
    ----------
    ISO 5167-1: flow goes with the root of differential pressure, taken once.

    >>> from calibration.decisions.tolerance import Tolerance
    >>> pump = {"input_lower": Decimal(0), "input_upper": Decimal(1600),
    ...         "output_lower": Decimal(4), "output_upper": Decimal(20)}
    >>> receiver_cause(LocateIn(**pump, tolerance=Tolerance(percent_of_span=Decimal("0.5")),
    ...                         readings=())) is None
    True
    """
    if request.receiver is None:
        return None
    hops = [h for h in locate(request).hops if h.name == "receiver"]
    if not hops or hops[0].within:
        return None
    receiver = request.receiver
    rooted = receiver.characteristic == "square_root"
    pairs = [
        (HUNDRED * (r.output - receiver.input_lower) / receiver.input_span, _shown(receiver, r))
        for r, e in zip(request.readings, hops[0].errors_percent, strict=True)
        if r.output is not None and r.indicated is not None and e is not None
    ]
    as_set = [to_float(shown - (_root(at) if rooted else at)) for at, shown in pairs]
    as_other = [to_float(shown - (at if rooted else _root(at))) for at, shown in pairs]
    worst = to_float(hops[0].max_error_percent)
    other = fits.root_mean_square(as_other)
    if len(pairs) > 2 and other < 0.2 * fits.root_mean_square(as_set):
        return _root_cause(rooted, worst)
    return cause(
        "receiver_scaling",
        worst,
        "The signal is right and the value shown does not belong to it.",
    )


def _shown(receiver: Transfer, reading: ChainReading) -> Decimal:
    shown = reading.indicated if reading.indicated is not None else receiver.output_lower
    return HUNDRED * (shown - receiver.output_lower) / receiver.output_span


def _root(percent: Decimal) -> Decimal:
    return 10 * percent.sqrt() if percent > 0 else Decimal(0)


def _root_cause(rooted: bool, worst: float) -> Cause:
    if rooted:
        return cause(
            "root_missing",
            worst,
            "What is shown follows the signal in a straight line; the receiver should take the "
            "root, and nobody does.",
        )
    return cause(
        "root_twice",
        worst,
        "What is shown follows the root of a signal that is a root already: flow is shown far "
        "too high.",
    )
