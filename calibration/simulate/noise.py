"""Repeatable noise: the same seed, channel and instant always give the same value."""

from __future__ import annotations

import hashlib
import math
import struct


def uniform(seed: int, channel: str, index: int) -> float:
    """Return a number in (0, 1) that depends on nothing but its arguments."""
    text = f"{seed}:{channel}:{index}".encode()
    (bits,) = struct.unpack("<Q", hashlib.blake2b(text, digest_size=8).digest())
    return float(bits + 0.5) / 2.0**64


def gaussian(seed: int, channel: str, index: int) -> float:
    """Return a standard normal number (Box and Muller 1958) that depends on its arguments."""
    radius = math.sqrt(-2 * math.log(uniform(seed, channel + "/r", index)))
    return radius * math.cos(2 * math.pi * uniform(seed, channel + "/a", index))
