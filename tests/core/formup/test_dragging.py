"""A shape that follows a number: what is kept from the last one changes nothing that is found."""

import numpy as np
import pytest

from ivory_quilt.benchmarks.formup import cap
from ivory_quilt.core.formup import dragging
from ivory_quilt.core.formup.assembly import Cylinder, Sphere
from ivory_quilt.core.formup.dragging import Dragged, coarse_edge
from ivory_quilt.core.formup.form import OUTSIDE, form
from ivory_quilt.core.record import replace
from tests.core.formup.nets import rectangle, tube


def test_a_dragged_shape_is_the_coarse_one_and_follows_each_number():
    dragged = Dragged()
    first = dragged.form(cap(8.0, 5.0))
    assert len(first.shell.triangles) < 500
    for thick in (5.5, 7.0, 9.0):
        found = dragged.form(cap(8.0, thick))
        anew = form(replace(cap(8.0, thick), edge=coarse_edge(cap(8.0, thick))))
        assert found.shell is not first.shell
        assert found.energy == pytest.approx(anew.energy, rel=0.05)
        assert found.shape.size == pytest.approx(anew.shape.size, rel=0.02)


def test_a_dragged_outline_and_former_are_followed_and_another_group_is_begun_anew():
    dragged = Dragged()
    wide = [dragged.form(tube(wide=w, edge=14.0)).shape.size[1] for w in (300.0, 310.0, 330.0)]
    assert wide == pytest.approx([w / np.pi for w in (300, 310, 330)], rel=0.02)
    sleeve = [tube(wide=420.0, high=80.0, edge=14.0, former=Cylinder(r)) for r in (58.0, 61.0)]
    far = [np.hypot(*dragged.form(s).places[:, :2].T).mean() for s in sleeve]
    assert far[1] > far[0]
    flat = dragged.form(replace(tube(edge=14.0), seams=()))
    assert flat.shape.strain.p99 < 1e-6
    assert flat.shape.panels[0].flat.max(0) == pytest.approx(rectangle(400, 150)[2])


def test_a_former_dragged_far_ends_where_one_begun_there_does():
    job = replace(cap(7.5), former=Sphere(104.0))
    dragged = Dragged()
    meshes = {id(dragged.form(replace(job, former=Sphere(104.0 + k))).shell.meshes) for k in (0, 1)}
    found = [dragged.form(replace(job, former=Sphere(104.0 + k))) for k in range(2, 13)]
    assert meshes == {id(f.shell.meshes) for f in found}
    alone = form(replace(job, former=Sphere(116.0), edge=coarse_edge(job)), passes=1)
    assert found[-1].settled
    assert found[-1].energy == pytest.approx(alone.energy, rel=0.02)
    assert found[-1].strain.p99 == pytest.approx(alone.strain.p99, abs=0.002)
    # What was told of before stays as it was.
    assert found[0].shell.lengths is not found[1].shell.lengths


def test_a_shape_that_cannot_be_carried_over_is_begun_anew(monkeypatch):
    dragged = Dragged()
    dragged.form(tube(wide=300.0, edge=14.0))

    def lost(_meshes, _shell, _places, _curved, _into, shell):
        return np.full((shell.count, 3), np.nan), np.full((len(shell.triangles), 3), np.nan)

    monkeypatch.setattr(dragging, "carried", lost)
    found = dragged.form(tube(wide=310.0, edge=14.0))
    assert found.shape.size[1] == pytest.approx(310 / np.pi, rel=0.02)


@pytest.mark.parametrize("radius", [60.0, 80.0, 110.0])
@pytest.mark.parametrize("edge", [12.0, 9.0])
def test_what_does_not_go_over_a_former_stands_on_it_and_is_not_pierced(edge, radius):
    formed = form(replace(cap(edge), former=Cylinder(radius)))
    assert formed.off.min() > -0.5 * 5.0 / 2
    assert formed.strain.p99 < 0.05
    assert formed.off.max() > 80.0
    assert not any("does not fit inside" in text for text in formed.problems)


def test_it_says_that_it_stands_on_the_former():
    assert OUTSIDE in form(replace(cap(12.0), former=Cylinder(60.0))).problems
    assert OUTSIDE not in form(replace(cap(12.0), former=Sphere(104.0))).problems
