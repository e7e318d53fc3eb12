"""The card of the whole suit: whose figure, where the piece is worn, what lies between plates."""

from collections.abc import Iterator

from PySide6.QtWidgets import QComboBox, QWidget

from ivory_quilt.core.formup.choices import Worn
from ivory_quilt.core.formup.standing import Between
from ivory_quilt.core.formup.wearing import Nearness
from ivory_quilt.core.measure.body import BodyPart
from ivory_quilt.core.units import parse_scalar, show_length
from ivory_quilt.desk.stations.build.form_up.former_card import PARTS
from ivory_quilt.desk.stations.build.form_up.suit import SuitPresenter
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    choices,
    column,
    fill_box,
    label,
    narrow,
)
from ivory_quilt.desk.widgets.fields import EntryField, FieldLine, Taking, number_in
from ivory_quilt.desk.widgets.label_list import LabelList, Line
from ivory_quilt.desk.widgets.layout_hold import laid_out_once

MOST = 14  # pairs of plates that are listed
LEGS = 15.0  # mm between the legs that knees need in passing, from memory, no source
INTO = -1.0  # mm: foam gives that much before anybody sees it
KNOWS = (
    "The figure is a simple body of ellipses, to judge proportion and room by; never to fit by. "
    "It stands still: try moves in a mock-up."
)


class SuitCard(QWidget):
    """What is seen and decided of the whole suit."""

    def __init__(self, presenter: SuitPresenter) -> None:
        """Work `presenter`."""
        super().__init__()
        self._p = presenter
        self._piece = ""
        self.look: Palette = LIGHT
        self.error = Complaint()
        self.note = label("", "note", wrap=True)
        self.wearer = QComboBox()
        narrow(self.wearer)
        self.wearer.setAccessibleName("whose figure")
        self.wearer.activated.connect(
            lambda _: presenter.choose_wearer(str(self.wearer.currentData() or ""))
        )
        self.guessed = label("", "note", "heat", wrap=True)
        self.worn_title = label("", "heading", wrap=True)
        self.worn_note = label("", "note", wrap=True)
        self.part = choices(PARTS, self._wear)
        self.part.setAccessibleName("part of the body on which it is worn")
        self.level = EntryField("height along the part", self._wear)
        self.turn = EntryField("turn about the part", self._wear)
        self.near = LabelList()
        self.missing = label("", "note", wrap=True)
        self.setLayout(
            column(
                label("Figure", "heading"),
                self.wearer,
                self.note,
                self.guessed,
                Stitch(),
                self.worn_title,
                self.worn_note,
                FieldLine("Worn on", self.part),
                FieldLine("Height along it", self.level),
                FieldLine("Turned to the left", self.turn),
                self.error,
                Stitch(),
                label("Between plates", "heading"),
                self.near,
                Stitch(),
                self.missing,
                label(KNOWS, "note", wrap=True),
                space=8,
            )
        )

    def fill(self, piece_id: str) -> None:
        """Show what is known, and where a piece's group is worn."""
        self._piece = piece_id
        with laid_out_once(self):
            self._fill()

    def _fill(self) -> None:
        p = self._p
        wearers = p.form_up.session.project.wearers
        chosen = p.wearer
        self.near.look = self.look
        fill_box(
            self.wearer,
            [(w.name, w.id) for w in wearers],
            chosen.id if chosen is not None else "",
        )
        self.note.setText(p.problem or ("Forming the groups …" if p.running else ""))
        self.note.setVisible(bool(self.note.text()))
        dressed = p.dressed
        nearness = dressed.nearness if dressed is not None else None
        guessed = ", ".join(nearness.guessed).lower() if nearness is not None else ""
        self.guessed.setText(f"Guessed by the stature, not measured: {guessed}.")
        self.guessed.setVisible(bool(guessed))
        self._fill_worn()
        self.near.show_lines(tuple(_between(nearness)) if nearness is not None else ())
        self.missing.setText(self._not_there())
        self.missing.setVisible(bool(self.missing.text()))

    def _fill_worn(self) -> None:
        group = self._p.group_of(self._piece)
        worn = group.worn if group is not None else None
        self.worn_title.setText(f"Where {group.name} is worn" if group is not None else "")
        text = "" if group is not None and group.decided else "By its name; change it here."
        self.worn_note.setText("It is not on the figure." if worn is None else text)
        self.worn_note.setVisible(bool(self.worn_note.text()))
        shown = worn or Worn(BodyPart.TORSO)
        self.part.show_value(shown.part)
        self.level.show_value(100 * shown.height, "%")
        self.turn.show_value(shown.turn, "°")

    def _not_there(self) -> str:
        said = [f"{name}: {why}" for name, why in self._p.refused.items()]
        bare = [g.name for g in self._p.groups() if g.worn is None]
        if bare:
            said.append(f"Not on the figure: {', '.join(bare)}.")
        return "\n".join(said)

    def _wear(self, _: object) -> bool:
        group = self._p.group_of(self._piece)
        if group is None:
            return False
        with Taking(self.error) as taken:
            height = parse_scalar(number_in(self.level.text()), where="height along it") / 100
            turn = parse_scalar(number_in(self.turn.text()), where="turn")
            self._p.wear(Worn(self.part.value, height, turn))
        return bool(taken)


def _between(nearness: Nearness) -> Iterator[Line]:
    """Say what lies between legs, and between plates."""
    if nearness.legs is not None:
        legs = show_length(nearness.legs, digits=0)
        tone = "cut" if nearness.legs < LEGS else ""
        yield Line(f"Legs standing: {legs} between them", "", tone)
    for one in nearness.between[:MOST]:
        yield Line(f"{one.first} and {one.second}")
        yield Line(_apart(one), "note", "cut" if one.gap < INTO else "")


def _apart(one: Between) -> str:
    """Return how two groups lie to each other, in words."""
    if one.gap < INTO:
        text = f"{show_length(-one.gap, digits=0)} into each other"
    else:
        text = f"{show_length(max(one.gap, 0.0), digits=0)} apart"
    if one.overlap > 0:
        return f"{text}, {show_length(one.overlap, digits=0)} at one height"
    return f"{text}, {show_length(-one.overlap, digits=0)} bare between them"
