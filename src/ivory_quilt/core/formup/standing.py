"""Formed groups where they are worn on the figure, and what lies between them."""

import math

import numpy as np

from ivory_quilt.core.formup.assembly import Array
from ivory_quilt.core.formup.choices import Worn
from ivory_quilt.core.formup.outcome import FormedShape
from ivory_quilt.core.formup.skin import facing, looks
from ivory_quilt.core.measure.body import BodyPart
from ivory_quilt.core.measure.figure import Limb, WearerFigure
from ivory_quilt.core.record import Struct, replace

AROUND = 0.2  # of all faces: where less looks one way, a group goes all round
INSIDE = 12.0  # times as bad: what stands in the body, beside what stands off it
REACH = 400.0  # mm: how far a group is moved at most
NEAR = 40.0  # mm: groups farther apart than this have nothing to do with each other
POINTS = 150  # of a group that are looked at
BESIDE = 30.0  # degrees: what there are two of stands that far from the middle of the body

MIDDLE = (BodyPart.HEAD, BodyPart.TORSO)
# Words of names, and where such a piece is worn: the first that fits. From memory, no source.
WORDS: tuple[tuple[str, Worn | None], ...] = (
    ("pole|lantern|staff|blade|strap|practice", None),
    ("helm|head|eye|horn|crest|mandible|mask|visor|cheek|brow", Worn(BodyPart.HEAD, 0.6)),
    ("collar|gorget|neck", Worn(BodyPart.TORSO, 0.97)),
    ("shoulder|pauldron", Worn(BodyPart.UPPER_ARM, 0.95, 90)),
    ("elbow", Worn(BodyPart.FOREARM, 0.98, 180)),
    ("upper arm|rerebrace", Worn(BodyPart.UPPER_ARM, 0.5, 90)),
    ("hand|gauntlet|glove", Worn(BodyPart.FOREARM, -0.12, 90)),
    ("forearm|bracer|vambrace|arm", Worn(BodyPart.FOREARM, 0.5, 90)),
    ("wing|back|dorsal|scutellum", Worn(BodyPart.TORSO, 0.72, 180)),
    ("belt", Worn(BodyPart.TORSO, 0.28)),
    ("belly|waist", Worn(BodyPart.TORSO, 0.4)),
    ("breast|chest|front", Worn(BodyPart.TORSO, 0.72)),
    ("tasset|hip", Worn(BodyPart.TORSO, 0.05, 90)),
    ("knee", Worn(BodyPart.SHIN, 0.98)),
    ("thigh|cuisse", Worn(BodyPart.THIGH, 0.5)),
    ("shin|greave|calf|leg", Worn(BodyPart.SHIN, 0.5)),
)


def worn_by_name(name: str, *, pair: bool = False) -> Worn | None:
    """Return where a piece of this name is likely worn; None where the name says nothing.

    The two of a pair stand to both sides of the body's middle.
    """
    for words, worn in WORDS:
        if not any(word in name.lower() for word in words.split("|")):
            continue
        if worn is not None and pair and worn.part in MIDDLE and worn.turn in (0.0, 180.0):
            return replace(worn, turn=abs(worn.turn - BESIDE))
        return worn
    return None


class WornGroup(Struct, frozen=True, eq=False):
    """A formed group on the figure: `shape` in the figure's axes."""

    name: str
    side: int
    worn: Worn
    shape: FormedShape

    @property
    def title(self) -> str:
        """Its name, with its side where there are two."""
        return self.name + {1: ", right", -1: ", left", 0: ""}[self.side]

    def points(self) -> tuple[Array, Array]:
        """Return points all over it, `(n, 3)`, and half the thickness there, `(n,)`."""
        spots = np.vstack([p.places for p in self.shape.panels])
        half = np.concatenate([np.full(len(p.places), p.thickness / 2) for p in self.shape.panels])
        step = max(1, len(spots) // POINTS)
        return spots[::step], half[::step]


def stand(
    name: str, shape: FormedShape, figure: WearerFigure, worn: Worn, side: int, drawn: int = -1
) -> WornGroup:
    """Put a formed group where it is worn.

    Its first piece stands upright along the part of the body; what goes all round goes around its
    middle, what does not lies on it with its inner face.

    Args:
        name: of the group.
        shape: as it was formed.
        figure: the wearer.
        worn: where it goes; on the left, turns are the other way round.
        side: 1 right, -1 left, 0 where there is one.
        drawn: the side that the shape is of: on the other one it is mirrored.
    """
    limb = figure.limb(worn.part, side)
    way = side if side else -1
    turn = math.radians(worn.turn) * -way  # to the wearer's left counts up; x is to the right
    right, front, up = limb.frame
    out = math.cos(turn) * front - math.sin(turn) * right
    across = np.cross(up, out)
    local = facing(shape)
    flips = side == -drawn
    if flips:
        local = local * (-1.0, 1.0, 1.0)  # columns: to the viewer's right, up, to the viewer
    spots = [p.places @ local for p in shape.panels]
    every = np.vstack(spots)
    middle = (every.min(0) + every.max(0)) / 2
    basis = np.stack([across, up, out])
    at = limb.low + limb.up * worn.height * limb.length
    rough = [at + (s - middle) @ basis for s in spots]
    shift = np.zeros(3) if _all_round(shape) else out * _laid_on(np.vstack(rough), limb, out, shape)
    panels = [
        replace(
            p,
            places=r + shift,
            triangles=p.triangles[:, ::-1] if flips else p.triangles,
        )
        for p, r in zip(shape.panels, rough, strict=True)
    ]
    return WornGroup(name, side, worn, replace(shape, panels=tuple(panels)))


def _all_round(shape: FormedShape) -> bool:
    total, whole = looks(shape)
    return float(np.linalg.norm(total)) < AROUND * whole


def _laid_on(spots: Array, limb: Limb, out: Array, shape: FormedShape) -> float:
    """Return how far a group is moved outwards so that it lies on a limb best, mm.

    The squares of what it stands off are least; what stands in the limb counts far more.
    """
    half = min(p.thickness for p in shape.panels) / 2
    frame = limb.frame
    some = (spots[:: max(1, len(spots) // POINTS)] - limb.low) @ frame.T
    way = out @ frame.T

    def best_of(moves: Array) -> float:
        own = some + moves[:, None, None] * way
        wide, deep = limb.radii(own[..., 2])
        far = np.hypot(own[..., 0], own[..., 1])
        share = np.hypot(own[..., 0] / (wide + half), own[..., 1] / (deep + half))
        gap = far - far / np.maximum(share, 1e-6)
        bad = np.mean(np.where(gap < 0, INSIDE, 1.0) * gap * gap, axis=1)
        return float(moves[np.argmin(bad)])

    best = best_of(np.arange(0.0, REACH, 8.0))
    return best_of(np.linspace(max(best - 8.0, 0.0), best + 8.0, 33))


class Between(Struct, frozen=True):
    """What lies between two groups.

    Attributes:
        gap: least distance of their faces, mm; below 0 they stand in each other.
        overlap: along the height, mm; below 0 what is bare between them.
    """

    first: str
    second: str
    gap: float
    overlap: float


def between(standing: tuple[WornGroup, ...]) -> tuple[Between, ...]:
    """Return what lies between groups that are near each other, the nearest first."""
    known = [(s, *s.points()) for s in standing]
    found = []
    for k, (one, mine, half) in enumerate(known):
        low, high = mine.min(0), mine.max(0)
        for other, theirs, thick in known[k + 1 :]:
            if one.worn == other.worn and one.side == other.side:
                continue  # both by their names: nobody said where exactly
            if (theirs.min(0) > high + NEAR).any() or (theirs.max(0) < low - NEAR).any():
                continue
            gap = _gap(mine, half, theirs, thick)
            if gap > NEAR:
                continue
            overlap = min(high[2], theirs[:, 2].max()) - max(low[2], theirs[:, 2].min())
            found.append(Between(one.title, other.title, gap, float(overlap)))
    return tuple(sorted(found, key=lambda b: b.gap))


def _gap(mine: Array, half: Array, theirs: Array, thick: Array) -> float:
    """Return the least distance of two faces, mm, from points and half thicknesses."""
    square = (mine**2).sum(1)[:, None] + (theirs**2).sum(1) - 2 * mine @ theirs.T
    far = np.sqrt(np.maximum(square, 0.0)) - half[:, None] - thick
    return float(far.min())


def legs_apart(standing: tuple[WornGroup, ...]) -> float | None:
    """Return the least distance between what is on the two legs, mm; None without both.

    The figure stands: how knees pass each other in walking, `fit_check` reckons.
    """
    legs = {
        side: [
            s.points()
            for s in standing
            if s.side == side and s.worn.part in (BodyPart.THIGH, BodyPart.SHIN)
        ]
        for side in (-1, 1)
    }
    if not all(legs.values()):
        return None
    least = np.inf
    for mine, half in legs[1]:
        for theirs, thick in legs[-1]:
            least = min(least, _gap(mine, half, theirs, thick))
    return least
