"""Every joint of a plan, and how it is best glued: proposed with its reason, decided by the maker.

Which glue suits what is common practice, no published source; the product's label decides.
"""

from collections.abc import Iterator

from ivory_quilt.core.pattern.build import FormKind
from ivory_quilt.core.pattern.edges import edge_length, edges_of
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.plan.consuming import glued_seams, is_drawn
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.schedule.bench_choices import BenchChoices, FormOrder
from ivory_quilt.core.schedule.joint_choice import GlueKind, JointChoice
from ivory_quilt.core.stock.foam_stock import MaterialKind

POROUS = (MaterialKind.SOFT, MaterialKind.CLOTH)
SHORT = 0.06  # m: a drop of hot glue holds it before a brush is wet
LARGE = 0.06  # m² of one face: more than can be brushed before its start dries


class GluedJoint(Struct, frozen=True):
    """Two faces or edges that are glued together.

    Attributes:
        size: m of seam, or tenths of a square metre of face: what is brushed takes as long.
        pieces: ids of what is joined.
        face: whether faces are joined, not edges.
        porous: whether it takes two coats.
        flexes: it is closed round a limb and moves with it.
        heated: it is heated after it is glued.
        seen: whether it is on the outside.
    """

    id: str
    title: str
    size: float
    pieces: tuple[str, ...]
    face: bool
    porous: bool
    flexes: bool
    heated: bool
    seen: bool


class GlueProposal(Struct, frozen=True):
    """What suits a joint, and why."""

    glue: GlueKind
    filled: bool
    reason: str


def joints_of(plan: Plan, choices: BenchChoices) -> tuple[GluedJoint, ...]:
    """Return all joints: layers, wraps and covers by piece, then seams, then what is placed."""
    project = plan.project
    made: list[GluedJoint] = []
    for piece in project.pieces:
        if piece.count:
            made += _layer_joints(plan, piece, choices)
    made += _seam_joints(plan, choices)
    known = {p.id: p for p in project.pieces}
    for piece in project.pieces:
        base = piece.build.placing.base if piece.build.placing is not None else ""
        if piece.count and base in known and known[base].count and base != piece.id:
            area = foot_area(piece) or piece.shape.area
            size = 10 * area / 1e6 * piece.cut_count * plan.suit_count
            title = f"{piece.name} onto {known[base].name}"
            heated = _heated_later(choices, piece, known[base])
            made.append(
                _face_joint(f"onto:{piece.id}", title, size, (piece.id, base), heated=heated)
            )
    return tuple(made)


def foot_area(piece: Piece) -> float:
    """Return what of a piece is glued that stands on another with an edge, mm²; 0 for others."""
    placing = piece.build.placing
    if placing is None or not placing.stands:
        return 0.0
    foot = next((e for e in edges_of(piece) if e.name == placing.stands), None)
    return edge_length(piece, foot) * piece.thickness if foot is not None else 0.0


def _layer_joints(plan: Plan, piece: Piece, choices: BenchChoices) -> Iterator[GluedJoint]:
    for part in plan.parts.get(piece.id, ()):
        if is_drawn(piece.id, part) or part.stitched:
            continue
        size = 10 * part.shape.area / 1e6 * part.count
        soft = plan.stock.material(part.foam.material).kind in POROUS
        heated = _heated_later(choices, piece)
        title = f"{part.label} onto {piece.name}"
        face = _face_joint(f"layer:{part.id}", title, size, (piece.id,), heated=heated)
        yield replace(face, porous=soft)


def _face_joint(
    ident: str, title: str, size: float, pieces: tuple[str, ...], *, heated: bool
) -> GluedJoint:
    return GluedJoint(
        ident,
        title,
        size,
        pieces,
        face=True,
        porous=False,
        flexes=False,
        heated=heated,
        seen=False,
    )


def _seam_joints(plan: Plan, choices: BenchChoices) -> Iterator[GluedJoint]:
    for joint in glued_seams(plan.project):
        one, other = joint.one, joint.other
        if not (one.count and other.count and joint.count) or joint.stitched:
            continue
        both = tuple(dict.fromkeys([one.id, other.id]))
        title = f"{one.name} to {other.name}" if len(both) > 1 else f"{one.name} closed"
        metres = joint.length / 1000 * joint.count * plan.suit_count
        soft = plan.stock.material(one.material).kind in POROUS
        yield GluedJoint(
            f"seam:{one.id}.{joint.seam.first.edge}:{joint.number}",
            title,
            metres,
            both,
            face=False,
            porous=soft,
            flexes=len(both) == 1,
            heated=_heated_later(choices, one, other),
            seen=True,
        )


def _heated_later(choices: BenchChoices, *pieces: Piece) -> bool:
    if choices.order is not FormOrder.GLUE_FIRST:
        return False
    return any(p.build.form.kind is not FormKind.FLAT for p in pieces)


def proposal_of(joint: GluedJoint) -> GlueProposal:
    """Return what suits a joint, by what it must bear, and why."""
    filled = joint.seen and not joint.face and not joint.flexes
    hidden = (
        "" if filled or joint.face else " It bends: filler would crack, a strip or paint hides it."
    )
    if joint.heated and not joint.flexes and not joint.face:
        text = "It is heated after it is glued: contact cement and hot-melt would let go."
        return GlueProposal(GlueKind.CYANOACRYLATE, filled, text)
    if joint.face and joint.size / 10 >= LARGE and not joint.heated and not joint.porous:
        text = "The face is larger than a brush covers before its start dries."
        return GlueProposal(GlueKind.SPRAY, filled, text)
    if not joint.face and joint.size < SHORT and not joint.flexes:
        text = "It is short and does not bend: seconds instead of a quarter of an hour."
        return GlueProposal(GlueKind.HOT_MELT, filled, text)
    if joint.porous:
        text = "It is porous and must stay soft: two coats, dry between."
        return GlueProposal(GlueKind.CEMENT, filled, text + hidden)
    why = "It is worn bent, and cement bends with it." if joint.flexes else "It holds under pull."
    if joint.face:
        why = "Face on face: nothing slips, and it bends with the foam."
    return GlueProposal(GlueKind.CEMENT, filled, why + hidden)


def choice_of(joint: GluedJoint, choices: BenchChoices) -> JointChoice:
    """Return what the maker decided for a joint; contact cement where nothing was."""
    found = next((c for c in choices.joints if c.joint == joint.id), None)
    return found or JointChoice(joint.id, GlueKind.CEMENT, choices.filled)
