"""Looks through the project for what is doubtful, a while after the last edit."""

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QObject, QTimer

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.review.finding import Finding
from ivory_quilt.core.review.review import review
from ivory_quilt.desk.stations.pattern.presenter import PatternPresenter
from ivory_quilt.desk.stations.pattern.review_panel import ReviewPanel
from ivory_quilt.desk.work import Background

PAUSE = 600  # ms after the last edit; starting and laying come first


class ReviewWatch(QObject):
    """Keeps a panel of findings true; large projects are looked through elsewhere."""

    def __init__(
        self,
        presenter: PatternPresenter,
        panel: ReviewPanel,
        background: Callable[[], Background],
        parent: QObject,
    ) -> None:
        """Fill `panel`; the work runs on what `background` returns."""
        super().__init__(parent)
        self._presenter, self._panel, self._background = presenter, panel, background
        self._shown = False
        self._reviewed: Project | None = None
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self._look_through)

    def fill(self, *, shown: bool) -> None:
        """Show what is known to be doubtful, or nothing; look again where something changed."""
        self._shown = shown
        if self._reviewed is not self._presenter.session.project:
            self._soon.start(PAUSE)
        self._panel.fill(self._presenter.open_findings() if shown else ())

    def _look_through(self) -> None:
        project = self._reviewed = self._presenter.session.project
        self._background()(partial(review, project), partial(self._have, project))

    def _have(
        self, project: Project, found: tuple[Finding, ...] | None, error: Exception | None
    ) -> None:
        if error is not None:
            raise error
        if project is self._presenter.session.project and found is not None:
            self._presenter.findings = found
            self._panel.fill(self._presenter.open_findings() if self._shown else ())
