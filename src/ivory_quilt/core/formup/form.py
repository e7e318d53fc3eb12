"""An assembly solved into its shape: coarse from several starts, then fine from the best."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from ivory_quilt.core.errors import Stopped
from ivory_quilt.core.formup.assembly import Array, Assembly, Bools, SeamSide, side_points
from ivory_quilt.core.formup.contact import STIFF, Breath, Contact, Surface
from ivory_quilt.core.formup.formers import body_of, laid_on
from ivory_quilt.core.formup.measures import (
    curvature,
    drift,
    principal,
    seam_outcome,
    spread_of,
)
from ivory_quilt.core.formup.meshing import PanelMesh, meshed
from ivory_quilt.core.formup.outcome import FormedPanel, FormedShape, SeamOutcome, StrainSpread
from ivory_quilt.core.formup.sampling import SampledSeam
from ivory_quilt.core.formup.shell import Shell, make_shell, set_rest
from ivory_quilt.core.formup.solver import Energy, Going, Solved, settle
from ivory_quilt.core.formup.starts import laid_together, mirrored, outwards, spread
from ivory_quilt.core.formup.stiffness import Stiffness

COARSER = 2.2
FEW = 500  # triangles that are solved at once, without a coarser mesh before
AGREE = 1.1  # times the least energy: a start that ends there came to the same shape
RIVAL = 2.0  # times the least energy: a start that ends above it lost, and nothing is said
CLOSE = 0.03  # of its size: panels laid together that lie farther apart are a poor start
APART = 0.08  # of the assembly's size: panels laid together that lie farther apart are no start
PASSES = 3  # times that rest lengths are set by the curve that was found
TIP = 3.0  # thicknesses: a tip is masked within
POINTED = 0.75  # of a whole turn: a vertex around which there is less foam is a tip
PULLS = 0.05  # strain along a seam that is told of
ROUNDS = 400
BREATH = 0.02  # strain that the air of a start stretches a ball of the assembly's size by
BLOWN = 60  # steps that it is blown for
SUNK = 0.5  # of half a thickness: a former that stands deeper in the foam does not fit
NEAR = 2e-5  # of an edge's length: no step moves anything farther at the end
ROUGH_PASSES = 2
SAME = 2e-5  # of a length: what changes less is as it was


@dataclass(frozen=True)
class Formed:
    """An assembly as it stands: middle surface, mm, right-handed, outer faces outwards.

    Attributes:
        strains: principal strains by triangle, smaller first, `(m, 2)`.
        masked: triangles near tips, which no percentile counts.
        settled: whether the solve came to rest.
        problems: what the maker should know, one sentence each.
    """

    assembly: Assembly
    shell: Shell
    places: Array
    strains: Array
    masked: Bools
    seams: tuple[SeamOutcome, ...]
    strain: StrainSpread
    energy: float
    settled: bool
    history: tuple[float, ...]
    problems: tuple[str, ...]

    @property
    def shape(self) -> FormedShape:
        """The same as plain arrays, panel by panel."""
        panels = []
        for number, (panel, mesh) in enumerate(
            zip(self.assembly.panels, self.shell.meshes, strict=True)
        ):
            mine = self.shell.panel_of == number
            panels.append(
                FormedPanel(
                    panel.id,
                    panel.thickness,
                    mesh.points,
                    self.panel_places(number),
                    mesh.triangles,
                    self.strains[mine],
                    self.masked[mine],
                    mesh.boundary,
                )
            )
        return FormedShape(tuple(panels), self.seams, self.strain, self.settled, self.problems)

    def panel_places(self, number: int) -> Array:
        """Return the places of one panel's points, `(n, 3)`."""
        found: Array = self.places[self.shell.vertex_of[number]]
        return found


Told = Callable[[float], object]
"""Called with the share of the work that is done."""


def form(
    job: Assembly, going: Going = lambda: True, told: Told = lambda _: None, *, passes: int = PASSES
) -> Formed:
    """Return the shape that an assembly takes.

    Raises:
        InputError: it makes no sense; the sentence names the panel and the edge.
        Stopped: `going` said so before it began; later it ends with the shape that there is.
    """
    if not going():
        raise Stopped("stopped before the pieces stood")
    meshes, seams = meshed(job, job.edge)
    shell = make_shell(job, meshes, seams)
    problems: list[str] = []
    if len(shell.triangles) > FEW:
        rough, rough_seams = meshed(job, job.edge * COARSER)
        few = make_shell(job, rough, rough_seams)
        start, curved = _from_starts(job, rough, rough_seams, few, going, problems)
        start, curved = _carried(rough, few, start, curved, meshes, shell)
    else:
        start, curved = _from_starts(job, meshes, seams, shell, going, problems)
    set_rest(shell, curved)
    told(0.3)
    surface = body_of(job.former)
    if surface is not None:
        start = laid_on(shell, start, surface)
    solved, energy = _fine(job, shell, start, surface, going, told, passes)
    return _outcome(job, shell, seams, solved, energy, problems)


def _from_starts(
    job: Assembly,
    meshes: list[PanelMesh],
    seams: list[SampledSeam],
    shell: Shell,
    going: Going,
    problems: list[str],
) -> tuple[Array, Array]:
    """Return the best of the shapes that solves from several starts come to, and its curvature."""
    stiffness = Stiffness.of(shell)
    energy, factored = Energy(stiffness), stiffness.preconditioner()
    laid, gap = laid_together(job, meshes, seams, shell)
    size = float(np.linalg.norm(np.ptp(laid, axis=0)))
    starts = []
    if gap < APART * size:
        starts.append(laid)
    if gap > 1e-4 * size or not starts:
        wide = _right_hand(energy, shell, spread(shell))
        starts.append(wide)
        across = float(np.linalg.norm(np.ptp(wide, axis=0)))
        air = BREATH * 2 * float(np.mean(shell.thickness)) / across
        blown = Energy(stiffness, Breath(shell.triangles, air))
        starts.append(settle(blown, wide, 0.02 * job.edge, BLOWN, factored, going).places)
    ends: list[Solved] = []
    for start in starts:
        ends.append(settle(energy, start, 2e-3 * job.edge, ROUNDS // 2, factored, going))
    # A poor start that ends elsewhere says nothing about the shape.
    trusted = ends[1:] if len(starts) > 1 and APART > gap / size > CLOSE else ends
    best = min(ends, key=lambda s: s.energy)
    slight = 1e-7 * float(stiffness.weights.sum())  # of strain: nothing that a hand could feel
    if any(AGREE * best.energy + slight < o.energy < RIVAL * best.energy for o in trusted):
        problems.append(
            "Two ways to begin ended in different shapes; the one that strains less is shown."
        )
    places, energy = best.places, energy
    for _ in range(ROUGH_PASSES):
        if not going():
            break
        near = energy.stiffness.near_matrix(places)
        places = settle(energy, places, 10 * NEAR * job.edge, ROUNDS, near, going).places
        if not _set_anew(energy, places):
            break
        energy = Energy(energy.stiffness.renewed())
        places = settle(energy, places, 2e-3 * job.edge, ROUNDS, factored, going).places
    return places, curvature(energy, places)


def _set_anew(energy: Energy, places: Array) -> bool:
    """Set rest lengths by the curve; return whether that changed them."""
    shell = energy.stiffness.shell
    before = shell.lengths
    set_rest(shell, curvature(energy, places), drift(energy, places))
    return float(np.abs(shell.lengths / before - 1).max()) > SAME


def _right_hand(energy: Energy, shell: Shell, places: Array) -> Array:
    """Return places or their mirror image: what its angles ask for, else what looks outwards."""
    other = mirrored(places)
    if np.any(shell.turns):
        return min((places, other), key=lambda p: energy(p)[0])
    return places if outwards(shell, places) >= 0 else other


def _carried(
    rough: list[PanelMesh],
    few: Shell,
    places: Array,
    curved: Array,
    meshes: list[PanelMesh],
    shell: Shell,
) -> tuple[Array, Array]:
    """Return a coarse shape's places and curvature for a finer mesh."""
    finer = np.zeros((len(shell.triangles), 3))
    total, times = np.zeros((shell.count, 3)), np.zeros(shell.count)
    for k, (coarse, fine) in enumerate(zip(rough, meshes, strict=True)):
        at = places[few.vertex_of[k]]
        corners = coarse.points[coarse.triangles]
        a, b, c = corners[:, 0], corners[:, 1], corners[:, 2]
        count = min(8, len(corners))
        _, near = cKDTree(corners.mean(1)).query(fine.points, k=count)
        near = np.asarray(near).reshape(len(fine.points), count)
        p, q = (b - a)[near], (c - a)[near]
        r = fine.points[:, None, :] - a[near]
        area = p[:, :, 0] * q[:, :, 1] - p[:, :, 1] * q[:, :, 0]
        u = (r[:, :, 0] * q[:, :, 1] - r[:, :, 1] * q[:, :, 0]) / area
        v = (p[:, :, 0] * r[:, :, 1] - p[:, :, 1] * r[:, :, 0]) / area
        inside = np.minimum(np.minimum(u, v), 1 - u - v)
        best = np.argmax(inside, axis=1)
        rows = np.arange(len(best))
        u, v = u[rows, best], v[rows, best]
        corner = at[coarse.triangles[near[rows, best]]]
        made = corner[:, 0] * (1 - u - v)[:, None] + corner[:, 1] * u[:, None]
        made += corner[:, 2] * v[:, None]
        for axis in range(3):
            total[:, axis] += np.bincount(shell.vertex_of[k], made[:, axis], shell.count)
        times += np.bincount(shell.vertex_of[k], minlength=shell.count)
        mine, theirs = np.flatnonzero(shell.panel_of == k), np.flatnonzero(few.panel_of == k)
        middles = fine.points[fine.triangles].mean(1)
        count = min(3, len(theirs))
        far, near = cKDTree(corners.mean(1)).query(middles, k=count)
        far, near = np.reshape(far, (-1, count)), np.reshape(near, (-1, count))
        share = 1 / np.maximum(far, 1e-9)
        share /= share.sum(1)[:, None]
        finer[mine] = (curved[theirs[near]] * share[:, :, None]).sum(1)
    return total / times[:, None], finer


def _fine(
    job: Assembly,
    shell: Shell,
    start: Array,
    surface: Surface | None,
    going: Going,
    told: Told,
    passes: int,
) -> tuple[Solved, Energy]:
    """Solve, and again with rest lengths by the curve that was found."""
    stiffness = Stiffness.of(shell)
    contact = _contact(shell, surface) if surface is not None else None
    energy = Energy(stiffness, contact)
    places = start
    for near in (8e-3, 1e-3) if contact is not None else (1e-3,):
        # What touches changes while it is pressed: the matrix follows once.
        extra = contact.bent(places)[0] if contact is not None else None
        first = stiffness.preconditioner(extra)
        places = settle(energy, places, near * job.edge, ROUNDS, first, going).places
    solved = Solved(places, energy(places)[0], settled=False, history=())
    for k in range(passes + 1):
        if not going():
            break
        held = contact.bent(places) if contact is not None else None
        if k == 0 or contact is not None:
            matrix = energy.stiffness.near_matrix(places, held)
        solved = settle(energy, places, NEAR * job.edge, ROUNDS, matrix, going)
        places = solved.places
        told(0.5 + 0.5 * k / (passes + 1))
        if k == passes or not _set_anew(energy, places):
            break
        energy = Energy(energy.stiffness.renewed(), contact)
    return solved, energy


def _contact(shell: Shell, surface: Surface) -> Contact:
    areas = np.zeros(shell.count)
    half = np.zeros(shell.count)
    for k in range(3):
        np.add.at(areas, shell.triangles[:, k], shell.areas / 3)
        np.maximum.at(half, shell.triangles[:, k], shell.thickness / 2)
    edge = float(np.mean(shell.lengths))
    stiff = STIFF * float(np.mean(shell.thickness)) * areas / edge**2
    return Contact(surface, half, stiff)


def _outcome(
    job: Assembly,
    shell: Shell,
    seams: list[SampledSeam],
    solved: Solved,
    energy: Energy,
    problems: list[str],
) -> Formed:
    places = solved.places
    strains = principal(shell, places)
    masked = _near_tips(shell, places)
    curved = curvature(energy, places)
    outcomes = []
    for number, seam in enumerate(job.seams):
        drawn = (_drawn_length(job, seam.a), _drawn_length(job, seam.b))
        outcome = seam_outcome(seams[number], number, drawn, energy, places, masked, curved)
        outcomes.append(outcome)
        if abs(outcome.pull) > PULLS:
            word = "stretched" if outcome.pull > 0 else "crushed"
            problems.append(
                f"Seam {number} pulls: {100 * abs(outcome.pull):.0f} % {word}; its sides are "
                f"{drawn[0]:.1f} and {drawn[1]:.1f} mm."
            )
    if isinstance(energy.press, Contact) and energy.press.deepest(places) > SUNK:
        problems.append("The former does not fit inside: it stands through the foam.")
    if not solved.settled:
        problems.append("The solve did not come to rest: the shape is near, not exact.")
    return Formed(
        job,
        shell,
        places,
        strains,
        masked,
        tuple(outcomes),
        spread_of(strains, shell.areas, ~masked),
        solved.energy,
        solved.settled,
        solved.history,
        tuple(problems),
    )


def _drawn_length(job: Assembly, side: SeamSide) -> float:
    points = side_points(job.panels[job.index[side.panel]], side)
    return float(np.linalg.norm(np.diff(points, axis=0), axis=1).sum())


def _near_tips(shell: Shell, places: Array) -> Bools:
    """Return which triangles lie within three thicknesses of a tip: there, foam is no plate."""
    lengths = shell.lengths
    around = np.zeros(shell.count)
    for k in range(3):
        a, b, c = lengths[:, k], lengths[:, (k + 1) % 3], lengths[:, (k + 2) % 3]
        angle = np.arccos(np.clip((b * b + c * c - a * a) / (2 * b * c), -1, 1))
        np.add.at(around, shell.triangles[:, k], angle)
    open_ = np.zeros(shell.count, dtype=bool)
    lone = shell.edges[shell.edges[:, 3] < 0]
    open_[lone[:, :2].ravel()] = True
    tips = np.flatnonzero(~open_ & (around < POINTED * 2 * np.pi))
    masked = np.zeros(len(shell.triangles), dtype=bool)
    if len(tips):
        middle = places[shell.triangles].mean(1)
        far, _ = cKDTree(places[tips]).query(middle)
        masked = far < TIP * shell.thickness
    return masked
