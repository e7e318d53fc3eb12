"""Icons drawn for this application: line work on a 24 × 24 grid, coloured by the theme."""

import tempfile
from functools import cache
from importlib.resources import files
from pathlib import Path

from PySide6.QtCore import QByteArray, QRectF, Qt
from PySide6.QtGui import QIcon, QPainter, QPixmap
from PySide6.QtSvg import QSvgRenderer


@cache
def _source(name: str) -> str:
    return files("ivory_quilt.data").joinpath("icons", f"{name}.svg").read_text()


@cache
def icon(name: str, colour: str, size: int = 24) -> QIcon:
    """Return an icon in one colour, sharp at twice the size as well."""
    found = QIcon()
    for scale in (1, 2):
        found.addPixmap(pixmap(name, colour, size, scale))
    return found


@cache
def pixmap(name: str, colour: str, size: int = 24, scale: float = 1.0) -> QPixmap:
    """Return an icon as a pixmap for a screen of `scale`."""
    side = round(size * scale)
    picture = QPixmap(side, side)
    picture.fill(Qt.GlobalColor.transparent)
    source = _source(name).replace("currentColor", colour)
    painter = QPainter(picture)
    QSvgRenderer(QByteArray(source.encode())).render(painter, QRectF(0, 0, side, side))
    painter.end()
    picture.setDevicePixelRatio(scale)
    return picture


@cache
def _folder() -> tempfile.TemporaryDirectory[str]:
    return tempfile.TemporaryDirectory(prefix="ivory-quilt-icons-")


@cache
def icon_file(name: str, colour: str) -> str:
    """Return the path of an icon file in one colour, for style sheets, which take only files."""
    path = Path(_folder().name) / f"{name}-{colour.strip('#')}.svg"
    path.write_text(_source(name).replace("currentColor", colour))
    return path.as_posix()
