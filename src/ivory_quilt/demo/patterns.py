"""The outlines of the demo suit: a stag-beetle lamplighter's armour, made up for this demo.

Each function draws one piece about its lower left corner, in mm.
"""

import math

from ivory_quilt.demo.drawing import Drawn, Path, Point, disc


def wing_case(name: str, w: float, h: float, bulge: float, scores: int = 0) -> Drawn:
    """Draw half a pair of wing cases: straight along the middle of the back, curved outside."""
    path = Path(0, 0.06 * h).curve((0.25 * w, -0.03 * h), (0.55 * w, 0.05 * h), (0.72 * w, 0.2 * h))
    path.curve((w * (1 + bulge), 0.42 * h), (w, 0.72 * h), (0.78 * w, 0.9 * h))
    path.curve((0.6 * w, 1.02 * h), (0.2 * w, h), (0, 0.97 * h))
    lines = []
    for k in range(1, scores + 1):
        x = w * k / (scores + 1.6)
        lines.append(
            Path(x, 0.16 * h).curve((x * 1.12, 0.4 * h), (x * 1.12, 0.7 * h), (x, 0.9 * h)).open()
        )
    return Drawn(name, path.close(), (w * (1 + bulge / 2), h * 1.01), [], lines)


def band(name: str, w: float, h: float, sag: float, holes: int = 0) -> Drawn:
    """Draw a belly band: two arcs, ends tapered, with lacing holes at both ends."""
    path = Path(0, sag).curve((0.3 * w, -0.35 * sag), (0.7 * w, -0.35 * sag), (w, sag))
    path.to((0.985 * w, sag + 0.86 * h))
    path.curve((0.7 * w, h - 0.2 * sag), (0.3 * w, h - 0.2 * sag), (0.015 * w, sag + 0.86 * h))
    dots = []
    for k in range(holes):
        y = sag + 0.86 * h * (k + 1) / (holes + 1)
        dots += [disc(14, y, 3), disc(w - 14, y, 3)]
    return Drawn(name, path.close(), (w, h + sag), dots)


def gore(name: str, w: float, h: float) -> Drawn:
    """Draw one gore of a cap: pointed at the top, gently curved at the foot."""
    path = Path(0, 0.08 * h).curve((0.3 * w, 0), (0.7 * w, 0), (w, 0.08 * h))
    path.curve((0.95 * w, 0.5 * h), (0.72 * w, 0.85 * h), (0.5 * w, h))
    path.curve((0.28 * w, 0.85 * h), (0.05 * w, 0.5 * h), (0, 0.08 * h))
    return Drawn(name, path.close(), (w, h))


def cuff(
    name: str, low: float, high: float, h: float, holes: int = 0, *, score: bool = True
) -> Drawn:
    """Draw a flattened cone: a cuff, wider at the top, with lacing holes along both edges."""
    d = (high - low) / 2
    path = Path(d, 0).curve((d + 0.3 * low, -0.06 * h), (d + 0.7 * low, -0.06 * h), (d + low, 0))
    path.to((high, 0.93 * h))
    path.curve((0.7 * high, 0.86 * h), (0.3 * high, 0.86 * h), (0, 0.93 * h))
    dots = []
    for k in range(holes):
        t = (k + 0.7) / (holes + 0.4)
        y, inset = 0.93 * h * t, 12.0
        dots += [disc(d * (1 - t) + inset, y, 2.5), disc(d + low + d * t - inset, y, 2.5)]
    lines = [Path(high / 2, 0.06 * h).to((high / 2, 0.78 * h)).open()] if score else []
    return Drawn(name, path.close(), (high, h), dots, lines)


def mandible(name: str, w: float, h: float) -> Drawn:
    """Draw a stag beetle's jaw: a hooked horn with two teeth and a mounting hole."""
    path = Path(0.05 * w, 0).to((0.42 * w, 0))
    path.curve((0.5 * w, 0.2 * h), (0.42 * w, 0.3 * h), (0.5 * w, 0.4 * h))
    path.to((0.7 * w, 0.38 * h), (0.6 * w, 0.48 * h))
    path.curve((0.62 * w, 0.6 * h), (0.68 * w, 0.62 * h), (0.72 * w, 0.68 * h))
    path.to((0.92 * w, 0.66 * h), (0.84 * w, 0.76 * h))
    path.curve((0.92 * w, 0.86 * h), (0.98 * w, 0.94 * h), (w, h))
    path.curve((0.6 * w, 0.98 * h), (0.22 * w, 0.8 * h), (0.1 * w, 0.5 * h))
    path.curve((0.02 * w, 0.3 * h), (0, 0.12 * h), (0.05 * w, 0))
    return Drawn(name, path.close(), (w, h), [disc(0.24 * w, 0.1 * h, 5)])


def horn(name: str, length: float, base: float, lean: float = 0.35) -> Drawn:
    """Draw one layer of a curved horn."""
    path = Path(0, 0).to((base, 0))
    path.curve(
        (base * 1.05, 0.4 * length),
        (base * (0.9 + lean), 0.7 * length),
        (base * (1 + lean * 2), length),
    )
    path.curve((base * (0.4 + lean), 0.85 * length), (base * 0.05, 0.5 * length), (0, 0))
    return Drawn(name, path.close(), (base * (1 + lean * 2), length))


def leaf(name: str, w: float, length: float) -> Drawn:
    """Draw a pole's blade: pointed, widest a third of its way up."""
    path = Path(0.3 * w, 0).to((0.7 * w, 0))
    path.curve((0.78 * w, 0.1 * length), (1.12 * w, 0.22 * length), (w, 0.36 * length))
    path.curve((0.95 * w, 0.6 * length), (0.75 * w, 0.85 * length), (w / 2, length))
    path.curve((0.25 * w, 0.85 * length), (0.05 * w, 0.6 * length), (0, 0.36 * length))
    path.curve((-0.12 * w, 0.22 * length), (0.22 * w, 0.1 * length), (0.3 * w, 0))
    return Drawn(name, path.close(), (w * 1.04, length))


def strip(name: str, length: float, w: float, tip: float = 0.0) -> Drawn:
    """Draw a strip, with one slanted end where `tip` is given."""
    path = Path(0, 0).to((length, 0), (length - tip, w), (0, w))
    return Drawn(name, path.close(), (length, w))


def spike(name: str, side: float, slant: float, sides: int = 3) -> Drawn:
    """Draw the fan of a hollow spike: `sides` triangles about one tip."""
    apex = 2 * math.asin(side / (2 * slant))
    total = apex * sides
    start = math.pi / 2 - total / 2 - math.pi
    rim: list[Point] = [
        (slant * math.cos(start + apex * k), slant * math.sin(start + apex * k))
        for k in range(sides + 1)
    ]
    x0, y0 = min(0.0, *(p[0] for p in rim)), min(0.0, *(p[1] for p in rim))
    moved = [(x - x0, y - y0) for x, y in rim]
    path = Path(-x0, -y0).to(*moved)
    size = (max(p[0] for p in moved), max(-y0, *(p[1] for p in moved)))
    lines = [Path(-x0, -y0).to(p).open() for p in moved[1:-1]]
    return Drawn(name, path.close(), size, [], lines)


def ring(name: str, outer: float, inner: float) -> Drawn:
    """Draw a ring."""
    hole = [disc(outer, outer, inner)] if inner else []
    return Drawn(name, disc(outer, outer, outer), (2 * outer, 2 * outer), hole)


def lozenge(name: str, w: float, h: float, hole: float = 0.0) -> Drawn:
    """Draw a lozenge with hollow sides and a hole in the middle."""
    path = Path(w / 2, 0).curve((0.6 * w, 0.3 * h), (0.75 * w, 0.42 * h), (w, h / 2))
    path.curve((0.75 * w, 0.58 * h), (0.6 * w, 0.7 * h), (w / 2, h))
    path.curve((0.4 * w, 0.7 * h), (0.25 * w, 0.58 * h), (0, h / 2))
    path.curve((0.25 * w, 0.42 * h), (0.4 * w, 0.3 * h), (w / 2, 0))
    return Drawn(name, path.close(), (w, h), [disc(w / 2, h / 2, hole)] if hole else [])


def collar(name: str, w: float, h: float, neck: float) -> Drawn:
    """Draw half a collar as a crescent around the neck."""
    path = Path(0, 0.55 * h).curve((0.02 * w, 0.1 * h), (0.3 * w, 0), (0.5 * w, 0))
    path.curve((0.7 * w, 0), (0.98 * w, 0.1 * h), (w, 0.55 * h))
    path.to((w - 0.12 * w, h))
    a, b = (w - neck) / 2, (w + neck) / 2
    path.curve((b, 0.45 * h), (b - 0.2 * neck, 0.36 * h), (w / 2, 0.36 * h))
    path.curve((a + 0.2 * neck, 0.36 * h), (a, 0.45 * h), (0.12 * w, h))
    return Drawn(name, path.close(), (w, h))


def scute(name: str, w: float, h: float, dart: float = 0.0) -> Drawn:
    """Draw a rounded plate; `dart` cuts a V into its foot, so that it can be cupped."""
    path = Path(0.12 * w, 0.1 * h)
    path.curve((0.25 * w, 0), (0.4 * w, 0), (w / 2 - dart / 2, 0.02 * h))
    if dart:
        path.to((w / 2, 0.3 * h), (w / 2 + dart / 2, 0.02 * h))
    path.curve((0.6 * w, 0), (0.75 * w, 0), (0.88 * w, 0.1 * h))
    path.curve((1.04 * w, 0.5 * h), (0.95 * w, 0.9 * h), (w / 2, h))
    path.curve((0.05 * w, 0.9 * h), (-0.04 * w, 0.5 * h), (0.12 * w, 0.1 * h))
    return Drawn(name, path.close(), (w * 1.04, h))
