"""What goes through the pipe comes out the same, and shapes go once."""

from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.nesting.job import (
    LayJob,
    LayResult,
    PieceSpec,
    Placement,
    RollSpec,
    SheetSpec,
    StockUse,
)
from ivory_quilt.engine.messages import (
    LayingEnded,
    StartLaying,
    decode_from_engine,
    decode_to_engine,
    encode,
)
from ivory_quilt.engine.shape_book import ShapeBook

sizes = st.floats(1.0, 900.0)
places = st.floats(-500.0, 500.0)
poses = st.builds(Pose, places, places, st.sampled_from([0.0, 90.0, 33.3]), st.booleans())


@st.composite
def jobs(draw):
    pieces = []
    for k in range(draw(st.integers(0, 4))):
        shape = Shape.make([(0, 0), (draw(sizes), 0), (draw(sizes), draw(sizes))])
        quantity = draw(st.integers(1, 3))
        fixed = (Placement(f"p{k}", 0, "s", 0, draw(poses)),) if draw(st.booleans()) else ()
        turns = draw(st.sampled_from([None, (0.0,), (0.0, 90.0, 180.0)]))
        group = draw(st.sampled_from([None, "cap"]))
        pieces.append(
            PieceSpec(
                f"p{k}",
                shape,
                quantity,
                turns,
                draw(st.booleans()),
                fixed,
                group,
                draw(st.booleans()),
            )
        )
    foam = Shape.make([(0, 0), (900, 0), (900, 600), (0, 600)], [[(10, 10), (50, 10), (50, 50)]])
    flaws = (rectangle(draw(sizes), 5.0),) if draw(st.booleans()) else ()
    quantity = draw(st.sampled_from([None, 0, 4]))
    sheets = (SheetSpec("s", foam, quantity, draw(st.decimals(0, 99, places=2)), 3.0, flaws),)
    rolls = (RollSpec("r", draw(sizes), 5000.0, Decimal("0.021")),) if draw(st.booleans()) else ()
    return LayJob(tuple(pieces), sheets, rolls, draw(st.floats(0.0, 9.0)))


@given(jobs())
def test_a_job_comes_through_the_pipe_as_it_was_and_its_shapes_once(job):
    ours, theirs = ShapeBook(), ShapeBook()
    wire, new = ours.wire(job)
    theirs.learn(new)
    sent = encode(StartLaying(7, wire, 3, None, 5, Decimal("1.50"), (), 2))
    heard = decode_to_engine(sent)
    assert isinstance(heard, StartLaying)
    assert theirs.job(heard.job) == job
    assert (heard.ticket, heard.seed, heard.steps, heard.target) == (7, 3, 5, Decimal("1.50"))
    again, nothing = ours.wire(job)
    assert (again, nothing) == (wire, [])


@given(st.lists(poses, max_size=5), st.decimals(0, 999, places=2))
def test_a_result_comes_through_the_pipe_as_it_was(where, cost):
    placed = tuple(Placement("p", k, "s", k % 2, pose) for k, pose in enumerate(where))
    result = LayResult(
        placed,
        (("q", 1),),
        (StockUse("s", 0, None, 0.5), StockUse("r", 0, 812.5, 0.25)),
        cost,
        cost,
        0.4375,
        seed=3,
        history=((0.25, cost, 0.5),),
        faults=("a fault",),
    )
    heard = decode_from_engine(encode(LayingEnded(1, result)))
    assert isinstance(heard, LayingEnded)
    assert heard.result == result
    assert heard.result.faults == ("a fault",)


def test_a_shape_that_was_forgotten_is_sent_again():
    job = LayJob((PieceSpec("p", rectangle(40, 20)),), (SheetSpec("s", rectangle(90, 90)),))
    book = ShapeBook()
    _, first = book.wire(job)
    book.clear()
    _, again = book.wire(job)
    assert first == again
    assert len(first) == 2
    with pytest.raises(KeyError):
        ShapeBook().job(book.wire(job)[0])


def test_the_same_outline_has_one_key_whoever_made_it():
    made = Shape.make([(0, 0), (40, 0), (40, 20), (0, 20)])
    assert made.content_key == rectangle(40, 20).content_key
    assert made.content_key != rectangle(40, 21).content_key
    one = Shape.make([(0, 0), (9, 0), (9, 9)], [[(7, 1), (8, 1), (8, 2)]])
    assert one.content_key != Shape(one.outer).content_key
