"""A view as a picture: PNG at twice the screen's fineness, or SVG that stays sharp."""

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QPoint, QRect
from PySide6.QtGui import QImage, QImageWriter, QPainter
from PySide6.QtSvg import QSvgGenerator
from PySide6.QtWidgets import QWidget

from ivory_quilt.core.errors import InputError

FINER = 2.0  # times the screen's pixels
DPI = 96


def picture_bytes(view: QWidget, kind: str, title: str) -> bytes:
    """Return what a view shows as a file of `kind`, .png or .svg.

    Raises:
        InputError: another kind.
    """
    data = QByteArray()
    buffer = QBuffer(data)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    if kind == ".png":
        image = QImage(view.size() * FINER, QImage.Format.Format_RGB32)
        image.setDevicePixelRatio(FINER)
        image.fill(view.palette().window().color())
        _draw(view, QPainter(image))
        QImageWriter(buffer, QByteArray(b"png")).write(image)
    elif kind == ".svg":
        made = QSvgGenerator()
        made.setOutputDevice(buffer)
        made.setSize(view.size())
        made.setViewBox(QRect(QPoint(0, 0), view.size()))
        made.setResolution(DPI)
        made.setTitle(title)
        _draw(view, QPainter(made))
    else:
        raise InputError("picture", f"'{kind}' is not written", ".png or .svg")
    buffer.close()
    return bytes(data.data())


def _draw(view: QWidget, painter: QPainter) -> None:
    # A table has a way of its own to be drawn, which leaves its rulers out.
    QWidget.render(view, painter, QPoint(0, 0))
    painter.end()
