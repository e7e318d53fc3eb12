"""The seam map's card: the seam in hand, what is offered, and the list of all seams."""

from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import QFrame, QLineEdit, QSizePolicy, QVBoxLayout, QWidget

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.editing.proposals import SeamProposal
from ivory_quilt.core.pattern.seams import Seam
from ivory_quilt.core.units import show_number
from ivory_quilt.desk.stations.pattern.seams.presenter import (
    EASE_PLACES,
    SeamPresenter,
    verdict_words,
)
from ivory_quilt.desk.stations.pattern.seams.strip import SeamStrip
from ivory_quilt.desk.theme.palette import Palette
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    button,
    choices,
    clear,
    column,
    counter,
    label,
    row,
    set_tone,
)
from ivory_quilt.desk.widgets.fields import Taking, show_text
from ivory_quilt.desk.widgets.slip import SlipFigure
from ivory_quilt.desk.work import Background

MOST_SHOWN = 40


class SeamCard(QWidget):
    """What can be done about seams."""

    def __init__(
        self,
        presenter: SeamPresenter,
        changed: Callable[[], None],
        background: Callable[[], Background],
    ) -> None:
        """Work `presenter`; call `changed` when the map must be drawn anew.

        Seams are looked for on what `background` returns.
        """
        super().__init__()
        self._background = background
        self._presenter, self._changed = presenter, changed
        self.summary = label("", wrap=True)
        self.held = QFrame()
        self.held.setObjectName("Bar")
        self.name = label("", "heading", wrap=True)
        self.figure = SlipFigure("figure")
        self.verdict = label("", wrap=True)
        self.strip = SeamStrip()
        self.error = Complaint()
        self.join = button("Add seam", self._join, "main")
        self.turn = button(
            "Reverse", self._turn, "quiet", "Reverse: let the second edge run the other way"
        )
        self.unite = button("Merge", self._unite, tip="The two pieces become one, without a seam")
        self.open = button("Remove seam", self._open, "quiet", "The two edges are free again")
        self.marks = counter(1, 40, "how many match marks")
        self.marks.setValue(3)
        self.evenly = button(
            "Even marks", self._evenly, tip="Match marks that spread the ease evenly"
        )
        self.locally = button(
            "Distribute ease",
            self._locally,
            tip="Two marks; all of the ease falls between them",
        )
        self.place = choices(EASE_PLACES, lambda _: None, EASE_PLACES[1][0])
        self.place.setAccessibleName("where the ease goes")
        self.mark_box = QWidget()
        place = row(label("Ease"), self.place)
        even, local = row(self.marks, self.evenly, None), row(self.locally, None)
        self.mark_box.setLayout(column(even, place, local))
        self.held.setLayout(
            column(
                self.name,
                self.figure,
                self.verdict,
                self.strip,
                row(self.join, self.unite, self.turn, None),
                self.mark_box,
                row(self.open, None),
                edge=10,
            )
        )
        self.ease = QLineEdit()
        self.ease.setAccessibleName("how much can be eased in, percent")
        self.ease.setFixedWidth(64)
        self.ease.editingFinished.connect(self._set_ease)
        self.offers = QVBoxLayout()
        self.offers.setSpacing(6)
        self.seams = QVBoxLayout()
        self.seams.setSpacing(2)
        self.look = button(
            "Find seams", self._look, tip="Edges of one length and shape, with marks that agree"
        )
        self.setLayout(
            column(
                label("Seams", "title"),
                self.summary,
                self.held,
                self.error,
                row(label("Can be eased up to"), self.ease, label("%"), None),
                row(self.look, None),
                self.offers,
                Stitch(),
                self.seams,
                None,
                space=10,
                edge=16,
            )
        )

    # Showing

    def fill(self, palette: Palette) -> None:
        """Show the seam in hand, the offers and the list."""
        p = self._presenter
        self.summary.setText(p.summary())
        show_text(self.ease, show_number(p.session.project.ease, 1))
        if p.first is not None:
            piece = p.session.project.piece(p.first.piece)
            self.summary.setText(f"{piece.name}, edge {p.first.edge}: click the edge it meets.")
        self._fill_held(palette)
        self._fill_offers()
        self._fill_seams()

    def _fill_held(self, palette: Palette) -> None:
        p = self._presenter
        seam = p.pending or p.chosen
        self.held.setVisible(seam is not None)
        if seam is None:
            return
        fit = p.fit(seam)
        words, tone = verdict_words(fit, p.mate(seam))
        self.name.setText(p.name(seam))
        self.verdict.setText(words[:1].upper() + words[1:])
        set_tone(self.verdict, tone)
        self.figure.setVisible(fit is not None)
        self.strip.setVisible(fit is not None)
        if fit is not None:
            off = show_number(abs(fit.difference), 1)
            sign = "" if off == "0" else "+" if fit.difference > 0 else "−"
            text = f"{sign}{off} mm"
            self.figure.show_figure(text, fit.reckon)
            self.strip.show_fit(fit, palette)
        pending = p.pending is not None
        self.join.setVisible(pending)
        self.open.setVisible(not pending)
        self.mark_box.setVisible(not pending and fit is not None)
        self.turn.setVisible(fit is not None)
        self.unite.setVisible(fit is not None and p.can_unite())

    def _fill_offers(self) -> None:
        clear(self.offers)
        offers = self._presenter.proposals
        if not offers:
            return
        every = button(f"Add all {len(offers)}", self._accept_all) if len(offers) > 1 else None
        self.offers.addLayout(
            row(label(f"Offered: {len(offers)}", "heading"), None, *([every] if every else []))
        )
        for offer in offers[:MOST_SHOWN]:
            name = self._presenter.name(offer.seam)
            self.offers.addWidget(label(name[:1].upper() + name[1:], wrap=True))
            self.offers.addWidget(label(offer.reason, "note", wrap=True))
            self.offers.addLayout(
                row(
                    button("Join", partial(self._accept, offer)),
                    button("Show", partial(self._show, offer), "quiet"),
                    button("Dismiss", partial(self._leave, offer), "quiet"),
                    None,
                )
            )

    def _fill_seams(self) -> None:
        clear(self.seams)
        for number, entry in enumerate(self._presenter.book[:MOST_SHOWN], 1):
            words, tone = verdict_words(entry.fit, entry.mate)
            name = self._presenter.name(entry.seam)
            lines = f"{number}  {name}".replace(" to ", "\n     to ", 1)
            pick = button(lines, partial(self._choose, entry.seam), "quiet")
            pick.setStyleSheet("text-align: left;")
            pick.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            pick.setToolTip(name)
            note = label(words, "note", tone)
            note.setContentsMargins(14, 0, 0, 4)
            self.seams.addWidget(pick)
            self.seams.addWidget(note)

    # Doing

    def _do(self, work: Callable[[], None], *fields: QLineEdit) -> None:
        with Taking(self.error, *fields) as taken:
            work()
        if taken:
            self._changed()

    def _set_ease(self) -> None:
        self._do(lambda: self._presenter.set_ease(self.ease.text()), self.ease)

    def _join(self) -> None:
        self._do(self._presenter.join)

    def _turn(self) -> None:
        self._do(self._presenter.turn)

    def _unite(self) -> None:
        self._do(self._presenter.unite)

    def _open(self) -> None:
        self._do(self._presenter.open)

    def _evenly(self) -> None:
        self._do(lambda: self._presenter.mark_evenly(self.marks.value()))

    def _locally(self) -> None:
        begin, end = EASE_PLACES[self.place.currentIndex()][0]
        self._do(lambda: self._presenter.mark_locally(begin, end))

    def _look(self) -> None:
        project = self._presenter.session.project
        self._background()(
            partial(self._presenter.found, project), partial(self._have_looked, project)
        )

    def _have_looked(
        self, project: Project, found: tuple[SeamProposal, ...] | None, error: Exception | None
    ) -> None:
        if error is not None:
            raise error
        if found is None or project is not self._presenter.session.project:
            return
        self._presenter.proposals = found
        if not found:
            self._presenter.session.tell("No two free edges agree in length and shape.", "heat")
        self._changed()

    def _accept(self, offer: SeamProposal) -> None:
        self._do(lambda: self._presenter.add(offer.seam))

    def _accept_all(self) -> None:
        self._do(self._presenter.accept_all)

    def _show(self, offer: SeamProposal) -> None:
        self._presenter.first = self._presenter.chosen = None
        self._presenter.pending = offer.seam
        self._changed()

    def _leave(self, offer: SeamProposal) -> None:
        self._presenter.leave(offer)
        self._changed()

    def _choose(self, seam: Seam) -> None:
        self._presenter.first = self._presenter.pending = None
        self._presenter.chosen = seam
        self._changed()
