"""Square codes (QR, ISO/IEC 18004) as modules; the PDF library encodes, `Pen` draws."""

from functools import lru_cache

import numpy as np
import numpy.typing as npt

QUIET = 4  # modules that stay white around a code (ISO/IEC 18004)


@lru_cache(maxsize=4096)
def code_square(text: str) -> npt.NDArray[np.bool_]:
    """Return the modules of a code, (n, n), True where dark, row by row from the top; no margin.

    Words of capitals, digits and spaces make the smallest square.
    """
    from reportlab.graphics.barcode.qrencoder import QR8bitByte, QRAlphaNum, QRCode
    from reportlab.graphics.barcode.qrencoder import QRErrorCorrectLevel as Level

    plain = set(text) <= set("0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZ $%*+-./:")
    made = QRCode(None, Level.M)
    made.addData(QRAlphaNum(text) if plain else QR8bitByte(text))
    made.make()
    count = made.getModuleCount()
    dark = [[bool(made.isDark(row, column)) for column in range(count)] for row in range(count)]
    return np.array(dark)
