"""A simulated printer: what a page of a PDF is on paper, with the printer's own errors.

It stands in for a real one, so that check bars and templates are tested by what comes out: a
true-size raster, stretched by so much each way, white where no printer reaches.
"""

import numpy as np
import numpy.typing as npt

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct

MM_PER_INCH = 25.4
POINTS_PER_INCH = 72
DPIS = (36.0, 2400.0)
MOST_PIXELS = 120_000_000

Picture = npt.NDArray[np.uint8]


class SimulatedPrinter(Struct, frozen=True):
    """One printer.

    Attributes:
        dpi: pixels an inch.
        along: factor up the page, from its lower left corner.
        across: factor across the page.
        margin: what it leaves white all round, mm.
    """

    dpi: float = 300.0
    along: float = 1.0
    across: float = 1.0
    margin: float = 4.2

    def __post_init__(self) -> None:
        if not DPIS[0] <= self.dpi <= DPIS[1]:
            expected = f"{DPIS[0]:g} to {DPIS[1]:g} dots an inch"
            raise InputError("printer", f"{self.dpi:g} dots an inch", expected)
        for factor in (self.along, self.across):
            if not 0.5 <= factor <= 2.0:
                raise InputError("printer", f"a scale of {100 * factor:g} %", "50 to 200 %")
        if not 0.0 <= self.margin <= 50.0:
            raise InputError("printer", f"a margin of {self.margin:g} mm", "0 to 50 mm")

    def print_page(self, pdf: bytes, page: int = 0) -> Picture:
        """Return a page as it is printed, grey, (rows, columns) from the upper left.

        The paper has the page's size; what is stretched past its edge is lost.

        Raises:
            InputError: no PDF, no such page, or a page too large for memory.
        """
        import pypdfium2

        try:
            document = pypdfium2.PdfDocument(pdf)
        except pypdfium2.PdfiumError:
            raise InputError("printer", "it is no PDF that can be printed", "a PDF") from None
        try:
            if not 0 <= page < len(document):
                raise InputError("printer", f"page {page + 1} of {len(document)}", "a page it has")
            sheet = document[page]
            wide, high = (
                max(1, round(points / POINTS_PER_INCH * self.dpi)) for points in sheet.get_size()
            )
            if wide * high > MOST_PIXELS:
                raise InputError("printer", f"{wide} × {high} pixels", "fewer dots an inch")
            return self._stretched(sheet, wide, high)
        finally:
            document.close()

    def _stretched(self, sheet: object, wide: int, high: int) -> Picture:
        import pypdfium2.raw as pdfium
        from pypdfium2 import PdfBitmap

        bitmap = PdfBitmap.new_native(wide, high, pdfium.FPDFBitmap_Gray)
        bitmap.fill_rect((255, 255, 255, 255), 0, 0, wide, high)
        scale = self.dpi / POINTS_PER_INCH
        # Device pixels go down: stretching keeps the lower left corner where it is.
        up = self.along * scale
        matrix = pdfium.FS_MATRIX(self.across * scale, 0.0, 0.0, up, 0.0, high - self.along * high)
        clip = pdfium.FS_RECTF(0.0, 0.0, float(wide), float(high))
        pdfium.FPDF_RenderPageBitmapWithMatrix(bitmap, sheet, matrix, clip, pdfium.FPDF_ANNOT)
        made: Picture = np.array(bitmap.to_numpy(), dtype=np.uint8).reshape(high, wide).copy()
        edge = round(self.margin / MM_PER_INCH * self.dpi)
        if edge:
            made[:edge] = made[-edge:] = 255
            made[:, :edge] = made[:, -edge:] = 255
        return made
