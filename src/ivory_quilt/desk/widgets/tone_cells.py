"""What a text typed into a table of tones makes of one."""

from ivory_quilt.core.pattern.paint import PaintArea
from ivory_quilt.core.pattern.region import typed_region
from ivory_quilt.core.pattern.surface import WorkFace
from ivory_quilt.core.record import replace
from ivory_quilt.desk.widgets.fields import typed_word, typed_yes


def tone_region(area: PaintArea, text: str) -> PaintArea:
    """Return a tone on the place that a text says."""
    return area.at(typed_region(text, f"paint '{area.tone}', region"))


def tone_face(area: PaintArea, text: str) -> PaintArea:
    """Return a tone on the face that a text says."""
    return replace(area, face=typed_word(WorkFace, f"paint '{area.tone}', face", text))


def tone_before_glue(area: PaintArea, text: str) -> PaintArea:
    """Return a tone that is painted before gluing, or not, as a text says."""
    return replace(area, before_glue=typed_yes(text, "before gluing"))
