"""Formed shapes: whichever way they are drawn, how fine, on a former; and what is refused."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from ivory_quilt.core.errors import InputError, Stopped
from ivory_quilt.core.formup.assembly import (
    Assembly,
    Cylinder,
    Fold,
    FormBend,
    FormPanel,
    FormSeam,
    Meeting,
    MeshFormer,
    SeamSide,
    Sphere,
)
from ivory_quilt.core.formup.form import form
from ivory_quilt.core.formup.formers import distance_grid
from ivory_quilt.core.formup.girths import girth_of
from ivory_quilt.core.formup.meshing import meshed
from ivory_quilt.core.formup.starts import outwards
from ivory_quilt.core.pattern.build import Face
from ivory_quilt.core.record import replace
from tests.core.formup.nets import corner_places, fan, misfit, net, rectangle, sharpest, tube
from tests.effort import random_cases


def random_body(chance, count):
    """Return corners of a convex body, no two of which are near."""
    spots = chance.normal(size=(count, 3))
    spots /= np.linalg.norm(spots, axis=1)[:, None]
    return spots * chance.uniform(50, 120) * chance.uniform(0.6, 1.0, 3)


# Properties


@random_cases(8, 60)
@given(st.integers(0, 10**6), st.integers(4, 10))
def test_random_nets_close_whichever_way_their_panels_are_drawn(seed, count):
    chance = np.random.default_rng(seed)
    vertices = random_body(chance, count)
    turned = set(np.flatnonzero(chance.random(2 * count) < 0.4).tolist())
    assume(sharpest(vertices) > 12.0)  # what is sharper than 10° is refused
    job, faces = net(vertices, edge=12.0, turned=turned)
    formed = form(job)
    assert misfit(*corner_places(formed, faces, vertices, job)) < 0.05
    assert outwards(formed.shell, formed.places) > 0
    assert max(abs(formed.strain.p01), formed.strain.p99) < 1e-4


def test_a_sharp_spike_closes_as_well():
    formed = form(fan(30.0, edge=5.0))
    mesh = formed.shell.meshes[0]
    rim = formed.panel_places(0)[np.abs(np.linalg.norm(mesh.points, axis=1) - 100) < 0.3]
    away = np.linalg.norm(rim - rim.mean(0), axis=1)
    assert away.mean() == pytest.approx(100 * 30 / 360, rel=0.08)
    assert formed.shape.size[0] > 95
    assert formed.settled


@pytest.mark.parametrize("angle", [90.0, 150.0, 240.0, 300.0])
def test_sectors_close_to_cones(angle):
    formed = form(fan(angle, edge=8.0))
    mesh = formed.shell.meshes[0]
    rim = formed.panel_places(0)[np.abs(np.linalg.norm(mesh.points, axis=1) - 100) < 0.1]
    middle = rim.mean(0)
    assert np.linalg.norm(rim - middle, axis=1).mean() == pytest.approx(100 * angle / 360, rel=0.02)
    assert outwards(formed.shell, formed.places) > 0


def test_a_moved_and_turned_drawing_comes_out_alike():
    job = fan(150.0, edge=9.0)
    turn = np.array([[np.cos(0.7), np.sin(0.7)], [-np.sin(0.7), np.cos(0.7)]])
    moved = tuple(map(tuple, (np.array(job.panels[0].outline) @ turn + (300, -80)).tolist()))
    one, other = form(job), form(replace(job, panels=(replace(job.panels[0], outline=moved),)))
    assert other.energy == pytest.approx(one.energy, rel=1e-6)
    there = one.shell.meshes[0].points @ turn + (300, -80)
    pairs = [np.argmin(((other.shell.meshes[0].points - p) ** 2).sum(1)) for p in there]
    assert misfit(other.panel_places(0)[pairs], one.panel_places(0)) < 0.01


def test_the_other_hand_is_the_mirror_image():
    job = Assembly(
        (FormPanel("p", ((0, 0), (90, 0), (70, 60), (0, 40)), 4.0),),
        folds=(Fold("p", ((30, -10), (45, 80)), 120.0),),
        edge=8.0,
    )
    left = form(job)
    right = form(replace(job, panels=(replace(job.panels[0], mirrored=True),)))
    flip = left.panel_places(0) * (1, 1, -1)
    # The meshes are mirrored too, point for point somewhere along.
    spots = left.shell.meshes[0].points * (-1, 1)
    pairs = [np.argmin(((right.shell.meshes[0].points - s) ** 2).sum(1)) for s in spots]
    near = np.linalg.norm(right.shell.meshes[0].points[pairs] - spots, axis=1) < 1e-6
    assert near.sum() > 20
    assert misfit(right.panel_places(0)[pairs][near], flip[near]) < 1e-3


def test_energy_never_rises_and_finer_meshes_come_nearer():
    radius, errors = 400 / (2 * np.pi), []
    exact = 0.5 * 6.0**3 / 12 / radius**2 * 400 * 150
    for edge in (24.0, 12.0, 6.0):
        formed = form(tube(edge=edge), passes=0)
        assert all(
            b <= a * (1 + 1e-12) for a, b in zip(formed.history, formed.history[1:], strict=False)
        )
        errors.append(abs(formed.energy / exact - 1))
    assert errors[2] < errors[0] / 4
    assert errors[2] < 1e-3


def test_seams_are_welded_and_tell_their_lengths_angle_and_wedge():
    vertices = 50 * np.array([(x, y, z) for x in (-1, 1) for y in (-1, 1) for z in (-1, 1)])
    job, _ = net(vertices, thickness=6.0, edge=14.0)
    wrong = replace(job, seams=tuple(replace(s, angle=100.0) for s in job.seams))
    formed = form(wrong)
    for seam in formed.seams:
        assert (seam.gap, seam.length_a) == (0.0, pytest.approx(100.0))
        # Bevels for 100° and a box that wants 90°: part of it gapes, the rest bends the foam.
        assert 90 < seam.angle < 100
        assert seam.wedge == pytest.approx(2 * 6 * np.sin(np.radians(100 - seam.angle) / 2))
        assert seam.wedge > 0.02
    assert {round(s.wedge, 6) for s in form(job).seams} == {0.0}


@pytest.mark.parametrize(
    ("face", "size"), [(Face.OUTER, 94.0), (Face.MIDDLE, 100.0), (Face.INNER, 106.0)]
)
def test_bevels_are_taken_off_to_the_middle_surface(face, size):
    vertices = 50 * np.array([(x, y, z) for x in (-1, 1) for y in (-1, 1) for z in (-1, 1)])
    job, _ = net(vertices, thickness=6.0, face=face, edge=20.0)
    formed = form(job)
    assert formed.seams[0].length_a == pytest.approx(100.0)
    lone = formed.shell.meshes[0].points
    assert np.ptp(lone, axis=0) == pytest.approx((size, size))
    assert max(abs(formed.strain.p01), formed.strain.p99) < 1e-9


def test_unequal_edges_share_the_ease_and_say_that_they_pull():
    panels = (FormPanel("a", rectangle(100, 60), 4.0), FormPanel("b", rectangle(115, 60), 4.0))
    seam = FormSeam(SeamSide("a", 3, 2, -1), SeamSide("b", 0, 1, 1))
    formed = form(Assembly(panels, (seam,), edge=8.0))
    (outcome,) = formed.seams
    assert (outcome.length_a, outcome.length_b) == (pytest.approx(100), pytest.approx(115))
    assert abs(outcome.pull) > 0.05
    (told,) = [p for p in formed.problems if "Seam 0 pulls" in p]
    assert "100.0 and 115.0 mm" in told


# Bends, folds, formers


@pytest.mark.parametrize("face", Face)
def test_a_bend_is_reckoned_from_the_face_that_was_drawn_on(face):
    job = Assembly(
        (FormPanel("p", rectangle(100, 60), 6.0, face),), bends=(FormBend("p", 90.0, 50.0),)
    )
    formed = form(job)
    drawn = {Face.INNER: 50.0, Face.MIDDLE: 53.0, Face.OUTER: 56.0}[face]
    angle = 100 / drawn
    chord = 2 * 53 * np.sin(angle / 2)
    sizes = np.linalg.svd(formed.places - formed.places.mean(0), full_matrices=False)[2]
    along = (formed.places - formed.places.mean(0)) @ sizes.T
    assert np.ptp(along[:, 0]) == pytest.approx(chord, rel=2e-3)


def test_a_fold_turns_away_from_the_outer_face():
    job = Assembly(
        (FormPanel("p", rectangle(100, 60), 4.0),), folds=(Fold("p", ((40, -5), (40, 70)), 90.0),)
    )
    formed = form(job)
    points, places = formed.shell.meshes[0].points, formed.panel_places(0)

    def at(spot):
        return places[np.argmin(((points - spot) ** 2).sum(1))]

    one, edge, other = at((0, 0)), at((40, 0)), at((100, 0))
    cosine = (
        (one - edge) @ (other - edge) / np.linalg.norm(one - edge) / np.linalg.norm(other - edge)
    )
    assert cosine == pytest.approx(0.0, abs=1e-6)
    assert outwards(formed.shell, places[np.argsort(formed.shell.vertex_of[0])]) > 0


def cap(former=None, edge=7.0):
    """Return five panels of a cap: gores of a ball of 90 mm, joined from rim to top."""
    count, radius, points = 5, 90.0, 24
    turn = np.linspace(0, np.pi / 2, points + 1)
    half = np.pi * radius / count * np.cos(turn)
    right = list(zip(half.tolist(), (radius * turn).tolist(), strict=True))
    left = [(-x, y) for x, y in right[:-1]][::-1]
    panels = tuple(FormPanel(f"p{k}", (*right, *left), 5.0) for k in range(count))
    last = 2 * points
    seams = tuple(
        FormSeam(SeamSide(f"p{k}", 0, points, 1), SeamSide(f"p{(k + 1) % count}", last, points, -1))
        for k in range(count)
    )
    return Assembly(panels, seams, former=former, edge=edge)


def ball(radius, rings=24):
    """Return a closed mesh of a ball."""
    from scipy.spatial import ConvexHull

    k = np.arange(rings * rings) + 0.5
    polar, around = np.arccos(1 - 2 * k / len(k)), np.pi * (1 + 5**0.5) * k
    spots = radius * np.column_stack(
        [np.cos(around) * np.sin(polar), np.sin(around) * np.sin(polar), np.cos(polar)]
    )
    hull = ConvexHull(spots)
    triangles = hull.simplices.copy()
    a, b, c = (spots[triangles[:, j]] for j in range(3))
    inwards = (np.cross(b - a, c - a) * a).sum(1) < 0
    triangles[inwards] = triangles[inwards][:, [0, 2, 1]]
    return MeshFormer(spots, triangles.astype(np.int64))


def test_a_cap_is_rounder_on_a_ball_than_free():
    free, pressed = form(cap()), form(cap(Sphere(87.0)))
    far = np.linalg.norm(pressed.places, axis=1)
    assert far.min() > 87.0
    assert np.median(far) == pytest.approx(87 + 2.5, abs=1.5)
    ring = free.places - free.places.mean(0)
    assert outwards(free.shell, free.places) > 0
    assert np.ptp(np.linalg.norm(ring, axis=1)) > np.ptp(far)


def test_a_mesh_serves_as_a_former_and_says_how_far_it_is():
    mesh = ball(87.0)
    grid = distance_grid(replace(mesh, vertices=mesh.vertices + np.array((5.0, -3.0, 20.0))))
    spots = np.array([(5.0, -3.0, 127.0), (5.0, 97.0, 20.0), (25.0, -3.0, 20.0)])
    far, out = grid.away(spots)
    assert far == pytest.approx((20.0, 13.0, -67.0), abs=2.5)
    assert out[0] == pytest.approx((0, 0, 1), abs=0.1)
    formed = form(cap(mesh, edge=9.0))
    assert np.median(np.linalg.norm(formed.places, axis=1)) == pytest.approx(89.5, abs=3.0)


def test_a_sleeve_lies_on_a_cylinder():
    formed = form(tube(wide=420.0, high=80.0, edge=9.0, former=Cylinder(60.0)))
    far = np.hypot(formed.places[:, 0], formed.places[:, 1])
    assert far.min() > 62.9
    around = girth_of(formed.shape, np.zeros(3), np.array([0, 0, 1.0]))
    assert around.closes
    assert around.middle == pytest.approx(420, rel=0.02)
    assert around.middle - around.inner == pytest.approx(6 * np.pi, rel=2e-3)


# What is refused


TWO = (FormPanel("a", rectangle(100, 60), 4.0), FormPanel("b", rectangle(100, 60), 4.0))
GOOD = FormSeam(SeamSide("a", 3, 2, -1), SeamSide("b", 0, 1, 1))


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"seams": ()}, "panel 'b': it has no seam"),
        ({"seams": (replace(GOOD, b=SeamSide("b", 1, 0, -1)),)}, "twisted: panel 'b', edge 1 to 0"),
        ({"seams": (replace(GOOD, b=SeamSide("c", 0, 1, 1)),)}, "no panel 'c'"),
        ({"seams": (replace(GOOD, b=SeamSide("b", 0, 9, 1)),)}, "corners 0 to 3"),
        ({"seams": (GOOD, GOOD)}, "joined by seam 0 already"),
        ({"seams": (replace(GOOD, meet=Meeting.ANGLE, angle=2.0),)}, "seam 0, angle: 2°"),
        ({"edge": 0.0}, "edge: 0 mm"),
        ({"edge": 0.2}, "triangles"),
        ({"panels": ()}, "panels: there is none"),
        ({"panels": (TWO[0], TWO[0])}, "used twice"),
        ({"panels": (replace(TWO[0], thickness=-1.0), TWO[1])}, "thickness"),
        ({"panels": (replace(TWO[0], outline=((0, 0), (9, 0))), TWO[1])}, "2 corners"),
        (
            {"panels": (replace(TWO[0], outline=((0, 0), (9, 9), (9, 0), (0, 7))), TWO[1])},
            "crosses itself",
        ),
        ({"panels": (replace(TWO[0], outline=((0, 0), (0, 0), (9, 0))), TWO[1])}, "in one place"),
        (
            {"panels": (replace(TWO[0], outline=((0, 0), (float("nan"), 0), (9, 9))), TWO[1])},
            "no place",
        ),
        ({"folds": (Fold("a", ((0, 0), (0, 0)), 90.0),)}, "two different points"),
        ({"bends": (FormBend("a", 0.0, 0.0),)}, "radius"),
        ({"bends": (FormBend("a", 0.0, 9.0), FormBend("a", 9.0, 9.0))}, "bent twice"),
        ({"former": Sphere(0.0)}, "former, radius"),
    ],
)
def test_nonsense_is_refused_with_the_panel_and_the_edge(change, words):
    with pytest.raises(InputError, match=words.replace("(", r"\(")):
        Assembly(**{"panels": TWO, "seams": (GOOD,), **change})


def test_what_shows_only_in_the_mesh_is_refused_as_well():
    thick = tuple(replace(p, thickness=80.0, face=Face.OUTER) for p in TWO)
    steep = FormSeam(GOOD.a, GOOD.b, Meeting.ANGLE, 30.0)
    with pytest.raises(InputError, match="its bevels leave no middle surface"):
        form(Assembly(thick, (steep,)))
    with pytest.raises(InputError, match="does not cross the panel"):
        form(Assembly(TWO, (GOOD,), folds=(Fold("a", ((200, 0), (200, 9)), 90.0),)))
    crossing = (Fold("a", ((20, -9), (20, 90)), 90.0), Fold("a", ((-9, 20), (190, 20)), 90.0))
    with pytest.raises(InputError, match="fold 1 of panel 'a': it meets fold 0"):
        form(Assembly(TWO, (GOOD,), folds=crossing))
    mesh = ball(50.0, 8)
    with pytest.raises(InputError, match="open at 3 edges"):
        form(Assembly(TWO, (GOOD,), former=replace(mesh, triangles=mesh.triangles[1:])))


def test_it_stops_when_it_is_told_to():
    with pytest.raises(Stopped):
        form(tube(), going=lambda: False)
    calls = []

    def going():
        calls.append(1)
        return len(calls) < 40

    formed = form(tube(edge=12.0), going=going)
    assert len(calls) < 60
    assert not formed.settled


@random_cases(25, 200)
@given(st.integers(0, 10**6))
def test_meshes_fill_their_panels_and_meet_at_seams(seed):
    chance = np.random.default_rng(seed)
    turns = np.sort(chance.uniform(0, 2 * np.pi, chance.integers(5, 14)))
    far = chance.uniform(25, 120, len(turns))
    outline = tuple(
        zip((far * np.cos(turns)).tolist(), (far * np.sin(turns)).tolist(), strict=True)
    )
    count = len(outline)
    try:
        job = Assembly(
            (FormPanel("a", outline, 4.0), FormPanel("b", outline, 4.0, mirrored=True)),
            tuple(
                FormSeam(SeamSide("a", k, (k + 1) % count, 1), SeamSide("b", k, (k + 1) % count, 1))
                for k in range(0, count, 2)
                if k + 1 < count
            ),
            edge=float(chance.uniform(6, 20)),
        )
    except InputError:
        return  # neighbours in one place
    meshes, seams = meshed(job, job.edge)
    for mesh in meshes:
        a, b, c = (mesh.points[mesh.triangles[:, k]] for k in range(3))
        areas = 0.5 * ((b - a)[:, 0] * (c - a)[:, 1] - (b - a)[:, 1] * (c - a)[:, 0])
        assert areas.min() > 0
        x, y = np.array(outline).T
        whole = 0.5 * abs(float(np.sum(x * np.roll(y, -1) - y * np.roll(x, -1))))
        assert areas.sum() == pytest.approx(whole, rel=0.03)
    for seam in seams:
        assert len(seam.a) == len(seam.b) >= 2
        first, second = meshes[0].points[seam.a], meshes[1].points[seam.b]
        assert first == pytest.approx(second * (-1, 1), abs=1e-6)
