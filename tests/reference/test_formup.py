"""Formed shapes against closed forms: each with the source that it is checked against."""

import math
from itertools import product

import numpy as np
import pytest
from scipy.special import ellipe

from ivory_quilt.core.forming.dome import Dome
from ivory_quilt.core.forming.shaping import AxisFrame, Place
from ivory_quilt.core.formup.assembly import (
    Assembly,
    FormPanel,
    FormSeam,
    Meeting,
    SeamSide,
    Shaped,
)
from ivory_quilt.core.formup.form import form
from ivory_quilt.core.formup.meshing import meshed
from ivory_quilt.core.formup.shell import make_shell
from ivory_quilt.core.formup.solver import Energy, settle
from ivory_quilt.core.formup.stiffness import Stiffness
from ivory_quilt.core.formup.surface import vertex_normals
from ivory_quilt.core.pattern.build import Face
from tests.core.formup.nets import (
    corner_places,
    fan,
    misfit,
    net,
    rectangle,
    round_about,
    tube,
)

GOLDEN = (1 + math.sqrt(5)) / 2


@pytest.mark.parametrize(
    ("thickness", "face", "more"),
    [
        (6.0, Face.MIDDLE, 0.0),
        (2.0, Face.MIDDLE, 0.0),
        (6.0, Face.INNER, 3.0),
        (10.0, Face.OUTER, -5.0),
    ],
)
def test_a_rectangle_becomes_a_cylinder(thickness, face, more):
    """Circumference 2πr; the middle surface lies half the thickness from the face drawn on."""
    formed = form(tube(thickness=thickness, face=face))
    radii = round_about(formed.places, vertex_normals(formed.places, formed.shell.triangles))
    radius = 400 / (2 * math.pi) + more
    assert radii == pytest.approx(radius, rel=5e-4)
    assert formed.problems == ()


def test_half_a_disc_becomes_a_cone_of_30_degrees():
    """Base radius R/2 of slant R: sin of half the angle at the tip is 1/2 (Euclid XI, def. 18)."""
    formed = form(fan(180.0))
    mesh, places = formed.shell.meshes[0], formed.panel_places(0)
    far = np.linalg.norm(mesh.points, axis=1)
    rim, ring = places[np.abs(far - 100) < 0.1], places[np.abs(far - 70) < 4]
    around = formed.shell.meshes[0].boundary
    assert around > 40
    # The cone through the rim and a ring, away from the blunt tip.
    middle = rim.mean(0)
    axis = np.linalg.svd(rim - middle)[2][2]
    slope = []
    for spots in (rim, ring):
        high = (spots - middle) @ axis
        slope.append(
            (abs(high).mean(), np.linalg.norm(spots - middle - np.outer(high, axis), axis=1).mean())
        )
    (low, wide), (high, narrow) = slope
    assert math.degrees(math.atan((wide - narrow) / (high - low))) == pytest.approx(30, abs=1.0)
    assert wide == pytest.approx(50, abs=1.0)
    assert formed.masked.any()


SOLIDS = {
    "tetrahedron": ([(1, 1, 1), (1, -1, -1), (-1, 1, -1), (-1, -1, 1)], 50, 70.5288),
    "cube": (list(product((-1, 1), repeat=3)), 50, 90.0),
    "octahedron": ([*map(tuple, np.eye(3)), *map(tuple, -np.eye(3))], 80, 109.4712),
}


@pytest.mark.parametrize("meet", [Meeting.ANGLE, Meeting.FREE])
@pytest.mark.parametrize("name", SOLIDS)
def test_regular_nets_close_with_their_dihedral_angles(name, meet):
    """Dihedral angles of the regular polyhedra: Coxeter, Regular Polytopes (1973), table I.

    With free hinges nothing but the edges' lengths says so: Cauchy's theorem of 1813.
    """
    spots, size, dihedral = SOLIDS[name]
    vertices = size * np.array(spots, dtype=float)
    job, faces = net(vertices, meet)
    formed = form(job)
    assert misfit(*corner_places(formed, faces, vertices, job)) < 0.01
    assert [s.angle for s in formed.seams] == pytest.approx([dihedral] * len(job.seams), abs=0.01)


def test_the_net_of_32_panels_closes():
    """The truncated icosahedron by its coordinates (Coxeter, Regular Polytopes, 3.7)."""
    spots = set()
    for base in ((0, 1, 3 * GOLDEN), (1, 2 + GOLDEN, 2 * GOLDEN), (GOLDEN, 2, 2 * GOLDEN + 1)):
        for signs in product((-1, 1), repeat=3):
            point = [b * s for b, s in zip(base, signs, strict=True)]
            spots |= {tuple(round(v, 9) for v in np.roll(point, k)) for k in range(3)}
    vertices = 20 * np.array(sorted(spots))
    job, faces = net(vertices, edge=12.0)
    assert (len(vertices), len(faces)) == (60, 32)
    assert misfit(*corner_places(form(job), faces, vertices, job)) < 0.05


def test_six_gores_on_free_seams_stand_as_high_as_developable_strips_can():
    """Each bends along its middle alone: inradius w/tan 30°, height an elliptic integral.

    From dr/du = −(π/6)/tan(π/6) sin u the profile's height is R E(m), m = ((π/6)/tan(π/6))²
    (Abramowitz and Stegun 17.3.3).
    """
    radius, count, points = 80.0, 6, 48
    turn = np.linspace(-np.pi / 2, np.pi / 2, points + 1)
    half, along = np.pi * radius / count * np.cos(turn), radius * turn
    right = list(zip(half.tolist(), along.tolist(), strict=True))
    left = [(-x, y) for x, y in right[1:-1]][::-1]
    panels = tuple(FormPanel(f"g{k}", (*right, *left), 0.5) for k in range(count))
    seams = tuple(
        FormSeam(
            SeamSide(f"g{k}", 0, points, 1),
            SeamSide(f"g{(k + 1) % count}", 0, points, -1),
            Meeting.FREE,
        )
        for k in range(count)
    )
    formed = form(Assembly(panels, seams, edge=7.0))
    mesh = formed.shell.meshes[0]
    tips = [
        formed.panel_places(0)[np.argmin(((mesh.points - right[k]) ** 2).sum(1))] for k in (0, -1)
    ]
    share = (math.pi / count) / math.tan(math.pi / count)
    assert np.linalg.norm(tips[0] - tips[1]) == pytest.approx(
        2 * radius * ellipe(share**2), rel=5e-3
    )
    assert max(abs(formed.strain.p01), formed.strain.p99) < 2e-3


def test_a_disc_dished_to_a_cap_stays_that_cap():
    """Ø120 × 20: sphere of (60² + 20²)/40 = 100 mm (spherical cap, any handbook)."""
    turns = np.linspace(0, 2 * np.pi, 73)[:-1]
    disc = tuple((60 * math.cos(t), 60 * math.sin(t)) for t in turns)

    # Taken at the rim, formed without stretch of its middle: 2 R sin(φ/2) is the blank's radius.
    angle = math.atan2(60, 80)
    dome = Dome(AxisFrame((0.0, 0.0), 90.0), 60.0, angle, 97.0, 100.0, rim=True)
    shaped = Shaped("d", dome, Place(0.0, 6.0, 3.0))
    job = Assembly((FormPanel("d", disc, 6.0),), shaped=(shaped,), edge=8.0)
    places = form(job).places
    rows = np.column_stack([2 * places, np.ones(len(places))])
    middle = np.linalg.lstsq(rows, (places**2).sum(1), rcond=None)[0][:3]
    assert np.linalg.norm(places - middle, axis=1) == pytest.approx(100, abs=1.0)
    away = places - middle
    pole = away.mean(0) / np.linalg.norm(away.mean(0))
    assert np.ptp(away @ pole) == pytest.approx(20, abs=1.0)


class Held:
    """Holds vertices in their plane, stiffly, and pushes others."""

    def __init__(self, places, held, load):
        self.at, self.held, self.load = places.copy(), held, load
        self.stiffness = np.where(held, 1e4, 0.0)

    def add(self, places, slope):
        off = (places - self.at) * self.held[:, None] * (0.0, 0.0, 1.0)
        slope += 1e4 * off - self.load
        return 5e3 * float((off**2).sum()) - float((self.load * places).sum())


@pytest.mark.parametrize("poisson", [0.0, 0.3])
@pytest.mark.parametrize("ends", ["cantilever", "clamped"])
def test_strips_bend_as_euler_and_bernoulli_say(ends, poisson):
    """Tip load P L³/3EI; clamped at both ends, load in the middle P L³/192 EI (Timoshenko).

    The strip is narrow, so that it bends as a beam whatever Poisson's ratio is.
    """
    long, wide, thick = 200.0, 16.0, 6.0
    job = Assembly((FormPanel("s", rectangle(long, wide), thick),), edge=4.0)
    meshes, seams = meshed(job, 4.0)
    shell = make_shell(job, meshes, seams, poisson)
    flat = meshes[0].points
    places = np.zeros((shell.count, 3))
    places[shell.vertex_of[0], :2] = flat
    # Two rows of vertices are held; edges' own normals are not, so that the clamp is between them.
    clamp = 2.0
    held = flat[:, 0] < 2 * clamp + 0.1
    if ends == "clamped":
        held |= flat[:, 0] > long - 2 * clamp - 0.1
    pushed = np.abs(flat[:, 0] - (long if ends == "cantilever" else long / 2)) < 2.1
    inertia = wide * thick**3 / 12
    free = long - clamp if ends == "cantilever" else long - 2 * clamp
    share = 3 if ends == "cantilever" else 192
    force = 0.5 * share * inertia / free**3  # for half a millimetre, E = 1
    load = np.zeros((shell.count, 3))
    load[shell.vertex_of[0][pushed], 2] = force / pushed.sum()
    by_vertex = np.zeros(shell.count, dtype=bool)
    by_vertex[shell.vertex_of[0]] = held
    press = Held(places, by_vertex, load)
    stiffness = Stiffness.of(shell)
    near = stiffness.near_matrix(places, (press.stiffness, np.tile((0, 0, 1.0), (shell.count, 1))))
    solved = settle(Energy(stiffness, press), places, 1e-7, 800, near)
    sunk = solved.places[shell.vertex_of[0][pushed], 2].mean()
    at = flat[pushed, 0].mean()
    wanted = 0.5
    if ends == "cantilever":
        x = at - clamp
        wanted *= x**2 * (3 * free - x) / (2 * free**3)
    assert sunk == pytest.approx(wanted, rel=0.02)


@pytest.mark.parametrize("poisson", [0.0, 0.3])
@pytest.mark.parametrize("curve", [(1, 0, 0), (1, 0, 1), (1, 0, -1), (0.3, 0.8, -0.2)])
def test_a_plate_bent_evenly_has_the_energy_of_plate_theory(curve, poisson):
    """½ D ((κx+κy)² − 2(1−ν)(κx κy − κxy²)) per area (Timoshenko, Plates and Shells, eq. 46)."""
    job = Assembly((FormPanel("p", rectangle(120.0, 90.0), 4.0),), edge=11.0)
    meshes, seams = meshed(job, 11.0)
    shell = make_shell(job, meshes, seams, poisson)
    x, y = meshes[0].points.T
    bent = 1e-5 * np.array(curve)
    places = np.zeros((shell.count, 3))
    high = -0.5 * (bent[0] * x * x + 2 * bent[1] * x * y + bent[2] * y * y)
    places[shell.vertex_of[0]] = np.column_stack([x, y, high])
    stiffness = Stiffness.of(shell)
    off, _ = Energy(stiffness).off_rest(places)
    own = _exact_turns(shell, places, bent)
    pull = stiffness.mixed.T @ off + stiffness.between @ own
    found = 0.5 * float(off @ stiffness.turning @ off + own @ (pull + stiffness.mixed.T @ off))
    a, c, b = bent
    stiff = 4.0**3 / 12 / (1 - poisson**2)
    wanted = 0.5 * stiff * ((a + b) ** 2 - 2 * (1 - poisson) * (a * b - c * c)) * 120 * 90
    assert found == pytest.approx(wanted, rel=1e-5)
    # The patch test: what bends evenly is in balance at every edge inside, on any mesh.
    inside = shell.edges[:, 3] >= 0
    assert np.abs(pull[inside]).max() < 1e-4 * np.abs(pull[~inside]).max()


def _exact_turns(shell, places, bent):
    """Return the turn of each edge's normal, from the mean of its triangles', to the true one."""
    at = places[shell.triangles]
    normal = np.cross(at[:, 1] - at[:, 0], at[:, 2] - at[:, 0])
    slope = -normal[:, :2] / normal[:, 2:]
    tilts = np.zeros((len(shell.edges), 2))
    for k in range(3):
        start, stop = at[:, (k + 1) % 3, :2], at[:, (k + 2) % 3, :2]
        out = (stop - start)[:, ::-1] * (1, -1) / np.linalg.norm(stop - start, axis=1)[:, None]
        x, y = ((start + stop) / 2).T
        true = -np.column_stack([bent[0] * x + bent[1] * y, bent[1] * x + bent[2] * y])
        side = np.where(shell.sides[:, k] > 0, 0, 1)
        tilts[shell.edge_of[:, k], side] = -((true - slope) * out).sum(1)
    lone = shell.edges[:, 3] < 0
    return np.where(lone, tilts[:, 0], (tilts[:, 0] - tilts[:, 1]) / 2)


def test_a_seam_of_unequal_edges_shares_the_strain_as_two_glued_beams():
    """Two equal strips, one longer by ε: ε/2 at the seam, −ε/4 outside (Timoshenko 1925)."""
    long, wide, much = 240.0, 24.0, 0.004
    one = FormPanel("a", rectangle(long, wide), 24.0)
    other = FormPanel("b", rectangle(long * (1 + much), wide), 24.0)
    seam = FormSeam(SeamSide("a", 3, 2, -1), SeamSide("b", 0, 1, 1))
    formed = form(Assembly((one, other), (seam,), edge=4.0))
    middle = formed.shell.meshes[0].points[formed.shell.meshes[0].triangles].mean(1)
    mine = formed.strains[formed.shell.panel_of == 0]
    well = np.abs(middle[:, 0] - long / 2) < 50
    along = mine[well][np.arange(well.sum()), np.argmax(np.abs(mine[well]), axis=1)]
    line = np.polyfit(middle[well, 1], along, 1)
    at_seam, outside = np.polyval(line, wide), np.polyval(line, 0.0)
    assert at_seam == pytest.approx(much / 2, rel=0.05)
    assert outside == pytest.approx(-much / 4, rel=0.05)
