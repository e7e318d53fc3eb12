"""Contrast of the theme's colours.

Source: W3C, Web Content Accessibility Guidelines 2.1, success criterion 1.4.3 (text 4.5 : 1) and
1.4.11 (marks 3 : 1), with its definition of relative luminance.
"""

import pytest

from ivory_quilt.desk.theme.palette import DARK, LIGHT, TONES, foam_fill, piece_fill

TEXTS = ("ink", "ink_soft", "cut", "score", "heat", "good", "iris")


def luminance(colour):
    def part(value):
        c = value / 255
        return c / 12.92 if c <= 0.03928 else ((c + 0.055) / 1.055) ** 2.4

    return (
        0.2126 * part(colour.red()) + 0.7152 * part(colour.green()) + 0.0722 * part(colour.blue())
    )


def contrast(a, b):
    high, low = sorted((luminance(a), luminance(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)


def test_the_formula_itself():
    from PySide6.QtGui import QColor

    assert contrast(QColor("#000000"), QColor("#ffffff")) == pytest.approx(21)
    assert contrast(QColor("#777777"), QColor("#ffffff")) == pytest.approx(4.48, abs=0.01)


@pytest.mark.parametrize("look", [LIGHT, DARK], ids=["light", "dark"])
@pytest.mark.parametrize("ground", ["paper", "linen", "raised"])
@pytest.mark.parametrize("text", TEXTS)
def test_words_can_be_read_everywhere(look, ground, text):
    assert contrast(look.colour(text), look.colour(ground)) >= 4.5


@pytest.mark.parametrize("look", [LIGHT, DARK], ids=["light", "dark"])
@pytest.mark.parametrize("thickness", [t for t, _ in TONES])
def test_names_can_be_read_on_foam(look, thickness):
    piece = piece_fill(thickness, look)
    assert contrast(look.colour("ink"), piece) >= 4.5
    assert contrast(look.colour("ink"), foam_fill(thickness, look, 0.22)) >= 4.5


@pytest.mark.parametrize("look", [LIGHT, DARK], ids=["light", "dark"])
def test_chosen_keys_and_selections_can_be_read(look):
    assert contrast(look.colour("paper"), look.colour("ink")) >= 4.5
    assert contrast(look.colour("paper"), look.colour("iris")) >= 4.5
