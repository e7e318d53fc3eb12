"""What is told of a shape after it stands: girths, faces, panels laid flat."""

import math

import numpy as np
import pytest
from scipy.special import ellipe

from ivory_quilt.benchmarks.formup import cap
from ivory_quilt.core.formup.assembly import Cylinder, Sphere
from ivory_quilt.core.formup.form import form
from ivory_quilt.core.formup.girths import GirthPlane, girth_of
from ivory_quilt.core.formup.recut import laid_as_it_stands
from ivory_quilt.core.formup.skin import looks
from ivory_quilt.core.formup.surface import vertex_normals
from ivory_quilt.core.record import replace
from tests.core.formup.nets import round_about, tube


def upright(shape):
    """Return the way along a tube: its panel is drawn upright."""
    panel = shape.panels[0]
    flat = panel.flat - panel.flat.mean(0)
    up = np.linalg.lstsq(flat, panel.places - panel.places.mean(0), rcond=None)[0][1]
    return up / np.linalg.norm(up)


# Girths: parallel curves of a convex one differ by 2π of their distance (Steiner 1840)


def test_a_closed_tube_has_a_girth_on_each_face():
    shape = form(tube(wide=300.0, thickness=8.0, edge=9.0)).shape
    girth = girth_of(shape, shape.panels[0].places.mean(0), upright(shape))
    assert girth.closes
    assert girth.middle == pytest.approx(300, rel=2e-3)
    assert girth.outer - girth.middle == pytest.approx(2 * np.pi * 4, rel=2e-3)
    assert girth.middle - girth.inner == pytest.approx(2 * np.pi * 4, rel=2e-3)


def test_an_open_sleeve_says_its_gap_and_a_plane_beside_it_meets_nothing():
    half = replace(tube(wide=150.0, thickness=4.0, edge=8.0), seams=(), former=Cylinder(50.0))
    shape = form(replace(half, firmly=True)).shape
    up = upright(shape)
    girth = girth_of(shape, shape.panels[0].places.mean(0), up)
    assert not girth.closes
    assert girth.parts == 1
    # An arc of 150 mm around 52 mm goes through 165°: its chord is 2 R sin of half of that.
    assert girth.gap == pytest.approx(2 * 52 * np.sin(150 / 52 / 2), rel=0.03)
    assert girth.middle - girth.inner == pytest.approx(2 * 150 / 52, rel=0.06)
    assert girth_of(shape, shape.panels[0].places.mean(0) + 500 * up, up) is None


def test_a_plane_along_a_tube_cuts_two_lines():
    shape = form(tube(wide=300.0, edge=9.0)).shape
    up = upright(shape)
    across = np.cross(up, [0.3, 0.5, 0.8])
    assert girth_of(shape, shape.panels[0].places.mean(0), across).parts == 2


@pytest.mark.parametrize("lean", [20.0, 45.0])
def test_a_plane_that_leans_cuts_ellipses_of_a_tube(lean):
    shape = form(tube(wide=300.0, high=160.0, thickness=4.0, edge=6.0)).shape
    height, point, normal = GirthPlane(0.5, 0.0, lean).through(shape)
    girth = girth_of(shape, point, normal)
    assert height == pytest.approx(80, rel=2e-3)
    assert girth.closes

    def around(radius):
        """An ellipse R by R / cos of the lean: 4 a E(m), Abramowitz and Stegun 17.3.3, by SciPy."""
        longer = radius / math.cos(math.radians(lean))
        return 4 * longer * ellipe(math.sin(math.radians(lean)) ** 2)

    radius = 300 / (2 * math.pi)
    assert girth.middle == pytest.approx(around(radius), rel=2e-3)
    assert girth.inner == pytest.approx(around(radius - 2), rel=3e-3)
    assert girth.outer - girth.inner == pytest.approx(around(radius + 2) - around(radius - 2), 0.05)
    assert np.linalg.norm(girth.cut[:, 1] - girth.cut[:, 0], axis=1).sum() == pytest.approx(
        girth.middle
    )


def test_any_plane_through_a_cap_of_five_parts_cuts_one_closed_line():
    """Stretches shorter than what counts as one place, and seams, break no line."""
    shape = form(cap(11.0)).shape
    places = np.concatenate([p.places for p in shape.panels])
    total = looks(shape)[0]
    axis = total / np.linalg.norm(total)
    deep = places @ axis
    aside = np.cross(axis, places[0] - places.mean(0))
    for share in (0.4, 0.53, 0.7):
        point = places.mean(0) + (deep.min() + share * np.ptp(deep) - deep.mean()) * axis
        for lean in (0.0, 0.07, -0.13):
            girth = girth_of(shape, point, axis + lean * aside / np.linalg.norm(aside))
            assert (girth.parts, girth.closes) == (1, True), (share, lean)


# Faces


def test_faces_of_a_cold_tube_are_strained_by_half_their_thickness_over_the_radius():
    """Pure bending of a plate: ε = z κ (Timoshenko, Theory of Plates and Shells, § 1)."""
    shape = form(tube(wide=400.0, thickness=6.0)).shape
    bent = 3.0 / (400 / (2 * np.pi))
    assert shape.outer.p50 == pytest.approx(bent, rel=5e-3)
    assert shape.inner.p01 == pytest.approx(-bent, rel=5e-3)
    assert abs(shape.strain.p99) < 1e-4


# Panels laid flat as they stand


def test_a_panel_that_is_not_strained_lies_as_it_was_cut():
    panel = form(tube(edge=12.0)).cut_as_it_stands().panels[0]
    assert panel.laid == pytest.approx(panel.flat, abs=0.02)


def test_lengths_that_the_plane_can_give_are_given():
    """Every edge longer by a twentieth: the same outline, larger by a twentieth."""
    panel = form(replace(tube(edge=12.0), seams=())).shape.panels[0]
    corners = panel.flat[panel.triangles]
    lengths = np.linalg.norm(np.roll(corners, -2, 1) - np.roll(corners, -1, 1), axis=2)
    laid = laid_as_it_stands(panel.flat, panel.triangles, 1.05 * lengths)
    middle = panel.flat.mean(0)
    assert laid == pytest.approx(middle + 1.05 * (panel.flat - middle), abs=0.02)


def test_gores_cut_as_they_stand_on_a_ball_lie_on_it_with_less_strain():
    job = replace(cap(12.0, 4.0), former=Sphere(104.0), firmly=True)
    before = form(job)
    panels = tuple(
        replace(p, outline=tuple(map(tuple, f.laid[: f.boundary])))
        for p, f in zip(job.panels, before.cut_as_it_stands().panels, strict=True)
    )
    # As many points on all outlines as their meshes have: seams by those that are nearest.
    ends = [
        {
            k: int(np.argmin(np.linalg.norm(f.flat[: f.boundary] - np.array(p.outline[k]), axis=1)))
            for k in (0, 30, 60)
        }
        for p, f in zip(job.panels, before.shape.panels, strict=True)
    ]
    seams = tuple(
        replace(
            s,
            a=replace(s.a, start=ends[k][0], stop=ends[k][30]),
            b=replace(s.b, start=ends[(k + 1) % 5][60], stop=ends[(k + 1) % 5][30]),
        )
        for k, s in enumerate(job.seams)
    )
    after = form(replace(job, panels=panels, seams=seams))
    spread = before.strain.p99 - before.strain.p01
    assert after.strain.p99 - after.strain.p01 < 0.9 * spread


def test_triangles_may_be_finer_where_foam_curves_tightly():
    """A ring of 120 mm from triangles of 10 mm: their chords are no circle (2πr)."""
    job = tube(wide=120.0, high=60.0, thickness=5.0, edge=10.0)
    coarse, fine = form(job), form(job, finer=True)
    assert len(coarse.shell.triangles) < 250
    assert 1000 < len(fine.shell.triangles) < 3500
    radius = 120 / (2 * np.pi)
    off = [
        np.abs(
            np.array(round_about(f.places, vertex_normals(f.places, f.shell.triangles))) / radius
            - 1
        )
        for f in (coarse, fine)
    ]
    assert off[1].max() < 5e-4 < off[0].max()
    # What hardly curves stays as it was wished.
    wide = tube(wide=600.0, high=60.0, edge=10.0)
    assert len(form(wide, finer=True).shell.triangles) == len(form(wide).shell.triangles)
