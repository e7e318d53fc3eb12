"""Panels that are alike, or did not change, share their triangles; no panel can spoil them."""

import numpy as np
import pytest

from ivory_quilt.core.formup.assembly import Assembly, FormPanel, FormSeam, SeamSide
from ivory_quilt.core.formup.meshing import meshed
from ivory_quilt.core.record import replace
from tests.core.formup.nets import fan, rectangle, tube


def panels(*sizes):
    """Return rectangles in a row, each joined to the next."""
    made = tuple(FormPanel(f"p{k}", rectangle(*s), 5.0) for k, s in enumerate(sizes))
    seams = tuple(
        FormSeam(SeamSide(f"p{k}", 1, 2, 1), SeamSide(f"p{k + 1}", 0, 3, -1))
        for k in range(len(sizes) - 1)
    )
    return Assembly(made, seams, edge=15.0)


def test_pieces_that_are_alike_share_their_triangles():
    (one, other, third), _ = meshed(panels((120, 80), (120, 80), (95, 80)), 15.0)
    assert one.points is other.points
    assert one.triangles is other.triangles
    assert [m.panel.panel.id for m in (one, other)] == ["p0", "p1"]
    assert third.points is not one.points


def test_a_piece_that_did_not_change_keeps_its_triangles():
    before, _ = meshed(panels((130, 70), (100, 60)), 15.0)
    after, _ = meshed(panels((130, 70), (101, 60)), 15.0)
    assert after[0].triangles is before[0].triangles
    assert np.ptp(after[1].points[:, 0]) == pytest.approx(101)


@pytest.mark.parametrize("change", [{"edge": 11.0}, {"seams": ()}])
def test_whatever_triangles_depend_on_makes_others(change):
    job = fan(120.0, edge=9.0)
    (first,), _ = meshed(job, job.edge)
    changed = replace(job, **change)
    (second,), _ = meshed(changed, changed.edge)
    assert first.triangles.shape != second.triangles.shape


def test_nobody_writes_into_what_is_shared():
    (mesh,), _ = meshed(tube(edge=30.0), 30.0)
    with pytest.raises(ValueError, match="read-only"):
        mesh.points[0] = 0.0
    with pytest.raises(ValueError, match="read-only"):
        mesh.triangles[0] = 0
