"""How the making of a piece stands in files."""

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.build import (
    PLAIN,
    Build,
    Cover,
    CoverKind,
    EdgeProfile,
    Face,
    Form,
    FormKind,
    Given,
    Layer,
    LayerSide,
    LayerSize,
    Placing,
    Profile,
    ProfileKind,
    Trim,
    TrimKind,
    Wrap,
)
from ivory_quilt.core.pattern.piece import Crease
from ivory_quilt.files.wire import (
    BuildWire,
    CoverWire,
    CreaseWire,
    FormWire,
    LayerWire,
    PlacingWire,
    ProfileWire,
    TrimWire,
    WrapWire,
)


def build_of(w: BuildWire | None, where: str) -> Build:
    """Return what a file says of a piece's making.

    Raises:
        InputError: a value that makes no sense.
    """
    if w is None:
        return PLAIN
    f = w.form
    try:
        return Build(
            form=Form(
                FormKind(f.kind), Given(f.given), f.value, f.second, f.axis, Face(f.face), f.beneath
            ),
            edges=tuple(
                EdgeProfile(e.edge, Profile(ProfileKind(e.kind), e.angle, e.width)) for e in w.edges
            ),
            layers=tuple(
                Layer(
                    k.thickness,
                    k.material,
                    LayerSize(k.size),
                    k.by,
                    k.other,
                    LayerSide(k.side),
                    k.together,
                    k.hidden,
                )
                for k in w.layers
            ),
            on_form=w.on_form,
            split=w.split,
            rod=w.rod,
            wrap=None
            if w.wrap is None
            else Wrap(w.wrap.thickness, w.wrap.material, w.wrap.stretch, w.wrap.overhang),
            cover=_cover(w.cover),
            trims=tuple(
                Trim(t.edge, TrimKind(t.kind), t.size, t.halved, t.trenched) for t in w.trims
            ),
            placing=_placing(w.placing),
            sealed=w.sealed,
        )
    except InputError as error:
        raise InputError(f"{where}, {error.where}", error.problem, error.expected) from None


def _cover(w: CoverWire | None) -> Cover | None:
    return None if w is None else Cover(CoverKind(w.kind), w.thickness, w.material, w.margin)


def _placing(w: PlacingWire | None) -> Placing | None:
    return None if w is None else Placing(w.base, w.across, w.up, w.turn)


def build_wire(b: Build) -> BuildWire | None:
    """Return a piece's making as it stands in files; None when nothing was decided."""
    if b == PLAIN:
        return None
    f = b.form
    return BuildWire(
        form=FormWire(
            f.kind.value, f.given.value, f.value, f.second, f.axis, f.face.value, f.beneath
        ),
        edges=[
            ProfileWire(e.edge, e.profile.kind.value, e.profile.angle, e.profile.width)
            for e in b.edges
        ],
        layers=[
            LayerWire(
                k.thickness,
                k.material,
                k.size.value,
                k.by,
                k.other,
                k.side.value,
                k.together,
                k.hidden,
            )
            for k in b.layers
        ],
        on_form=b.on_form,
        split=b.split,
        rod=b.rod,
        wrap=None
        if b.wrap is None
        else WrapWire(b.wrap.thickness, b.wrap.material, b.wrap.stretch, b.wrap.overhang),
        cover=None
        if b.cover is None
        else CoverWire(b.cover.kind.value, b.cover.thickness, b.cover.material, b.cover.margin),
        trims=[TrimWire(t.edge, t.kind.value, t.size, t.halved, t.trenched) for t in b.trims],
        placing=None
        if b.placing is None
        else PlacingWire(b.placing.base, b.placing.across, b.placing.up, b.placing.turn),
        sealed=b.sealed,
    )


def crease_of(w: CreaseWire | None) -> Crease | None:
    """Return what a file says is done along a line."""
    return None if w is None else Crease(w.angle, w.radius, w.skin, w.front, w.folds)


def crease_wire(c: Crease | None) -> CreaseWire | None:
    """Return a crease as it stands in files."""
    return None if c is None else CreaseWire(c.angle, c.radius, c.skin, c.front, c.folds)
