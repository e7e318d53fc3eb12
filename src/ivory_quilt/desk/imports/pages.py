"""Pages on their way in: joined by their marks, or by two points clicked on each of two."""

from collections.abc import Sequence
from typing import TYPE_CHECKING

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Point, Pose
from ivory_quilt.core.reading.found import Reading
from ivory_quilt.core.reading.pages.page import JoinedPages, Page, PageJoin, two_point_join
from ivory_quilt.core.reading.pages.place import place_pages, placed_scans, settle
from ivory_quilt.core.reading.progress import ReadReport, tell_nobody
from ivory_quilt.core.reading.tracing.picture import LoadedPicture, PictureScale
from ivory_quilt.core.record import Struct, field
from ivory_quilt.core.units import counted
from ivory_quilt.files.drawings import read_drawing
from ivory_quilt.files.kinds import title

if TYPE_CHECKING:  # it loads the picture library
    from ivory_quilt.core.reading.tracing.page_marks import MarkedPicture

APART = 25.0  # mm between pages that are not joined yet


class PagesImport(Struct):
    """Pages that wait to be joined.

    Attributes:
        pictures: (name, picture) of scans, so that they can be looked at at another scale.
        scans: for pictures, what `picture_join` made of them, one a page.
        placed: how the pages lie now.
        by_hand: joins that the maker made; they count before those found.
        clicks: (page, place on it) clicked so far for the next join by hand.
    """

    file: str
    pages: list[Page]
    placed: JoinedPages
    data: bytes = b""
    pictures: tuple[tuple[str, LoadedPicture], ...] = ()
    scans: list["MarkedPicture"] = field(default_factory=list)
    by_hand: list[PageJoin] = field(default_factory=list)
    clicks: list[tuple[int, Point]] = field(default_factory=list)

    @property
    def marks(self) -> int:
        """How many registration marks were found on all pages."""
        return sum(len(p.marks) for p in self.pages)

    def summary(self) -> str:
        """Return how the pages lie, in a sentence."""
        many, joined = len(self.pages), self.placed.joined
        if not joined:
            seen = counted(self.marks, "registration mark")
            return f"{counted(many, 'page')}, {seen}; none are joined yet."
        off = f"marks within {max(self.placed.residual, 0.01):.2f} mm"
        all_ = "All" if joined == many else f"{joined} of"
        return f"{all_} {many} pages are joined, {off}."

    def next_step(self) -> str:
        """Return what to click next for a join by hand."""
        done = len(self.clicks)
        if done == 0:
            return "By hand: click a point on one page that is also on another."
        page = self.pages[self.clicks[0][0]].number
        if done == 1:
            return f"Click a second point on page {page}, far from the first."
        place = "first" if done == 2 else "second"
        return f"Now click the {place} point on the other page."

    def click(self, page: int, at: Point) -> None:
        """Take a point; after two on each of two pages they are joined.

        Raises:
            InputError: the points do not say a join; they are let go.
        """
        done = len(self.clicks)
        on_first = done > 0 and page == self.clicks[0][0]
        if (done == 1 and not on_first) or (done == 2 and on_first):
            self.clicks = []
        elif len(self.clicks) == 3 and page != self.clicks[2][0]:
            self.clicks = self.clicks[:2]
        self.clicks.append((page, at))
        if len(self.clicks) < 4:
            return
        (first, a), (_, b), (second, c), (_, d) = self.clicks
        self.clicks = []
        self.join(two_point_join(self.pages, first, second, (a, b), (c, d)))

    def join(self, join: PageJoin) -> None:
        """Add a join by hand; one that was found between the same pages gives way."""
        pair = {join.first, join.second}
        self.by_hand = [j for j in self.by_hand if {j.first, j.second} != pair] + [join]
        self._settle()

    def part(self) -> None:
        """Let go of all joins by hand, and of the clicks."""
        self.by_hand, self.clicks = [], []
        self._settle()

    def _settle(self) -> None:
        found = placed_scans(self.pages) if self.scans else place_pages(self.pages)
        pairs = [{j.first, j.second} for j in self.by_hand]
        joins = [j for j in found.joins if {j.first, j.second} not in pairs] + self.by_hand
        turned = bool(self.scans) or bool(self.by_hand)
        self.placed = settle(len(self.pages), joins, turned=turned)

    def shown_at(self) -> list[Pose]:
        """Return where each page is shown: joined ones as they lie, the others beside them."""
        laid = zip(self.placed.poses, self.pages, strict=True)
        boxes = [(pose, page) for pose, page in laid if pose is not None]
        right = max((p.x + page.width for p, page in boxes), default=-APART)
        top = max((p.y + page.height for p, page in boxes), default=self.pages[0].height)
        x = right + APART
        shown: list[Pose] = []
        for pose, page in zip(self.placed.poses, self.pages, strict=True):
            if pose is not None:
                shown.append(pose)
                continue
            shown.append(Pose(x, top - page.height))
            x += page.width + APART
        return shown

    def reading(self) -> Reading:
        """Return what vector pages hold as they are joined."""
        from ivory_quilt.core.reading.pages.joined_reading import assemble_pages  # it loads scipy

        return assemble_pages(self.pages, self.placed, self.file)

    def singly(self) -> Reading:
        """Return what the pages hold each on its own; may run anywhere.

        Raises:
            InputError: unreadable.
        """
        if self.data:
            return read_drawing(self.data, self.file)
        # It loads scipy.
        from ivory_quilt.core.reading.pages.joined_reading import assemble_pages

        placed = JoinedPages((None,) * len(self.pages), (), ())
        return assemble_pages(self.pages, placed, self.file)

    def picture(self) -> LoadedPicture:
        """Return scans as one picture, as they are joined; may run on any thread.

        Raises:
            InputError: no two pages are joined.
        """
        from ivory_quilt.files.picture_join import mosaic

        if self.placed.joined < 2:
            raise InputError(self.file, "no two pages are joined", "marks, or a join by hand")
        return mosaic(self.scans, self.pages, self.placed)


def pages_of_pdf(data: bytes, file: str, *, report: ReadReport = tell_nobody) -> PagesImport | None:
    """Return a PDF's pages when at least two of them have marks that lie on each other."""
    from ivory_quilt.files.joined_read import marked_pages

    pages = marked_pages([(file, data)], report=report)
    if len(pages) < 2 or sum(bool(p.marks) for p in pages) < 2:
        return None
    placed = place_pages(pages)
    return PagesImport(file, pages, placed, data) if placed.joined > 1 else None


def all_pages(
    files: Sequence[tuple[str, bytes]], *, report: ReadReport = tell_nobody
) -> PagesImport:
    """Return all pages of PDFs, joined by what marks they have.

    Raises:
        InputError: unreadable.
    """
    from ivory_quilt.files.joined_read import marked_pages

    pages = marked_pages(files, report=report)
    data = files[0][1] if len(files) == 1 else b""
    return PagesImport(title([n for n, _ in files]), pages, place_pages(pages), data)


def pages_of_pictures(
    pictures: Sequence[tuple[str, LoadedPicture]], scale: PictureScale
) -> PagesImport:
    """Return several scans as pages; may run on any thread.

    Raises:
        InputError: a picture has no scale, or no ink.
    """
    from ivory_quilt.files.picture_join import flat_page, page_of

    scans = [flat_page(name, picture, scale) for name, picture in pictures]
    pages = [page_of(scan, k) for k, scan in enumerate(scans, 1)]
    name = title([n for n, _ in pictures])
    return PagesImport(
        name, pages, placed_scans(pages), pictures=tuple(pictures), scans=list(scans)
    )
