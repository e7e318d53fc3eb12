"""The Measure station: wearers, the body figure, the sheet, and the fit of a set of pieces."""

from collections.abc import Callable
from datetime import date
from enum import StrEnum
from functools import partial

from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.wearer import spot
from ivory_quilt.desk.layout_engine import CostLayer
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.base import Station
from ivory_quilt.desk.stations.measure.around_panel import AroundPanel
from ivory_quilt.desk.stations.measure.around_picture import AroundPicture
from ivory_quilt.desk.stations.measure.around_presenter import AroundPresenter
from ivory_quilt.desk.stations.measure.figure import BodyFigure
from ivory_quilt.desk.stations.measure.fit_panel import FitPanel
from ivory_quilt.desk.stations.measure.picture import PicturePanel, PictureTable
from ivory_quilt.desk.stations.measure.presenter import MeasurePresenter
from ivory_quilt.desk.stations.measure.sheet import WearerSheet
from ivory_quilt.desk.stations.measure.sizes import SizesPanel
from ivory_quilt.desk.stations.measure.study_presenter import StudyPresenter
from ivory_quilt.desk.stations.measure.troupe_box import TroupeBox
from ivory_quilt.desk.stations.measure.troupe_presenter import TroupePresenter
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    button,
    column,
    label,
    row,
    scrolled,
)
from ivory_quilt.desk.widgets.empty import EmptyState
from ivory_quilt.desk.widgets.mode_bar import ModeBar
from ivory_quilt.desk.work import Background, at_once


class MeasureMode(StrEnum):
    """Where the maker works."""

    BODY = "body"
    SIZES = "sizes"
    GIRTHS = "girths"
    PICTURE = "picture"


MODES = (
    (MeasureMode.BODY, "Body", "Wearers and their measures"),
    (MeasureMode.SIZES, "Sizes", "Three sizes side by side, each with its foam and cost"),
    (MeasureMode.GIRTHS, "Girths", "Unlike parts that go around the body together, summed"),
    (MeasureMode.PICTURE, "Picture", "Real sizes from a reference picture"),
)


class MeasureStation(Station):
    """Who will wear it, and patterns sized to them."""

    ident = "measure"

    def __init__(self, session: Session, layer: CostLayer) -> None:
        """Show the wearers of `session`."""
        super().__init__(session)
        self.presenter = MeasurePresenter(session)
        self.today: Callable[[], date] = date.today
        self.figure = BodyFigure()
        self.figure.chosen.connect(self._choose)
        self.sheet = WearerSheet(self.presenter, lambda: self.today())
        self.sheet.chosen.connect(self._in_hand)
        self.how = label("", "note", wrap=True)
        self.how.setMinimumHeight(34)
        self.body = centre = QWidget()
        layout = QHBoxLayout(centre)
        layout.setContentsMargins(8, 8, 0, 0)
        left = QVBoxLayout()
        left.addWidget(self.figure, 1)
        left.addWidget(self.how)
        left.setContentsMargins(8, 4, 8, 8)
        layout.addLayout(left, 2)
        layout.addWidget(scrolled(self.sheet), 3)
        self.reader: Background = at_once
        self.study = StudyPresenter(self.presenter, lambda: self.reader)
        self.picture = PictureTable(self.study)
        self.picture_panel = PicturePanel(self.study, self.refresh)
        self.picture.changed.connect(self.picture_panel.fill)
        self.background: Background = at_once
        self.sizes = SizesPanel(
            session,
            self.presenter,
            lambda: self.background,
            layer,
            partial(self.go_to, MeasureMode.BODY),
        )
        self.mode = MeasureMode.BODY
        self.modes = ModeBar(MODES, self.go_to)
        self.stack = QStackedWidget()
        self.no_picture = EmptyState(
            "measure",
            "Open a picture of the armour as it is worn: lines over it become real sizes.",
            "Open a picture …",
            lambda: self.picture_panel.open.click(),
        )
        self.around = AroundPresenter(self.presenter)
        self.around_picture = AroundPicture()
        self.around_panel = AroundPanel(self.around, self.refresh)
        for page in (centre, self.sizes, self.around_picture, self.picture, self.no_picture):
            self.stack.addWidget(page)
        self.fit = FitPanel(
            self.presenter, partial(self.go_to, MeasureMode.SIZES), self._fit_changed
        )
        self.wearers = QComboBox()
        self.wearers.setAccessibleName("wearer")
        self.wearers.activated.connect(self._show_wearer)
        self.name = QLineEdit()
        self.name.setPlaceholderText("name of a wearer")
        self.name.setAccessibleName("name of the wearer")
        self.name.returnPressed.connect(self.add)
        self.complaint = Complaint()
        self.rename = button("Rename", self._rename, "quiet", "Give this wearer the name typed")
        self.remove = button("Remove", self._remove, "quiet", "Remove this wearer")
        self.troupe = TroupeBox(TroupePresenter(self.presenter))
        self.who = QWidget()
        self.who.setLayout(
            column(
                label("Who will wear it", "title"),
                row(self.wearers, self.remove),
                row(
                    self.name, button("Add", self.add, tip="Add a wearer of this name"), self.rename
                ),
                self.complaint,
                self.troupe,
                Stitch(),
                space=10,
            )
        )
        card = QWidget()
        card.setLayout(
            column(
                self.who, self.fit, self.around_panel, self.picture_panel, None, space=12, edge=16
            )
        )
        middle = QWidget()
        middle.setLayout(column(self.modes, self.stack, space=0))
        self.lay_out(middle, card)
        for name, mode in (
            ("body", MeasureMode.BODY),
            ("sizes", MeasureMode.SIZES),
            ("girths", MeasureMode.GIRTHS),
            ("picture", MeasureMode.PICTURE),
        ):
            self.offer(name, partial(self.go_to, mode))
        session.opened.connect(self._opened)

    def _opened(self) -> None:
        self.presenter.forget()
        self.sheet.forget()
        self.study.forget()
        self.mode = MeasureMode.BODY
        self._stale = True

    def go_to(self, mode: MeasureMode) -> None:
        """Go to Body, the sizes side by side, the girths, or the reference picture."""
        self.mode = mode
        self.refresh()
        self.picked.emit()

    def _fit_changed(self) -> None:
        if self.mode is MeasureMode.SIZES:
            self.sizes.refresh(self.look)

    # Showing

    def leave(self) -> None:
        """Stop laying sizes."""
        self.sizes.forget()

    def refresh(self) -> None:
        """Show the wearer in sight."""
        wearer = self.presenter.wearer
        self.wearers.clear()
        for known in self.presenter.wearers:
            self.wearers.addItem(known.name, known.id)
        if wearer is not None:
            self.wearers.setCurrentIndex(self.wearers.findData(wearer.id))
        self.wearers.setVisible(wearer is not None)
        self.remove.setEnabled(wearer is not None)
        self.rename.setEnabled(wearer is not None)
        self.sheet.fill(wearer)
        self.troupe.fill(wearer=wearer is not None)
        self._show_figure()
        self.fit.fill()
        self.modes.show_mode(self.mode, list(MeasureMode))
        self.no_picture.set_look(self.look)
        picture = self.picture if self.study.study is not None else self.no_picture
        pages = {
            MeasureMode.BODY: self.body,
            MeasureMode.SIZES: self.sizes,
            MeasureMode.GIRTHS: self.around_picture,
            MeasureMode.PICTURE: picture,
        }
        self.stack.setCurrentWidget(pages[self.mode])
        drawing = self.mode is MeasureMode.PICTURE
        self.canvas = self.picture if drawing else None
        girths = self.mode is MeasureMode.GIRTHS
        self.who.setVisible(self.mode is MeasureMode.BODY)
        self.fit.setVisible(not drawing and not girths)
        self.around_panel.setVisible(girths)
        if girths:
            self.around_panel.fill()
            self.around_picture.show_sum(self.around.total(), self.around.pieces(), self.look)
        self.fit.show_step(shown=self.mode is MeasureMode.SIZES)
        self.picture_panel.setVisible(drawing)
        if drawing:
            self.study.reload()
            self.picture.set_look(self.look)
            self.picture.show_picture(self.look)
            self.picture_panel.fill()
        elif self.mode is MeasureMode.SIZES:
            self.sizes.refresh(self.look)

    def _show_figure(self) -> None:
        held = self.presenter.spot
        measured = frozenset(m.spot for m in self.presenter.measured)
        self.figure.show_state(self.look, held, measured)
        if held:
            self.how.setText(f"{spot(held).title}: {spot(held).how}")
        elif self.presenter.wearer is None:
            self.how.setText("Add a wearer on the card; then type what the tape says.")
        else:
            self.how.setText("Click a line on the figure, or a field: the tape lies there.")

    # Doing

    def _choose(self, spot_id: str) -> None:
        self._in_hand(spot_id)
        self.sheet.show_spot(spot_id)

    def _in_hand(self, spot_id: str) -> None:
        self.presenter.spot = spot_id
        self._show_figure()

    def _show_wearer(self, index: int) -> None:
        self.presenter.wearer_id = str(self.wearers.itemData(index))
        self.sheet.forget()
        self.refresh()

    def add(self) -> None:
        """Add a wearer of the name that is typed."""
        self._try(partial(self.presenter.add, self.name.text()))

    def _rename(self) -> None:
        self._try(partial(self.presenter.rename, self.name.text()))

    def _try(self, change: Callable[[], None]) -> None:
        try:
            change()
        except InputError as error:
            self.complaint.setText(str(error))
            return
        self.complaint.setText("")
        self.name.clear()
        self.sheet.forget()
        self.refresh()

    def _remove(self) -> None:
        self.sheet.forget()
        self.presenter.remove()
