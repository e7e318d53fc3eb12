"""Square codes (QR) in pictures, such as a photo of templates on the bench."""

import cv2

from ivory_quilt.files.picture_read import load_picture

SCALES = (1.0, 0.5, 2.0)  # small codes in large photos, large ones in small
MOST_SIDE = 6000  # pixels: a picture is not made larger than that


def codes_in(data: bytes, file: str) -> tuple[str, ...]:
    """Return what all codes of a picture say, each once.

    Raises:
        InputError: it is no readable picture.
    """
    grey = load_picture(data, file).grey
    found: dict[str, None] = {}
    for scale in SCALES:
        if scale > 1.0 and max(grey.shape) * scale > MOST_SIDE:
            continue
        seen = grey if scale == 1.0 else cv2.resize(grey, None, fx=scale, fy=scale)
        _, texts, _, _ = cv2.QRCodeDetector().detectAndDecodeMulti(seen)
        found |= dict.fromkeys(t for t in texts if t)
    return tuple(found)
