"""Where pages lie: neighbours found by their marks and by what runs across, then least squares.

Marks on a page's right side are laid on those of another's left side, and so upwards. Where the
marks alone leave a choice, as on pages printed to one scheme, the lines that cross the join
decide, then the order of the pages.
"""

import math
from collections.abc import Sequence

import numpy as np

from ivory_quilt.core.geometry.rigid import rigid_fit
from ivory_quilt.core.geometry.shape import Array, Point, Pose
from ivory_quilt.core.reading.pages.page import (
    JoinedPages,
    Page,
    PageJoin,
    PageSide,
    RegMark,
    deskewed,
    moved_point,
)
from ivory_quilt.core.record import Struct, replace

SIDE = 0.22  # of the page within which a mark belongs to a side
FALLS_ON = 1.2  # mm that marks may miss each other when neighbours are looked for
STEP = (0.5, 1.06)  # of the page that its neighbour lies away
CROSSES_WITHIN = 1.2  # mm between two lines that are one across a join
JUST_INSIDE = 0.4  # mm from the trim line where lines are looked for
MATCH, MISS, NEXT = 3.0, 2.0, 0.8  # what a line that goes on, one that ends, and page order count


class _Candidate(Struct, frozen=True):
    join: PageJoin
    move: Point
    score: float


def place_pages(pages: Sequence[Page], *, turned: bool = False) -> JoinedPages:
    """Lay pages by their registration marks.

    Args:
        pages: with their marks.
        turned: whether pages may lie a little turned (scans); else they are only moved.
    """
    candidates = _candidates(pages)
    cells = _grow(pages, candidates)
    joins = tuple(
        c.join
        for c in candidates
        if c.join.first in cells
        and c.join.second in cells
        and _near(cells[c.join.first], cells[c.join.second], c.move)
    )
    return settle(len(pages), joins, turned=turned)


def placed_scans(pages: Sequence[Page]) -> JoinedPages:
    """Lay scans by their marks: each is put straight first, so that neighbours are recognised."""
    straight = [deskewed(page) for page in pages]
    found = place_pages([page for page, _ in straight], turned=True)

    def back(index: int, point: Point) -> Point:
        return moved_point(Pose(0.0, 0.0, -straight[index][1]), point)

    # The joins were found on pages put straight; the marks count where they are on the scans.
    joins = [
        replace(j, pairs=tuple((back(j.first, a), back(j.second, b)) for a, b in j.pairs))
        for j in found.joins
    ]
    return settle(len(pages), joins, turned=True)


def settle(count: int, joins: Sequence[PageJoin], *, turned: bool) -> JoinedPages:
    """Return where pages lie so that the marks of all joins miss each other least.

    The first page of every group lies at its own place. Small turns are found with the moves by
    Gauss-Newton steps.
    """
    poses: list[Pose | None] = [None] * count
    for group in _groups(count, joins):
        inner = [j for j in joins if j.first in group]
        for index, pose in zip(group, _least_squares(group, inner, turned=turned), strict=True):
            poses[index] = pose
    residuals = tuple(_residual(j, poses) for j in joins)
    return JoinedPages(tuple(poses), tuple(joins), residuals)


def _groups(count: int, joins: Sequence[PageJoin]) -> list[list[int]]:
    of = list(range(count))
    for join in joins:
        a, b = of[join.first], of[join.second]
        of = [a if g == b else g for g in of]
    groups = [[i for i in range(count) if of[i] == g] for g in dict.fromkeys(of)]
    return [g for g in groups if len(g) > 1]


def _least_squares(group: list[int], joins: list[PageJoin], *, turned: bool) -> list[Pose]:
    start = _chained(group, joins, turned=turned)
    if not turned:
        start = [Pose(p.x, p.y) for p in start]
    each = 3 if turned else 2
    values = np.array([[p.x, p.y, math.radians(p.rotation)] for p in start])
    index = {page: k for k, page in enumerate(group)}
    for _ in range(12 if turned else 2):
        rows, rest = [], []
        for join in joins:
            for one, other in join.pairs:
                i, j = index[join.first], index[join.second]
                a, da = _moved(values[i], one)
                b, db = _moved(values[j], other)
                for axis in (0, 1):
                    row = np.zeros(each * len(group))
                    row[each * i + axis] += 1
                    row[each * j + axis] -= 1
                    if turned:
                        row[each * i + 2] += da[axis]
                        row[each * j + 2] -= db[axis]
                    rows.append(row)
                    rest.append(b[axis] - a[axis])
        matrix = np.array(rows)[:, each:]  # the first page stays
        step = np.linalg.lstsq(matrix, np.array(rest), rcond=None)[0]
        values[1:, :each] += step.reshape(-1, each)
        if np.abs(step).max(initial=0.0) < 1e-10:
            break
    return [Pose(float(x), float(y), math.degrees(float(t))) for x, y, t in values]


def _chained(group: list[int], joins: list[PageJoin], *, turned: bool) -> list[Pose]:
    """Return a beginning: each page laid on one that lies already, by the pairs of their join."""
    poses = {group[0]: Pose(0.0, 0.0)}
    while len(poses) < len(group):
        for join in joins:
            for known, fresh, back in (
                (join.first, join.second, False),
                (join.second, join.first, True),
            ):
                if known in poses and fresh not in poses:
                    pairs = [(b, a) if back else (a, b) for a, b in join.pairs]
                    there = [moved_point(poses[known], a) for a, _ in pairs]
                    here = np.array([b for _, b in pairs])
                    poses[fresh], _ = rigid_fit(here, np.array(there), turned=turned)
    return [poses[i] for i in group]


def _moved(value: Array, point: Point) -> tuple[Array, Array]:
    """Return where (x, y, angle) puts a point, and how that changes with the angle."""
    cos, sin = math.cos(value[2]), math.sin(value[2])
    turned = np.array([cos * point[0] - sin * point[1], sin * point[0] + cos * point[1]])
    return turned + value[:2], np.array([-turned[1], turned[0]])


def _residual(join: PageJoin, poses: Sequence[Pose | None]) -> float:
    first, second = poses[join.first], poses[join.second]
    if first is None or second is None:
        return 0.0
    return max(math.dist(moved_point(first, a), moved_point(second, b)) for a, b in join.pairs)


# Neighbours


def _candidates(pages: Sequence[Page]) -> list[_Candidate]:
    found = []
    for i, first in enumerate(pages):
        for j, second in enumerate(pages):
            if i == j:
                continue
            for side in PageSide:
                made = _candidate(i, j, first, second, side)
                if made is not None:
                    found.append(made)
    return sorted(found, key=lambda c: (-c.score, c.join.first, c.join.second))


def _candidate(i: int, j: int, first: Page, second: Page, side: PageSide) -> _Candidate | None:
    best: tuple[int, float, list[tuple[Point, Point]], Array] | None = None
    ours, theirs = _at_side(first, side, far=True), _at_side(second, side, far=False)
    for a in ours:
        for b in theirs:
            if a.kind is not b.kind or (a.label and b.label and a.label != b.label):
                continue
            move = np.subtract(a.at, b.at)
            if not _plausible(first, move, side):
                continue
            pairs = _pairs(ours, theirs, move)
            off = float(np.mean([math.dist(p, np.add(q, move)) for p, q in pairs]))
            if best is None or (len(pairs), -off) > (best[0], -best[1]):
                best = (len(pairs), off, pairs, move)
    if best is None or best[0] < min(2, len(ours), len(theirs)):
        return None
    move = best[3]
    goes_on, ends = _continuity(first, second, move, best[2], side)
    after = j == i + 1 if side is PageSide.RIGHT else j < i
    score = best[0] + MATCH * goes_on - MISS * ends + NEXT * after
    join = PageJoin(i, j, side, tuple(best[2]))
    return _Candidate(join, (float(move[0]), float(move[1])), score)


def _at_side(page: Page, side: PageSide, *, far: bool) -> list[RegMark]:
    k = 0 if side is PageSide.RIGHT else 1
    size = (page.width, page.height)[k]
    if far:
        return [m for m in page.marks if m.at[k] > (1 - SIDE) * size]
    return [m for m in page.marks if m.at[k] < SIDE * size]


def _plausible(page: Page, move: Array, side: PageSide) -> bool:
    along, across = (0, 1) if side is PageSide.RIGHT else (1, 0)
    size = (page.width, page.height)
    straight = abs(move[across]) < 0.1 * size[across]
    return bool(straight and STEP[0] * size[along] < move[along] < STEP[1] * size[along])


def _pairs(ours: list[RegMark], theirs: list[RegMark], move: Array) -> list[tuple[Point, Point]]:
    pairs = []
    for a in ours:
        near = [(math.dist(a.at, np.add(b.at, move)), b) for b in theirs if b.kind is a.kind]
        best = min(near, key=lambda n: n[0], default=None)
        if best is not None and best[0] <= FALLS_ON:
            pairs.append((a.at, best[1].at))
    return pairs


def _continuity(
    first: Page, second: Page, move: Array, pairs: list[tuple[Point, Point]], side: PageSide
) -> tuple[int, int]:
    """Return how many lines go on across a join, and how many end at it."""
    k = 0 if side is PageSide.RIGHT else 1
    trim = float(np.mean([a[k] for a, _ in pairs]))
    here = _crossings(first, trim - JUST_INSIDE, k)
    beyond = trim - float(move[k]) + JUST_INSIDE
    there = [v + float(move[1 - k]) for v in _crossings(second, beyond, k)]
    goes_on = 0
    for value in here:
        near = min(there, key=lambda v: abs(v - value), default=None)
        if near is not None and abs(near - value) <= CROSSES_WITHIN:
            goes_on += 1
            there.remove(near)
    return goes_on, len(here) - goes_on + len(there)


def _crossings(page: Page, at: float, k: int) -> list[float]:
    """Return where paths cross the line x = at (k = 0) or y = at (k = 1), each place once."""
    size = (page.width, page.height)[1 - k]
    found: list[float] = []
    for path in page.paths:
        points = np.vstack((path.points, path.points[:1])) if path.closed else path.points
        a, b = points[:-1], points[1:]
        hit = np.flatnonzero((a[:, k] > at) != (b[:, k] > at))
        share = (at - a[hit, k]) / (b[hit, k] - a[hit, k])
        found += (a[hit, 1 - k] + share * (b[hit, 1 - k] - a[hit, 1 - k])).tolist()
    single: list[float] = []
    for value in sorted(found):
        if 0 <= value <= size and (not single or value - single[-1] > 0.3):
            single.append(value)
    return single


# From neighbours to the whole


def _grow(pages: Sequence[Page], candidates: list[_Candidate]) -> dict[int, Point]:
    """Lay page after page, each where its joins with all pages around it count most."""
    by_pair = {(c.join.first, c.join.second, c.join.side): c for c in candidates}
    cells: dict[int, Point] = {}
    while True:
        best: tuple[float, int, Point] | None = None
        for c in candidates:
            for known, fresh, sign in (
                (c.join.first, c.join.second, 1),
                (c.join.second, c.join.first, -1),
            ):
                if fresh in cells or (cells and known not in cells):
                    continue
                x, y = cells.get(known, (0.0, 0.0))
                at = (x + sign * c.move[0], y + sign * c.move[1])
                score = _standing(pages, cells, by_pair, fresh, at, known if not cells else None)
                if score is not None and (best is None or score > best[0] + 1e-9):
                    best = (score, fresh, at)
                    start = known
        if best is None:
            return cells
        if not cells:
            cells[start] = (0.0, 0.0)
        cells[best[1]] = best[2]


def _standing(
    pages: Sequence[Page],
    cells: dict[int, Point],
    by_pair: dict[tuple[int, int, PageSide], _Candidate],
    fresh: int,
    at: Point,
    first: int | None,
) -> float | None:
    """Return what a page's joins count at a place, None where it cannot lie."""
    known = dict(cells) if first is None else {first: (0.0, 0.0)}
    page = pages[fresh]
    total, touched = 0.0, False
    for other, place in known.items():
        dx, dy = at[0] - place[0], at[1] - place[1]
        across, up = abs(dx) / page.width, abs(dy) / page.height
        if across < STEP[0] and up < STEP[0]:
            return None  # it would cover a page
        for side, gap, off, forward in (
            (PageSide.RIGHT, across, up, dx > 0),
            (PageSide.ABOVE, up, across, dy > 0),
        ):
            if gap > STEP[1] or off > 0.15:
                continue
            pair = (other, fresh, side) if forward else (fresh, other, side)
            join = by_pair.get(pair)
            if join is None:
                return None  # neighbours without a mark in common
            move = (dx, dy) if forward else (-dx, -dy)
            if math.dist(move, join.move) > 3 * FALLS_ON:
                return None
            total += join.score
            touched = True
    return total if touched and total > 0 else None


def _near(first: Point, second: Point, move: Point) -> bool:
    return math.dist((second[0] - first[0], second[1] - first[1]), move) <= 3 * FALLS_ON
