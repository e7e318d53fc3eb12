"""The demo project: pattern drawings, read as any SVG is, and what a maker decided about them."""

from decimal import Decimal

from ivory_quilt.core.document.project import Project, add_pieces, put_pieces
from ivory_quilt.core.document.seam_book import add_dart, join_edges
from ivory_quilt.core.measure.wearer import Measure, Wearer
from ivory_quilt.core.pattern.paint import CoatKind, PaintArea
from ivory_quilt.core.pattern.piece import FaceUp, Hand, Piece, Turn
from ivory_quilt.core.pattern.region import RegionKind
from ivory_quilt.core.pattern.seams import EdgeRef, Seam, marks_evenly
from ivory_quilt.core.pattern.thing import Thing, ThingStanding
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.schedule.bench_choices import BenchChoices
from ivory_quilt.demo import patterns as draw
from ivory_quilt.demo.drawing import Drawn, drawing
from ivory_quilt.demo.making import with_making
from ivory_quilt.demo.wearing import FORMS
from ivory_quilt.files.svg_read import read_svg

NAME = "Stag-beetle lamplighter"


class Decided(Struct, frozen=True):
    """A drawn piece and what the maker decided about it."""

    drawn: Drawn
    thickness: float
    count: int = 1
    hand: Hand = Hand.NONE
    turn: Turn = Turn.QUARTERS
    material: str = "eva"
    face: FaceUp = FaceUp.SKIN


def _pair(drawn: Drawn, thickness: float, count: int = 1, **rest: object) -> Decided:
    return Decided(drawn, thickness, count, Hand.PAIR, **rest)  # type: ignore[arg-type]


def patterns() -> dict[str, list[Decided]]:
    """Return the suit's drawings: file name to pieces."""
    free, along = Turn.FREE, Turn.DIRECTION
    hidden = FaceUp.EITHER
    return {
        "wing-cases.svg": [
            _pair(draw.wing_case("wing case", 230, 520, 0.12, scores=3), 6),
            _pair(draw.wing_case("wing case under-plate", 150, 380, 0.1), 4, face=hidden),
            _pair(draw.scute("wing hinge", 120, 90), 8, material="tile"),
            Decided(draw.horn("dorsal ridge", 420, 46, 0.1), 10, turn=along),
            _pair(draw.strip("wing rib", 300, 22, 18), 4),
            Decided(draw.lozenge("scutellum", 110, 170, 8), 6),
        ],
        "belly.svg": [
            Decided(
                draw.band(f"belly band {k + 1}", 430 - 26 * k, 74 - 3 * k, 26, 2), 6, turn=along
            )
            for k in range(5)
        ]
        + [
            Decided(draw.band("belt backing", 460, 60, 12, 3), 2, turn=along, face=hidden),
            Decided(draw.lozenge("belt lozenge", 58, 82, 7), 4, 6),
            Decided(draw.ring("belt stud", 14, 0), 2, 8, turn=free, face=hidden),
        ],
        "shoulders.svg": [
            _pair(draw.gore("shoulder cap crown", 150, 210), 6),
            _pair(draw.gore("shoulder cap front", 120, 217), 6),
            _pair(draw.gore("shoulder cap back", 126, 213.7), 6),
            _pair(draw.band("shoulder lame", 250, 56, 22, 1), 4),
            _pair(draw.strip("shoulder rim", 310, 18), 2, turn=along),
        ],
        "arms.svg": [
            _pair(draw.cuff("forearm cuff", 210, 285, 235, 4), 6),
            _pair(draw.band("forearm lame", 170, 44, 14), 4),
            _pair(draw.scute("elbow cup", 120, 130, 16), 4),
            _pair(draw.lozenge("hand plate", 84, 120), 4),
        ],
        "legs.svg": [
            _pair(draw.cuff("shin cuff", 230, 330, 330, 5), 6),
            _pair(draw.horn("shin ridge", 250, 34, 0.12), 8, material="tile"),
            _pair(draw.scute("knee cup", 150, 160, 22), 4),
            _pair(draw.band("knee lame", 190, 50, 16), 4),
            _pair(draw.scute("thigh plate", 190, 260), 8, material="tile"),
        ],
        "collar.svg": [
            _pair(draw.mandible("mandible", 150, 300), 10),
            _pair(draw.scute("mandible root", 100, 110), 8, material="tile"),
            Decided(draw.collar("collar front", 330, 190, 150), 4),
            Decided(draw.collar("collar back", 330, 160, 170), 4),
            Decided(draw.strip("collar edging", 480, 20, 12), 2, turn=along),
            _pair(draw.ring("eye bezel", 42, 27), 4, turn=free),
            _pair(draw.ring("eye backing", 36, 0), 2, turn=free, face=hidden),
        ],
        "crest.svg": [
            Decided(draw.scute("crest base", 160, 190), 8, material="tile"),
            Decided(draw.horn("horn spine", 320, 58), 6),
            Decided(draw.leaf("pole blade", 58, 480), 6),
        ],
        "spikes-and-trims.svg": [
            Decided(draw.spike("back spike", 44, 78), 4, 6, turn=free, face=hidden),
            Decided(draw.spike("small spike", 26, 50), 2, 6, turn=free, face=hidden),
            _pair(draw.strip("wing edging", 540, 16), 2, turn=along),
            Decided(draw.strip("belly edging", 400, 14), 2, 4, turn=along),
            Decided(draw.lozenge("lantern boss", 120, 120, 16), 10),
        ],
    }


def demo_drawings() -> dict[str, bytes]:
    """Return the demo's SVG pattern files, name to bytes."""
    return {name: drawing([d.drawn for d in pieces]) for name, pieces in patterns().items()}


def _taken(spot: str, value: float, uncertainty: float = 5.0, method: str = "tape") -> Measure:
    return Measure(spot, value, uncertainty, "2026-02-14", method)


# Invented, as everything in the demo.
WEARERS = (
    Wearer(
        "lamplighter",
        "Night lamplighter",
        (
            _taken("height", 1765, 10, "against the door"),
            _taken("head", 575),
            _taken("neck", 382),
            _taken("shoulders", 446, 8),
            _taken("chest", 985, 10),
            _taken("waist", 842, 10),
            _taken("forearm", 274),
            _taken("wrist", 172, 3),
            _taken("forearm-hand", 463, 4, "alone, against the bench"),
            _taken("thigh", 566, 8),
            _taken("calf", 312),
            _taken("ankle", 268, 5, "over the boot"),
            _taken("knee-height", 512),
            _taken("shoe", 291, 3, "the sole"),
        ),
    ),
    Wearer("bearer", "Lantern bearer", (_taken("height", 1652, 10), _taken("chest", 905, 10))),
)


SEAMS = (
    ("shoulder-cap-crown", "B", "shoulder-cap-front", "C"),
    ("shoulder-cap-crown", "C", "shoulder-cap-back", "B"),
    ("shoulder-cap-front", "B", "shoulder-cap-back", "C"),
    ("elbow-cup", "A", "elbow-cup", "B"),
    ("knee-cup", "A", "knee-cup", "B"),
    ("wing-case", "B", "wing-case", "B"),
)
DIHEDRALS = {"wing-case": 150.0}  # the two wing cases meet in a ridge


BENCH = BenchChoices(start="2027-03-29", event="2027-05-08")
PAINT = (
    PaintArea("tone", "beetle black", colour="#211c1a"),
    PaintArea(
        "tone-2",
        "dark chestnut",
        "between the ribs",
        ("wing-case",),
        coats=3,
        colour="#5b321d",
        on=RegionKind.LINE,
        of="2",
        width=44.0,
        mix="3 brown, 1 black",
        left=30.0,
        kinds=(CoatKind.SPONGED, CoatKind.SPONGED, CoatKind.WASH),
    ),
    PaintArea(
        "tone-3", "lamp brass", "rims", coats=1, colour="#b58f3c", on=RegionKind.EDGE, width=6.0
    ),
)
THINGS = (
    Thing(
        "lamp",
        "lantern light",
        2,
        Decimal("6.40"),
        "Thornmere",
        "",
        ThingStanding.ORDERED,
        "2027-04-12",
        "2027-04-20",
    ),
    Thing("buckle", "side-release buckle, 25 mm", 8, Decimal("0.65"), "Dewpond", "wing-case"),
    Thing(
        "elastic",
        "elastic, 20 mm, metre",
        3,
        Decimal("1.10"),
        "",
        "shin-cuff",
        ThingStanding.ON_HAND,
    ),
    Thing(
        "boots",
        "boots to cover",
        1,
        None,
        "",
        "",
        ThingStanding.NEEDED,
        "2027-05-02",
        "2027-04-20",
    ),
)


def project_from_drawings() -> Project:
    """Return the demo suit, read from its own SVG drawings."""
    project = Project(
        name=NAME, wearers=WEARERS, things=THINGS, bench=BENCH, paint=PAINT, forms=FORMS
    )
    files = demo_drawings()
    for name, pieces in patterns().items():
        decided = {d.drawn.name: d for d in pieces}
        for found in read_svg(files[name], file=name).pieces:
            choice = decided[found.name]
            piece: Piece = found.to_piece(
                thickness=choice.thickness,
                material=choice.material,
                count=choice.count,
                hand=choice.hand,
                face=choice.face,
                turn=choice.turn,
            )
            named = with_making(replace(piece, id=found.name.replace(" ", "-")))
            project = add_pieces(project, (named,))
    for first, edge, second, other in SEAMS:
        seam = Seam(
            EdgeRef(first, edge), EdgeRef(second, other), dihedral=DIHEDRALS.get(first, 180)
        )
        project = join_edges(project, seam)
        if first != second:
            made = marks_evenly(project.piece(first), project.piece(second), seam, 2)
            project = put_pieces(project, made)
    # A dart in the crown's foot, so that the cap closes over the arm.
    return add_dart(project, "shoulder-cap-crown", (75.0, 3.0), (75.0, 52.0), 9.0)
