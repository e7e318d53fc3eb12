"""The page table as one place: pages on their way in, table and card together."""

from collections.abc import Callable
from functools import partial

from ivory_quilt.core.reading.found import Reading
from ivory_quilt.core.reading.tracing.picture import LoadedPicture, PictureScale
from ivory_quilt.desk.imports.pages import PagesImport, pages_of_pictures
from ivory_quilt.desk.stations.pattern.pages.card import PagesCard
from ivory_quilt.desk.stations.pattern.pages.table import PageTable
from ivory_quilt.desk.stations.pattern.presenter import PatternPresenter
from ivory_quilt.desk.theme.palette import Palette
from ivory_quilt.desk.work import Background


class PagesPane:
    """Pages that belong together, their table and their card."""

    def __init__(
        self,
        presenter: PatternPresenter,
        background: Callable[[], Background],
        changed: Callable[[], None],
    ) -> None:
        """Work `presenter`'s pages; long work runs on what `background` returns."""
        self._presenter, self._background, self._changed = presenter, background, changed
        self.table = PageTable()
        self.card = PagesCard(self.bring_in, self.one_by_one, self.leave, self.rescale, changed)
        self.table.clicked.connect(changed)
        self.table.refused.connect(self.card.complain)

    @property
    def found(self) -> PagesImport | None:
        """The pages that wait."""
        return self._presenter.pages

    def refresh(self, look: Palette) -> None:
        """Show the pages and the card."""
        if self.found is not None:
            self.table.show_pages(self.found, look)
            self.card.fill(self.found)

    def bring_in(self) -> None:
        """Bring the joined pattern in; scans become one picture to be traced."""
        found = self.found
        if found is None:
            return
        work = found.picture if found.scans else found.reading
        self._background()(work, partial(self._have, found))

    def _have(
        self, found: PagesImport, made: LoadedPicture | Reading | None, error: Exception | None
    ) -> None:
        if error is not None:
            self.card.complain(str(error))
        elif made is not None:
            self._presenter.take_pages(found, made)
        self._changed()

    def one_by_one(self) -> None:
        """Read the pages of a PDF each on its own."""
        if self.found is not None:
            self._background()(self.found.singly, partial(self._have_singly, self.found))

    def _have_singly(
        self, found: PagesImport, reading: Reading | None, error: Exception | None
    ) -> None:
        if reading is None:
            self.card.complain(str(error))
            return
        self._presenter.take_singly(found, reading)
        self._changed()

    def leave(self) -> None:
        """Let the pages go."""
        self._presenter.pages = None
        self._changed()

    def rescale(self, scale: PictureScale) -> None:
        """Look at the scans again at another scale."""
        if self.found is not None and self.found.pictures:
            work = partial(pages_of_pictures, self.found.pictures, scale)
            self._background()(work, self._have_pages)

    def _have_pages(self, found: PagesImport | None, error: Exception | None) -> None:
        if error is not None:
            self.card.complain(str(error))
        elif found is not None:
            self._presenter.pages = found
        self._changed()
