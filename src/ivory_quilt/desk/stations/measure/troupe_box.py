"""A few lines on the card: how many suits the wearer in sight gets, and in which size."""

from PySide6.QtWidgets import QLineEdit, QWidget

from ivory_quilt.core.measure.troupe import MOST_SUITS
from ivory_quilt.desk.stations.measure.troupe_presenter import TroupePresenter
from ivory_quilt.desk.widgets.basics import Complaint, button, column, counter, label, row
from ivory_quilt.desk.widgets.fields import Taking, regard, show_count, show_text


class TroupeBox(QWidget):
    """Suits of one wearer, and what all suits come to."""

    def __init__(self, presenter: TroupePresenter) -> None:
        """Decide for the wearer in sight of `presenter`."""
        super().__init__()
        self._presenter = presenter
        self.count = counter(0, MOST_SUITS, "suits for this wearer")
        self.count.setSpecialValueText("none")
        self.count.setToolTip("Layouts, order and papers are for everyone who gets a suit")
        self.count.valueChanged.connect(presenter.set_count)
        self.percent = QLineEdit()
        self.percent.setFixedWidth(84)
        self.percent.setAccessibleName("size of this wearer's suit")
        self.percent.setToolTip("Percent of the pieces as they are drawn")
        self.percent.editingFinished.connect(self._set_size)
        self.from_fit = button(
            "From the fit",
            self._size_from_fit,
            tip="The size at which the piece below meets this wearer's measure",
        )
        self.complaint = Complaint()
        self.own = label("", "note", wrap=True)
        self.words = label("", "note", wrap=True)
        self.setLayout(
            column(
                row(label("Suits"), None, self.count),
                row(label("Size"), None, self.percent, self.from_fit),
                self.complaint,
                self.own,
                self.words,
                space=8,
            )
        )

    def fill(self, *, wearer: bool) -> None:
        """Show what is decided; `wearer`: whether there is one."""
        member = self._presenter.member
        regard(self, self._presenter.subject)
        self.setVisible(wearer)
        show_count(self.count, member.count if member is not None else 0)
        show_text(self.percent, self._presenter.size_words)
        self.percent.setEnabled(member is not None)
        self.own.setText(self._presenter.own_words())
        self.own.setVisible(bool(self.own.text()))
        self.words.setText(self._presenter.words())

    def _set_size(self) -> None:
        with Taking(self.complaint, self.percent):
            self._presenter.set_size(self.percent.text())

    def _size_from_fit(self) -> None:
        with Taking(self.complaint, self.percent):
            self._presenter.size_from_fit()
