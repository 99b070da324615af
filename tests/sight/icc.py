"""A colour profile made by hand: three primaries and one curve (ICC.1:2001-04, a matrix profile of version 2)."""

from __future__ import annotations

import struct

import numpy as np

D50 = (0.9642, 1.0, 0.8249)
BRADFORD = np.array([[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]])
WIDE = ((0.680, 0.320), (0.265, 0.690), (0.150, 0.060))  # primaries of SMPTE EG 432-1
SRGB = ((0.640, 0.330), (0.300, 0.600), (0.150, 0.060))  # IEC 61966-2-1
WHITE = (0.3127, 0.3290)  # D65


def to_xyz(primaries: tuple[tuple[float, float], ...]) -> np.ndarray:
    """Linear RGB to XYZ under D65, white at Y = 1."""
    columns = np.array([[x / y, 1.0, (1 - x - y) / y] for x, y in primaries]).T
    white = np.array([WHITE[0] / WHITE[1], 1.0, (1 - sum(WHITE)) / WHITE[1]])
    return columns * np.linalg.solve(columns, white)


def profile(primaries: tuple[tuple[float, float], ...] = WIDE, gamma: float = 2.2) -> bytes:
    """The profile, as a photo carries it."""
    white = np.array([WHITE[0] / WHITE[1], 1.0, (1 - sum(WHITE)) / WHITE[1]])
    adapt = np.linalg.inv(BRADFORD) @ np.diag((BRADFORD @ D50) / (BRADFORD @ white)) @ BRADFORD
    colorants = (adapt @ to_xyz(primaries)).T

    def fixed(value: float) -> bytes:
        return struct.pack(">i", round(value * 65536))

    def xyz(values: np.ndarray) -> bytes:
        return b"XYZ \0\0\0\0" + b"".join(fixed(v) for v in values)

    curve = b"curv\0\0\0\0" + struct.pack(">IH", 1, round(gamma * 256)) + b"\0\0"
    text = b"made by hand\0"
    description = b"desc\0\0\0\0" + struct.pack(">I", len(text)) + text + b"\0" * 78
    description += b"\0" * (-len(description) % 4)
    tags = {b"desc": description, b"cprt": b"text\0\0\0\0none\0\0\0\0", b"wtpt": xyz(np.array(D50))}
    tags |= {name: xyz(c) for name, c in zip((b"rXYZ", b"gXYZ", b"bXYZ"), colorants, strict=True)}
    tags |= dict.fromkeys((b"rTRC", b"gTRC", b"bTRC"), curve)
    offset = 128 + 4 + 12 * len(tags)
    table, body = struct.pack(">I", len(tags)), b""
    for name, data in tags.items():
        table += name + struct.pack(">II", offset + len(body), len(data))
        body += data
    head = struct.pack(">I4sI4s4s4s", offset + len(body), b"none", 0x02400000, b"mntr", b"RGB ", b"XYZ ") + b"\0" * 12 + b"acsp" + b"\0" * 28
    head += b"".join(fixed(v) for v in D50) + b"\0" * 48
    return head[:128] + table + body


def seen_in_srgb(rgb: np.ndarray, primaries: tuple[tuple[float, float], ...] = WIDE, gamma: float = 2.2) -> np.ndarray:
    """What these values look like in sRGB, by the definitions of both."""
    linear = (rgb / 255.0) ** gamma @ (np.linalg.inv(to_xyz(SRGB)) @ to_xyz(primaries)).T
    linear = linear.clip(0.0, 1.0)
    return np.rint(np.where(linear <= 0.0031308, linear * 12.92, 1.055 * linear ** (1 / 2.4) - 0.055) * 255.0)
