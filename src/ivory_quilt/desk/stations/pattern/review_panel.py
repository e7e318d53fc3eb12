"""What is doubtful in the pieces, each with a way to it and a mend."""

from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import QVBoxLayout, QWidget

from ivory_quilt.core.review.finding import Finding
from ivory_quilt.desk.widgets.basics import Stitch, button, clear, label, row

MOST_SHOWN = 30


class ReviewPanel(QWidget):
    """One block a finding; hidden when there is none."""

    def __init__(
        self,
        go_to: Callable[[Finding], None],
        mend: Callable[[Finding], None],
        leave: Callable[[Finding], None],
    ) -> None:
        """Call `go_to`, `mend` or `leave` with the finding whose button is pressed."""
        super().__init__()
        self._go_to, self._mend, self._leave = go_to, mend, leave
        self._shown: tuple[Finding, ...] | None = None
        self._blocks = QVBoxLayout(self)
        self._blocks.setContentsMargins(16, 0, 16, 12)
        self._blocks.setSpacing(8)

    def fill(self, findings: tuple[Finding, ...]) -> None:
        """Show findings."""
        self.setVisible(bool(findings))
        if self._shown is not None and [f.key for f in self._shown] == [f.key for f in findings]:
            return
        self._shown = findings
        clear(self._blocks)
        if not findings:
            return
        self._blocks.addWidget(label("Before you cut", "heading"))
        for finding in findings[:MOST_SHOWN]:
            self._blocks.addWidget(Stitch())
            self._blocks.addWidget(label(_sentence(finding.message), wrap=True))
            show = button("Show", partial(self._go_to, finding), "quiet", "Select it on the board")
            leave = button("Dismiss", partial(self._leave, finding), "quiet", "Hide this")
            if finding.mend:
                mend = button(_sentence(finding.mend), partial(self._mend, finding))
                self._blocks.addLayout(row(mend, None))
            self._blocks.addLayout(row(show, leave, None))
        if len(findings) > MOST_SHOWN:
            self._blocks.addWidget(label(f"and {len(findings) - MOST_SHOWN} more", "note"))


def _sentence(text: str) -> str:
    return text[:1].upper() + text[1:]
