"""A document of plain lines on A4: lists to print and tick."""

from ivory_quilt.files.papers.pen import BOLD, INK, SANS, Pen


class LinesPage:
    """Lines from the top of an A4 page down, and on the next one; mm."""

    WIDE, HIGH, EDGE = 210.0, 297.0, 20.0

    def __init__(self, title: str) -> None:
        """Begin a document of this title."""
        self.pen = Pen((self.WIDE, self.HIGH), title)
        self.y = self.HIGH - self.EDGE

    def skip(self) -> None:
        """Leave a little room."""
        self.y -= 4.0

    def write(self, text: str, right: str = "", *, strong: bool = False, box: bool = False) -> None:
        """Write one line, with words at the right and a box to tick; what is too long is cut."""
        if self.y < self.EDGE:
            self.pen.next_page()
            self.y = self.HIGH - self.EDGE
        font, size = (BOLD, 14.0) if strong else (SANS, 11.0)
        self.pen.colour(INK)
        if box:
            self.pen.rectangle(self.EDGE, self.y - 0.5, 3.5, 3.5, fill=False)
        room = self.WIDE - 2 * self.EDGE - (7.0 if box else 0.0)
        room -= self.pen.text_width(right, size, font) + 4.0 if right else 0.0
        while len(text) > 1 and self.pen.text_width(text, size, font) > room:
            text = text[:-2].rstrip() + "…"
        self.pen.text((self.EDGE + (7.0 if box else 0.0), self.y), text, size, font=font)
        if right:
            wide = self.pen.text_width(right, size, font)
            self.pen.text((self.WIDE - self.EDGE - wide, self.y), right, size, font=font)
        self.y -= 8.0 if strong else 6.5
