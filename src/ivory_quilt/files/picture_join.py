"""Scans of pages that belong together, laid side by side by their marks into one picture."""

from collections.abc import Sequence

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array, Pose
from ivory_quilt.core.reading.pages.joined_reading import JoinedReading
from ivory_quilt.core.reading.pages.page import JoinedPages, Page
from ivory_quilt.core.reading.pages.place import placed_scans
from ivory_quilt.core.reading.pages.unite import cell_of
from ivory_quilt.core.reading.tracing.page_marks import PAPER, MarkedPicture, find_picture_marks
from ivory_quilt.core.reading.tracing.picture import LoadedPicture, Picture, PictureScale
from ivory_quilt.core.reading.tracing.sheet import find_sheet, sheet_frame
from ivory_quilt.core.record import Struct
from ivory_quilt.files.drawings import ReadOptions
from ivory_quilt.files.kinds import title
from ivory_quilt.files.picture_read import ENOUGH_PIXELS, MM_PER_INCH, load_picture, read_loaded

BEYOND = 2.5  # mm past a trim line: pages lie a little turned, and no gap may open
NamedBytes = tuple[str, bytes]


class JoinedPicture(Struct, frozen=True):
    """Several scans as one picture, its resolution, and how the pages lie."""

    picture: LoadedPicture
    placed: JoinedPages


def join_pictures(files: Sequence[NamedBytes], options: ReadOptions) -> JoinedReading:
    """Read scans whose pages are joined by their registration marks.

    Raises:
        InputError: a picture cannot be read or has no scale, or no two have marks in common.
    """
    pictures = [(name, load_picture(data, name)) for name, data in files]
    scale = PictureScale(options.rectangle, options.mm_per_unit, options.dpi)
    joined = joined_picture(pictures, scale)
    del pictures  # tracing the whole needs the room
    name = title([name for name, _ in files])
    reading = read_loaded(joined.picture, name, PictureScale(), options.ink)
    return JoinedReading(
        reading.pieces, reading.problems, drawn_at=reading.drawn_at, joined=joined.placed
    )


def joined_picture(
    pictures: Sequence[tuple[str, LoadedPicture]], scale: PictureScale
) -> JoinedPicture:
    """Return scans as one picture, joined by their registration marks.

    Raises:
        InputError: a picture has no scale, or no two have marks in common.
    """
    flats = [flat_page(name, picture, scale) for name, picture in pictures]
    pages = [page_of(flat, k) for k, flat in enumerate(flats, 1)]
    placed = placed_scans(pages)
    if placed.joined < 2:
        many = sum(len(p.marks) for p in pages)
        raise InputError(
            " and ".join(name for name, _ in pictures[:2]),
            f"{len(pages)} pages with {many} registration marks do not join",
            "pages with crosses, corner ticks or diamonds that lie on each other",
        )
    return JoinedPicture(mosaic(flats, pages, placed), placed)


def page_of(flat: MarkedPicture, number: int) -> Page:
    """Return a scan as a page: its size and its marks."""
    height, width = (n * flat.mm_per_pixel for n in flat.even.shape)
    return Page(number, width, height, marks=flat.marks)


def flat_page(name: str, picture: LoadedPicture, scale: PictureScale) -> MarkedPicture:
    """Return a picture square on, in even light, with its marks found.

    Raises:
        InputError: it has no scale, or shows no whole sheet where one should be.
    """
    grey = picture.grey
    try:
        if scale.rectangle is not None:
            grey, mm = _rectified(grey, scale.rectangle)
        else:
            dpi = scale.dpi or picture.dpi
            mm = scale.mm_per_pixel or (MM_PER_INCH / dpi if dpi else 0.0)
            mm *= picture.shrunk
            if not mm:
                raise InputError(name, "it states no resolution", "--dpi N, or a whole sheet")
        return find_picture_marks(grey, mm)
    except InputError as error:
        raise InputError(name, error.problem, error.expected) from None


def _rectified(grey: Picture, rectangle: tuple[float, float]) -> tuple[Picture, float]:
    """Return a photo of a whole sheet as a flat scan of it, and the size of its pixels."""
    import cv2

    frame = sheet_frame(find_sheet(grey), *rectangle)
    corners = frame.to_mm(np.array([[0.0, 0.0], [grey.shape[1], grey.shape[0]]]))
    wide = abs(float(corners[1, 0] - corners[0, 0])) > abs(float(corners[1, 1] - corners[0, 1]))
    width, height = max(rectangle), min(rectangle)
    if not wide:
        width, height = height, width
    mm = frame.mm_per_pixel
    size = (round(width / mm), round(height / mm))
    to_pixels = np.array([[1 / mm, 0, -0.5], [0, -1 / mm, size[1] - 0.5], [0, 0, 1]])
    matrix = to_pixels @ frame.matrix
    flat = cv2.warpPerspective(grey, matrix, size, flags=cv2.INTER_CUBIC)
    edge = max(2, round(1.0 / mm))  # the sheet's own rim is no ink
    flat[:edge] = flat[-edge:] = PAPER
    flat[:, :edge] = flat[:, -edge:] = PAPER
    return np.asarray(flat), mm


def mosaic(
    flats: Sequence[MarkedPicture], pages: Sequence[Page], placed: JoinedPages
) -> LoadedPicture:
    """Return joined pages as one picture, each up to a little beyond its trim lines.

    Where two pages show the same strip the darker counts: ink on either is ink.
    """
    import cv2

    laid = [
        (f, _corners(pose, cell_of(k, pages[k], placed)), pose)
        for k, (f, pose) in enumerate(zip(flats, placed.poses, strict=True))
        if pose is not None
    ]
    every = np.vstack([corners for _, corners, _ in laid])
    low, high = every.min(axis=0) - 2, every.max(axis=0) + 2
    mm = min(f.mm_per_pixel for f, _, _ in laid)
    mm = max(mm, float(np.sqrt(np.prod(high - low) / ENOUGH_PIXELS)) * 1.01)
    width, height = (int(n) for n in np.ceil((high - low) / mm))
    whole = np.full((height, width), PAPER, dtype=np.uint8)
    for flat, corners, pose in laid:
        matrix = _to_mosaic(low, height, mm) @ _pose_matrix(pose) @ _to_page(flat)
        grey = flat.even
        moved = cv2.warpAffine(
            grey, matrix[:2], (width, height), flags=cv2.INTER_CUBIC, borderValue=PAPER
        )
        mask = np.zeros((height, width), np.uint8)
        px = np.column_stack(
            ((corners[:, 0] - low[0]) / mm - 0.5, height - (corners[:, 1] - low[1]) / mm - 0.5)
        )
        cv2.fillConvexPoly(mask, np.round(px).astype(np.int32), 1)
        whole[mask > 0] = np.minimum(whole, moved)[mask > 0]
    return LoadedPicture(whole, MM_PER_INCH / mm)


def _corners(pose: Pose, cell: tuple[float, float, float, float]) -> Array:
    x0, y0, x1, y1 = cell[0] - BEYOND, cell[1] - BEYOND, cell[2] + BEYOND, cell[3] + BEYOND
    return pose.apply(np.array([[x0, y0], [x1, y0], [x1, y1], [x0, y1]]))


def _to_page(flat: MarkedPicture) -> Array:
    """Return the matrix from a scan's pixels to mm on its page."""
    mm, rows = flat.mm_per_pixel, flat.even.shape[0]
    return np.array([[mm, 0, 0.5 * mm], [0, -mm, (rows - 0.5) * mm], [0, 0, 1]])


def _pose_matrix(pose: Pose) -> Array:
    a, b, c, d = pose.matrix
    return np.array([[a, b, pose.x], [c, d, pose.y], [0, 0, 1]])


def _to_mosaic(low: Array, rows: int, mm: float) -> Array:
    """Return the matrix from mm on the table to the joined picture's pixels."""
    return np.array(
        [[1 / mm, 0, -low[0] / mm - 0.5], [0, -1 / mm, rows - 0.5 + low[1] / mm], [0, 0, 1]]
    )
