"""What the list before cutting says of seams, names and the pen, with its mends."""

import pytest

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.document.seam_book import fit_of, join_edges
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.piece import Hand, Piece, TraceRule
from ivory_quilt.core.pattern.seams import EdgeRef, Seam
from ivory_quilt.core.record import replace
from ivory_quilt.core.review.review import review

SEAM = Seam(EdgeRef("a", "A"), EdgeRef("b", "C"))


def plate(ident, width, **more):
    return Piece(ident, f"plate {ident}", rectangle(width, 60), **more)


def joined(width, **more):
    return join_edges(Project(pieces=(plate("a", 100), plate("b", width, **more))), SEAM)


def only(project, code):
    (found,) = [f for f in review(project) if f.code == code]
    return found


def test_a_seam_that_does_not_fit_is_in_the_list_with_its_place():
    found = only(joined(110), "seam-mismatch")
    assert "10 mm, 10 %" in found.message
    assert found.seam == SEAM
    assert found.pieces == ("a", "b")
    assert found.mend == "let a strip of 10 mm into 'plate a'"
    mended = found.apply(joined(110))
    assert fit_of(mended, SEAM).difference == pytest.approx(0, abs=0.01)
    assert mended.piece("a").shape.width == pytest.approx(110)
    assert review(joined(101)) == ()  # that can be eased in


def test_marks_that_miss_are_set_anew():
    project = joined(101, match_marks=((20, 60), (70, 60)))
    found = only(project, "seam-marks")
    mended = found.apply(project)
    assert fit_of(mended, SEAM).marks_meet
    assert len(fit_of(mended, SEAM).landings) == 2
    assert review(mended) == ()


def test_a_lost_seam_is_opened():
    project = joined(100)
    lost = replace(project, pieces=tuple(replace(p, edges=p.edges[1:]) for p in project.pieces))
    mended = only(lost, "seam-lost").apply(lost)
    assert mended.seams == ()


def test_pieces_of_one_name_are_numbered():
    twins = tuple(replace(plate(i, w), name="rib") for i, w in (("a", 100), ("b", 130)))
    project = Project(pieces=twins)
    mended = only(project, "same-name").apply(project)
    assert [p.name for p in mended.pieces] == ["rib 1", "rib 2"]
    hands = Project(
        pieces=tuple(
            replace(p, hand=h) for p, h in zip(twins, (Hand.LEFT, Hand.RIGHT), strict=True)
        )
    )
    assert "same-name" not in [f.code for f in review(hands)]


def test_a_pen_wider_than_the_gap_is_told():
    thin, thick = (
        replace(Project(pieces=(plate("a", 100),)), rule=TraceRule(pen=pen)) for pen in (1.0, 3.0)
    )
    assert review(thin) == ()
    assert [f.code for f in review(thick)] == ["gap-under-pen"]
    assert only(thick, "gap-under-pen").apply(thick).gap == 3.0
