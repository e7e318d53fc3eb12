"""Assemblies and shapes go through the pipe whole: every field, whatever is added to them."""

import msgspec
import numpy as np
import pytest

from ivory_quilt.core.formup.assembly import Assembly, Cylinder, MeshFormer, Sphere
from ivory_quilt.core.formup.form import form
from ivory_quilt.core.formup.outcome import FormedPanel, FormedShape
from ivory_quilt.core.record import replace
from ivory_quilt.engine.forming import (
    AssemblyMessage,
    ShapeMessage,
    assembly_from,
    assembly_message,
    shape_from,
    shape_message,
)
from tests.core.formup.nets import tube


def through(message, kind):
    return msgspec.msgpack.decode(msgspec.msgpack.encode(message), type=kind)


@pytest.mark.parametrize("former", [None, Sphere(60.0), Cylinder(55.0)])
def test_an_assembly_comes_out_as_it_went_in(former):
    job = replace(tube(edge=15.0, former=former), firmly=former is not None)
    assert assembly_from(through(assembly_message(job), AssemblyMessage)) == job


def test_a_body_comes_out_as_it_went_in():
    body = MeshFormer(np.eye(3), np.array([[0, 1, 2]]))
    made = assembly_from(through(assembly_message(tube(former=body)), AssemblyMessage))
    assert isinstance(made, Assembly)
    assert made.former.vertices.tolist() == body.vertices.tolist()
    assert made.former.triangles.tolist() == [[0, 1, 2]]


def test_a_shape_comes_out_with_every_field():
    shape = form(tube(wide=420.0, high=80.0, edge=20.0, former=Cylinder(60.0))).cut_as_it_stands()
    made = shape_from(through(shape_message(shape), ShapeMessage))
    for name in FormedShape.__struct_fields__:
        if name != "panels":
            assert getattr(made, name) == getattr(shape, name), name
    assert made.off is not None
    assert made.outer != made.inner
    for name in FormedPanel.__struct_fields__:
        one, other = (getattr(s.panels[0], name) for s in (made, shape))
        assert np.array_equal(one, other), name
    assert len(made.panels[0].laid) == len(made.panels[0].flat)
