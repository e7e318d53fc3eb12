"""Reading scans and photos (PNG, JPEG, TIFF): ink outlines traced to true size."""

import io
import math
import warnings

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import line_length
from ivory_quilt.core.reading.assembly import assemble
from ivory_quilt.core.reading.drawn import RawPath
from ivory_quilt.core.reading.found import Reading, ReadProblem
from ivory_quilt.core.reading.progress import ReadProgress, ReadReport, tell_nobody
from ivory_quilt.core.reading.tracing.picture import Ink, LoadedPicture, Picture, PictureScale
from ivory_quilt.core.reading.tracing.sheet import (
    PictureFrame,
    find_sheet,
    flat_frame,
    sheet_frame,
)
from ivory_quilt.core.reading.tracing.trace import Traced, trace
from ivory_quilt.files.damaged import DAMAGE, library_words

MOST_PIXELS = 120_000_000
ENOUGH_PIXELS = 20_000_000  # A3 at 300 dpi and more; a larger picture is looked at more coarsely
MM_PER_INCH = 25.4
LEAST_STROKE = 12.0  # mm: shorter strokes are letters
MOST_STROKES = 40
_LIKELY_DPI = (60.0, 2400.0)


def load_picture(data: bytes, file: str) -> LoadedPicture:
    """Return a picture file's pixels in grey.

    Raises:
        InputError: not a PNG, JPEG or TIFF, damaged, or larger than the stated limit.
    """
    from PIL import Image, ImageFile, ImageOps, UnidentifiedImageError

    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            image: Image.Image = Image.open(io.BytesIO(data), formats=("PNG", "JPEG", "TIFF"))
            if image.width * image.height > MOST_PIXELS:
                raise InputError(
                    file,
                    f"{image.width} × {image.height} pixels",
                    f"at most {MOST_PIXELS / 1e6:.0f} million",
                )
            stated = image.info.get("dpi")
            share = math.ceil(math.sqrt(image.width * image.height / ENOUGH_PIXELS))
            wide = image.width
            if share > 1:
                if isinstance(image, ImageFile.ImageFile):
                    image.draft("L", (image.width // share, image.height // share))
                if image.mode not in ("L", "RGB", "RGBA", "LA"):
                    image = image.convert("RGB" if image.mode == "P" else "L")
                image = image.reduce(max(1, round(image.width * share / wide)))
            shrunk = wide / image.width
            upright = ImageOps.exif_transpose(image)
            if "A" in upright.getbands():
                paper = Image.new("RGBA", upright.size, "white")
                upright = Image.alpha_composite(paper, upright.convert("RGBA"))
            grey = np.asarray(upright.convert("L"))
    except UnidentifiedImageError:
        raise InputError(file, "it is no picture that can be read", "PNG, JPEG or TIFF") from None
    except InputError:
        raise
    except (*DAMAGE, MemoryError, Image.DecompressionBombError) as error:
        raise InputError(
            file, f"the picture cannot be read ({library_words(error)})", "PNG, JPEG, TIFF"
        ) from None
    if min(grey.shape) < 32:
        raise InputError(file, f"{grey.shape[1]} × {grey.shape[0]} pixels", "at least 32 × 32")
    return LoadedPicture(grey, _dpi(stated), shrunk)


def _dpi(stated: object) -> float | None:
    """Return a stated resolution when it is one that scanners have, and square."""
    try:
        across, down = (float(v) for v in stated)  # type: ignore[attr-defined]
    except (TypeError, ValueError, ZeroDivisionError):
        return None
    likely = _LIKELY_DPI[0] <= across <= _LIKELY_DPI[1]
    return across if likely and abs(across - down) < 0.01 * across else None


def read_picture(
    data: bytes,
    *,
    file: str = "scan.png",
    scale: PictureScale | None = None,
    ink: Ink = Ink.MIDDLE,
    level: float | None = None,
    report: ReadReport = tell_nobody,
) -> Reading:
    """Trace the pieces of a scan or photo.

    Without a given scale the resolution that the file states is used; `needs_scale` is set (and a
    pixel counted as 1 mm) when it states none.

    Raises:
        InputError: not a picture, no ink in it, or no whole sheet where one should be.
    """
    report(ReadProgress(0, 0, "loading the picture"))
    picture = load_picture(data, file)
    return read_loaded(picture, file, scale or PictureScale(), ink, level, report=report)


def read_loaded(
    picture: LoadedPicture,
    file: str,
    scale: PictureScale,
    ink: Ink,
    level: float | None = None,
    *,
    report: ReadReport = tell_nobody,
) -> Reading:
    """Trace the pieces of a loaded picture; see `read_picture`.

    Raises:
        InputError: no ink in it, or no whole sheet where one should be.
    """
    report(ReadProgress(0, 0, "tracing"))
    try:
        traced, frame, known = _traced(picture, scale, ink, level)
    except InputError as error:
        raise InputError(file, error.problem, error.expected) from None
    long = [k for k in traced.strokes if line_length(k) >= LEAST_STROKE]
    strokes = [RawPath(k, closed=False) for k in long[:MOST_STROKES]]
    reading = assemble([*traced.paths, *strokes], file, report=report)
    if not reading.pieces and not reading.problems:
        specks = f"only {traced.specks} specks and strokes" if traced.specks else "nothing"
        raise InputError(file, f"no outline is found in it, {specks}", "dark lines on light paper")
    problems = (*_notes(traced), *reading.problems)
    drawn = tuple(frame.to_pixels(p.points) for p in traced.paths)
    return Reading(reading.pieces, problems, needs_scale=not known, drawn_at=drawn)


def _traced(
    picture: LoadedPicture, scale: PictureScale, ink: Ink, level: float | None
) -> tuple[Traced, PictureFrame, bool]:
    """Trace; return what was found, its frame, and whether the scale is known."""
    grey = picture.grey
    if scale.rectangle is not None:
        corners = find_sheet(grey)
        frame = sheet_frame(corners, *scale.rectangle)
        return trace(_paper_only(grey, corners), frame, ink=ink, level=level), frame, True
    # What is said of a pixel is said of the file's own.
    mm = scale.mm_per_pixel * picture.shrunk if scale.mm_per_pixel is not None else None
    if mm is None and (dpi := scale.dpi or picture.dpi) is not None:
        mm = MM_PER_INCH * picture.shrunk / dpi
    if mm is not None:
        frame = flat_frame(grey.shape[0], mm)
        return trace(grey, frame, ink=ink, level=level), frame, True
    # At a pixel a millimetre the limits for specks and pens would mean something else.
    guess = trace(grey, flat_frame(grey.shape[0], MM_PER_INCH / 150), ink=ink, level=level)
    factor = 150 / MM_PER_INCH
    paths = tuple(type(p)(p.points * factor, p.closed, p.layer, p.name) for p in guess.paths)
    strokes = tuple(line * factor for line in guess.strokes)
    traced = Traced(paths, guess.specks, strokes, guess.level, guess.pen * factor)
    return traced, flat_frame(grey.shape[0], 1.0), False


def _paper_only(grey: Picture, corners: np.ndarray) -> Picture:
    """Return the picture with the table around the sheet painted as paper."""
    import cv2

    middle = corners.mean(axis=0)
    inner = middle + (corners - middle) * (1 - 6.0 / np.hypot(*(corners - middle).T)[:, None])
    mask = np.zeros(grey.shape, np.uint8)
    cv2.fillPoly(mask, [np.round(inner).astype(np.int32)], 255)
    step = 8
    small = cv2.resize(grey, (grey.shape[1] // step, grey.shape[0] // step))
    known = cv2.resize(mask, (small.shape[1], small.shape[0]), interpolation=cv2.INTER_NEAREST)
    known = cv2.erode(known, np.ones((3, 3), np.uint8))
    bright = cv2.dilate(np.where(known > 0, small, 0).astype(np.uint8), np.ones((7, 7), np.uint8))
    # Outwards from the sheet's edge, so that no new edge appears where it ends.
    for _ in range(400):
        missing = bright == 0
        if not missing.any():
            break
        bright = np.where(missing, cv2.dilate(bright, np.ones((3, 3), np.uint8)), bright)
    around = cv2.resize(bright, (grey.shape[1], grey.shape[0]), interpolation=cv2.INTER_LINEAR)
    return np.asarray(np.where(mask > 0, grey, around), dtype=np.uint8)


def _notes(traced: Traced) -> list[ReadProblem]:
    """Return what is said of strokes too short to be lines of a piece: writing, most likely."""
    short = [k for k in traced.strokes if line_length(k) < LEAST_STROKE]
    if not short:
        return []
    many = f"{len(short)} short strokes" if len(short) > 1 else "a short stroke"
    text = f"{many}, writing perhaps, left out"
    return [ReadProblem("stroke", text, (float(short[0][0, 0]), float(short[0][0, 1])))]
