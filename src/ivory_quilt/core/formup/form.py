"""An assembly solved into its shape: coarse from several starts, then fine from the best."""

from collections.abc import Callable

import numpy as np
from scipy.spatial import cKDTree

from ivory_quilt.core.errors import Stopped
from ivory_quilt.core.formup.assembly import (
    Array,
    Assembly,
    Bools,
    edge_for,
    triangles_for,
)
from ivory_quilt.core.formup.carrying import carried
from ivory_quilt.core.formup.contact import FIRMLY, STIFF, Breath, Contact, Surface
from ivory_quilt.core.formup.formed import Formed
from ivory_quilt.core.formup.formers import body_of, laid_on, lifted_off
from ivory_quilt.core.formup.measures import (
    curvature,
    drift,
    face_strains,
    principal,
    spread_of,
)
from ivory_quilt.core.formup.meshing import PanelMesh, meshed_finely
from ivory_quilt.core.formup.sampling import SampledSeam
from ivory_quilt.core.formup.seams import SeamReader
from ivory_quilt.core.formup.shell import Shell, make_shell, set_rest
from ivory_quilt.core.formup.solver import Energy, Going, Memory, Solved, settle
from ivory_quilt.core.formup.starts import laid_together, mirrored, outwards, spread
from ivory_quilt.core.formup.stiffness import Stiffness
from ivory_quilt.core.record import replace

COARSER = 2.6
FEW = 500  # triangles that are solved at once, without a coarser mesh before
AGREE = 1.1  # times the least energy: a start that ends there came to the same shape
RIVAL = 2.0  # times the least energy: a start that ends above it lost, and nothing is said
CLOSE = 0.03  # of its size: panels laid together that lie farther apart are a poor start
APART = 0.08  # of the assembly's size: panels laid together that lie farther apart are no start
PASSES = 6  # times at most that rest lengths are set by the curve that was found; two do mostly
TIP = 3.0  # thicknesses: a tip is masked within
POINTED = 0.75  # of a whole turn: a vertex around which there is less foam is a tip
PULLS = 0.05  # strain along a seam that is told of
ROUNDS = 400
BREATH = 0.02  # strain that the air of a start stretches a ball of the assembly's size by
BLOWN = 60  # steps that it is blown for
SUNK = 0.5  # of half a thickness: a former that stands deeper in the foam does not fit
THROUGH = 2.0  # halves of it: one that stands so deep came out on the other side
SMOOTHING = 18  # steps that smooth what a coarser mesh left: the better matrix does the rest
BETWEEN = 4e-4  # of an edge's length: near enough to set rest lengths anew
ROUGH_NEAR = 2e-4  # the same on the coarse mesh
NEAR = 1.5e-4  # of an edge's length: no step moves anything farther at the end
ROUGH_PASSES = 2
MANY = 10  # steps of a solve: after fewer a matrix serves for the next
TURNED = 0.14  # radians that an edge may turn over: more, and a curve is no curve
MOSTLY = 0.75  # of the area curves no tighter
ENOUGH = 3000  # triangles: what curves tightly is not made finer than that
FINEST = 0.4  # of the edge's length that was wished
CLOSER = 0.85  # of it: what would be less finer stays
THIN = 1.5  # thicknesses: foam that is thin beside its triangles' edges
SAME = 3e-5  # of a length: what changes less is as it was


OUTSIDE = "It does not go over the former: it stands on it."

Told = Callable[[float], object]
"""Called with the share of the work that is done."""


def form(
    job: Assembly,
    going: Going = lambda: True,
    told: Told = lambda _: None,
    *,
    passes: int = PASSES,
    finer: bool = False,
) -> Formed:
    """Return the shape that an assembly takes.

    `finer` lets triangles be smaller than wished where foam curves tightly.

    Raises:
        InputError: it makes no sense; the sentence names the panel and the edge.
        Stopped: `going` said so before it began; later it ends with the shape that there is.
    """
    return form_on(job, going, told, passes=passes, finer=finer)[0]


def form_on(
    job: Assembly,
    going: Going = lambda: True,
    told: Told = lambda _: None,
    *,
    passes: int = PASSES,
    finer: bool = False,
) -> tuple[Formed, Energy]:
    """Return the same with the energy that was made least."""
    if not going():
        raise Stopped("stopped before the pieces stood")
    problems: list[str] = []
    surface = body_of(job.former)
    first = job
    if triangles_for(job.area, job.edge) > FEW:
        first = replace(job, edge=job.edge * COARSER)
    meshes, seams = meshed_finely(first, first.edge)
    shell = make_shell(first, meshes, seams)
    start, curved = _from_starts(first, meshes, seams, shell, going, problems)
    if surface is not None:
        start = laid_on(shell, start, surface, job.seat)
        if first is not job:  # pressed while it is coarse: the way onto a former is long
            known = (first, shell, start, surface, problems, going, told)
            pressed, energy = _pressed(*known, 1, BETWEEN)
            start, curved = pressed.places, curvature(energy, pressed.places)
            shell = energy.stiffness.shell  # another where it was lifted off
    if finer:
        job = replace(job, edge=_fit_edge(job, curved, shell.areas))
    if job.edge != first.edge:
        coarse, few = meshes, shell
        meshes, seams = meshed_finely(job, job.edge)
        shell = make_shell(job, meshes, seams)
        start, curved = carried(coarse, few, start, curved, meshes, shell)
    set_rest(shell, curved)
    told(0.3)
    solved, energy = _pressed(job, shell, start, surface, problems, going, told, passes)
    return _outcome(job, seams, solved, energy, problems), energy


def _fit_edge(job: Assembly, curved: Array, areas: Array) -> float:
    """Return how long triangles' edges may be where most of the foam curves like this, mm."""
    size = np.sqrt(curved[:, 0] ** 2 + 2 * curved[:, 1] ** 2 + curved[:, 2] ** 2)
    order = np.argsort(size)
    shares = np.cumsum(areas[order]) / float(areas.sum())
    tight = float(size[order][min(int(np.searchsorted(shares, MOSTLY)), len(size) - 1)])
    wanted = max(TURNED / max(tight, 1e-9), edge_for(job.area, ENOUGH), FINEST * job.edge)
    return wanted if wanted < CLOSER * job.edge else job.edge


def solved_on(
    job: Assembly,
    seams: list[SampledSeam],
    stiffness: Stiffness,
    places: Array,
    going: Going,
    *,
    smooth: bool,
) -> tuple[Formed, Energy]:
    """Return the shape that an assembly takes near places of its mesh, and its energy.

    Places are `smooth` if they were found on this mesh, and the stiffness has an order.
    """
    surface, told = body_of(job.former), lambda _: None
    solved, energy = _fine(job, stiffness, places, surface, going, told, 0, BETWEEN, smooth=smooth)
    return _outcome(job, seams, solved, energy, []), energy


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
    fine = _fineness(job)
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
        ends.append(settle(energy, start, 2e-3 * fine, ROUNDS // 2, factored, going))
    # A poor start that ends elsewhere says nothing about the shape.
    trusted = ends[1:] if len(starts) > 1 and APART > gap / size > CLOSE else ends
    best = min(ends, key=lambda s: s.energy)
    slight = 1e-7 * float(stiffness.weights.sum())  # of strain: nothing that a hand could feel
    if any(AGREE * best.energy + slight < o.energy < RIVAL * best.energy for o in trusted):
        problems.append(
            "Two ways to begin ended in different shapes; the one that strains less is shown."
        )
    places = best.places
    for _ in range(ROUGH_PASSES):
        if not going():
            break
        near = energy.stiffness.near_matrix(places)
        places = settle(energy, places, ROUGH_NEAR * fine, ROUNDS, near, going).places
        if not _set_anew(energy, places, fine / job.edge):
            break
        energy = Energy(energy.stiffness.renewed())
        places = settle(energy, places, 2e-3 * fine, ROUNDS, factored, going).places
    return places, curvature(energy, places)


def _fineness(job: Assembly) -> float:
    """Return the length that steps are measured by, mm: an edge's, less where foam is thin.

    Thin foam bends for next to nothing: its steps are small long before it is at rest.
    """
    thin = min(p.thickness for p in job.panels)
    return job.edge * min(1.0, THIN * thin / job.edge)


def _set_anew(energy: Energy, places: Array, share: float) -> bool:
    """Set rest lengths by the curve; return whether that changed more than a hundredth of them."""
    shell = energy.stiffness.shell
    before = shell.lengths
    set_rest(shell, curvature(energy, places), drift(energy, places))
    return float(np.percentile(np.abs(shell.lengths / before - 1), 99)) > SAME * share


def _right_hand(energy: Energy, shell: Shell, places: Array) -> Array:
    """Return places or their mirror image: what its angles ask for, else what looks outwards."""
    other = mirrored(places)
    if np.any(shell.turns):
        return min((places, other), key=lambda p: energy(p)[0])
    return places if outwards(shell, places) >= 0 else other


def _pressed(
    job: Assembly,
    shell: Shell,
    start: Array,
    surface: Surface | None,
    problems: list[str],
    going: Going,
    told: Told,
    passes: int,
    end: float = NEAR,
) -> tuple[Solved, Energy]:
    """Solve from a start, and from outside its former if that came to stand through the foam."""
    fresh = replace(shell)  # with its lengths as they are before the first solve
    solved, energy = _fine(job, Stiffness.of(shell), start, surface, going, told, passes, end)
    if surface is None or job.firmly or _deepest(solved, energy) < THROUGH or not going():
        return solved, energy
    outside = lifted_off(shell, start, surface)
    if outside is None:
        return solved, energy
    again, other = _fine(job, Stiffness.of(fresh), outside, surface, going, told, passes, end)
    if again.energy >= solved.energy:
        return solved, energy
    if OUTSIDE not in problems:
        problems.append(OUTSIDE)
    return again, other


def _deepest(solved: Solved, energy: Energy) -> float:
    """Return how deep the former stands in the foam, in halves of its thickness."""
    return energy.press.deepest(solved.places) if isinstance(energy.press, Contact) else 0.0


def _fine(
    job: Assembly,
    stiffness: Stiffness,
    start: Array,
    surface: Surface | None,
    going: Going,
    told: Told,
    passes: int,
    end: float = NEAR,
    *,
    smooth: bool = False,
) -> tuple[Solved, Energy]:
    """Solve, and again with rest lengths by the curve that was found."""
    fine = _fineness(job)
    contact = None
    if surface is not None:
        contact = _contact(stiffness.shell, surface, firmly=job.firmly)
    energy = Energy(stiffness, contact)
    places = start
    nears: tuple[float, ...] = (1e-3,)
    if contact is not None:
        nears = (8e-3, 1e-3) if end == NEAR else (8e-3,)
    for near in () if smooth else nears:
        # What touches changes while it is pressed: the matrix follows once.
        extra = contact.bent(places)[0] if contact is not None else None
        first = stiffness.preconditioner(extra)
        rounds = ROUNDS if contact is not None else SMOOTHING
        places = settle(energy, places, near * fine, rounds, first, going).places
    solved = Solved(places, energy(places)[0], settled=False, history=(), memory=Memory(0))
    last = passes == 0
    anew = True
    for k in range(passes + 2):
        if not going():
            solved = replace(solved, settled=False)  # rest lengths are not yet by its curve
            break
        if anew:
            held = contact.bent(places) if contact is not None else None
            matrix = energy.stiffness.near_matrix(places, held)
            memory = Memory(places.size)
        near = end if last else BETWEEN
        solved = settle(energy, places, near * fine, ROUNDS, matrix, going, memory)
        places, memory = solved.places, solved.memory
        # What touches may have changed where it took many steps: then the matrix follows.
        anew = contact is not None and len(solved.history) > MANY
        told(0.5 + 0.5 * k / (passes + 1))
        if last:
            break
        changed = _set_anew(energy, places, fine / job.edge)
        last = k == passes - 1 or not changed
        if changed:
            energy = Energy(energy.stiffness.renewed(), contact)
    return solved, energy


def _contact(shell: Shell, surface: Surface, *, firmly: bool) -> Contact:
    areas = np.zeros(shell.count)
    half = np.zeros(shell.count)
    for k in range(3):
        np.add.at(areas, shell.triangles[:, k], shell.areas / 3)
        np.maximum.at(half, shell.triangles[:, k], shell.thickness / 2)
    edge = float(np.mean(shell.lengths))
    stiff = STIFF * float(np.mean(shell.thickness)) * areas / edge**2
    if firmly:
        return Contact(surface, half, stiff, *FIRMLY)
    return Contact(surface, half, stiff)


def _outcome(
    job: Assembly,
    seams: list[SampledSeam],
    solved: Solved,
    energy: Energy,
    problems: list[str],
) -> Formed:
    places, shell = solved.places, energy.stiffness.shell
    strains = principal(shell, places)
    masked = _near_tips(shell, places)
    curved = curvature(energy, places)
    outer, inner = face_strains(shell, places, curved)
    reader = SeamReader.of(energy, places, masked, curved)
    outcomes = []
    for number, seam in enumerate(seams):
        outcome = reader.outcome(seam, number)
        outcomes.append(outcome)
        if abs(outcome.pull) > PULLS:
            word = "stretched" if outcome.pull > 0 else "crushed"
            problems.append(
                f"Seam {number} pulls: {100 * abs(outcome.pull):.0f} % {word}; its sides are "
                f"{seam.drawn[0]:.1f} and {seam.drawn[1]:.1f} mm."
            )
    off = None
    if isinstance(energy.press, Contact):
        off = energy.press.stands_off(places)
        if solved.settled and _deepest(solved, energy) > SUNK:
            problems.append("The former does not fit inside: it stands through the foam.")
    if not solved.settled:
        problems.append("The solve did not come to rest: the shape is near, not exact.")
    return Formed(
        job,
        shell,
        places,
        strains,
        masked,
        curved,
        tuple(outcomes),
        spread_of(strains, shell.areas, ~masked),
        solved.energy,
        solved.settled,
        solved.history,
        tuple(problems),
        off,
        seams,
        (spread_of(outer, shell.areas, ~masked), spread_of(inner, shell.areas, ~masked)),
    )


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
