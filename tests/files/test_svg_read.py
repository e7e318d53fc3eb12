"""SVG reading: units, transforms, copies, what is hidden, and what is refused."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.errors import InputError
from ivory_quilt.files.svg_geometry import parse_transform, view_transform
from ivory_quilt.files.svg_read import read_svg

INK = "http://www.inkscape.org/namespaces/inkscape"


def svg(body, attributes='width="200mm" height="100mm" viewBox="0 0 200 100"'):
    head = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
    return f'{head} xmlns:inkscape="{INK}" {attributes}>{body}</svg>'.encode()


def read(body, attributes='width="200mm" height="100mm" viewBox="0 0 200 100"', **rest):
    return read_svg(svg(body, attributes), **rest)


def areas(reading):
    return sorted(round(p.shape.area, 3) for p in reading.pieces)


RECT = '<rect x="10" y="20" width="40" height="30"/>'


@pytest.mark.parametrize(
    ("attributes", "area"),
    [
        ('width="200mm" height="100mm" viewBox="0 0 200 100"', 1200),
        ('width="20cm" height="10cm" viewBox="0 0 200 100"', 1200),
        ('width="200mm" height="100mm" viewBox="0 0 400 200"', 300),
        ('width="10in" height="5in" viewBox="0 0 10 5"', 1200 * 25.4**2),
        ('width="96px" height="96px"', 1200 * (25.4 / 96) ** 2),
        ('width="100pt" height="100pt" viewBox="0 0 100 100"', 1200 * (25.4 / 72) ** 2),
        ('width="10pc" height="10pc" viewBox="0 0 10 10"', 1200 * (25.4 / 6) ** 2),
        ('width="200mm" viewBox="0 0 200 100"', 1200),
        ('height="100mm" viewBox="0 0 200 100"', 1200),
        # Wider than its view box, which is then centred and keeps its proportions.
        ('width="400mm" height="100mm" viewBox="0 0 200 100"', 1200),
        ('width="400mm" height="100mm" viewBox="0 0 200 100" preserveAspectRatio="none"', 2400),
        (
            'width="400mm" height="100mm" viewBox="0 0 200 100" '
            'preserveAspectRatio="xMidYMid slice"',
            4800,
        ),
        ('width="200mm" height="100mm" viewBox="-50 -50 200 100"', 1200),
    ],
)
def test_sizes_come_in_at_true_size(attributes, area):
    assert areas(read(RECT, attributes)) == [pytest.approx(area, abs=6e-4)]


def test_pixels_are_taken_as_96_an_inch_and_said_so():
    reading = read(RECT, 'width="200px" height="100px"')
    assert [p.code for p in reading.problems] == ["pixel-size"]


@pytest.mark.parametrize(
    "attributes",
    ['viewBox="0 0 200 100"', 'width="200" height="100"', 'width="100%" viewBox="0 0 200 100"'],
)
def test_a_file_without_units_asks_for_one_known_length(attributes):
    reading = read(RECT, attributes)
    assert reading.needs_scale
    assert areas(reading) == [1200]
    # The rectangle is 40 wide in the file and 127 mm in truth.
    known = read(RECT, attributes, mm_per_unit=127 / 40)
    assert not known.needs_scale
    assert known.pieces[0].shape.width == pytest.approx(127)


def test_y_runs_upwards_from_the_foot_of_the_page():
    (piece,) = read(RECT).pieces
    assert piece.shape.bounds == pytest.approx((10, 50, 50, 80))


def test_no_hand_is_flipped():
    # A flag drawn as seen: its wide end is at the upper left of the page.
    (piece,) = read('<path d="M10 10 L90 10 L10 50 Z"/>').pieces
    xs = [x for x, y in piece.shape.outer if y > 89]
    assert sorted(xs) == [10, 90]


@pytest.mark.parametrize(
    ("transform", "bounds"),
    [
        ("translate(5)", (15, 50, 55, 80)),
        ("translate(5,-10)", (15, 60, 55, 90)),
        ("scale(2)", (20, 0, 100, 60)),
        ("scale(2,1)", (20, 50, 100, 80)),
        ("rotate(90)", (-50, 50, -20, 90)),
        ("rotate(180 30 35)", (10, 50, 50, 80)),
        ("matrix(1 0 0 1 7 0)", (17, 50, 57, 80)),
        ("skewX(45)", (30, 50, 100, 80)),
        ("skewY(45)", (10, 0, 50, 70)),
        ("translate(10 0) scale(2 1)", (30, 50, 110, 80)),
        ("nonsense(1)", (10, 50, 50, 80)),
    ],
)
def test_transforms(transform, bounds):
    (piece,) = read(f'<g transform="{transform}">{RECT}</g>').pieces
    assert piece.shape.bounds == pytest.approx(bounds, abs=1e-9)


def test_nested_transforms_multiply_from_the_outside_in():
    body = f'<g transform="scale(2)"><g transform="translate(5,5)">{RECT}</g></g>'
    (piece,) = read(body).pieces
    assert piece.shape.bounds == pytest.approx((30, -10, 110, 50))
    both, odd = parse_transform("scale(2) translate(5,5)")
    assert odd == ""
    assert (both.e, both.f, both.a) == (10, 10, 2)


def test_circles_ellipses_and_rounded_corners_have_their_areas():
    body = (
        '<circle cx="30" cy="30" r="20"/><ellipse cx="100" cy="30" rx="30" ry="10"/>'
        '<rect x="140" y="10" width="40" height="30" rx="5"/>'
    )
    reading = read(body)
    by_hand = sorted([math.pi * 400, math.pi * 300, 1200 - (4 - math.pi) * 25])
    assert areas(reading) == pytest.approx(by_hand, rel=1e-3)
    # Curves are followed to 0.01 mm: the circle's width is right to that.
    (disc,) = read('<circle cx="30" cy="30" r="20"/>').pieces
    assert disc.shape.width == pytest.approx(40, abs=0.02)


@pytest.mark.parametrize(
    ("data", "area"),
    [
        ("M0 0 H40 V30 H0 Z", 1200),
        ("m10 10 h40 v30 h-40 z", 1200),
        ("M10,10 l40,0 0,30 -40,0z", 1200),
        ("M10 10 L50 10 50 40 10 40", 0),
        ("M0 0 Q20 0 20 20 T40 40 L0 40 Z", None),
        ("M0 0 C10 0 20 10 20 20 S30 40 40 40 L0 40 Z", None),
        ("M0 0 A20 20 0 0 1 40 0 Z", math.pi * 200),
        ("M0 0 a20 20 0 1 0 40 0 z", math.pi * 200),
        ("M10 10 h40 v30 h-40 z m5 5 v10 h10 v-10 z", 1100),
        ("M0 0 L10 0 L10 10 Z L5 -20 L0 -20 Z", None),
    ],
)
def test_all_path_commands(data, area):
    reading = read(f'<path d="{data}"/>')
    if area is None:
        assert reading.pieces
    elif area:
        assert areas(reading)[0] == pytest.approx(area, rel=1e-3)
    else:
        assert reading.pieces == ()


def test_copies_stand_where_they_are_used():
    body = (
        '<defs><g id="pair"><rect id="r" width="10" height="20"/></g>'
        '<symbol id="s" viewBox="0 0 10 10"><rect width="10" height="10"/></symbol></defs>'
        '<use href="#pair" x="30" y="40"/><use xlink:href="#r" transform="translate(100,0)"/>'
        '<use href="#s" x="120" y="20" width="40" height="40"/><use href="#gone"/>'
    )
    reading = read(body)
    assert areas(reading) == [200, 200, 1600]
    assert [p.code for p in reading.problems] == ["missing-copy"]
    assert reading.pieces[0].shape.bounds == pytest.approx((30, 40, 40, 60))


def test_nested_drawings_have_their_own_view():
    inner = '<rect width="5" height="5"/>'
    body = f'<svg x="100" y="0" width="50" height="50" viewBox="0 0 10 10">{inner}</svg>'
    (piece,) = read(body).pieces
    assert piece.shape.bounds == pytest.approx((100, 75, 125, 100))


HIDDEN = [
    '<g style="display:none">{}</g>',
    '<g display="none">{}</g>',
    '<g visibility="hidden">{}</g>',
    '<g opacity="0">{}</g>',
    '<g style="fill:none;stroke:none">{}</g>',
    '<g fill="none" stroke="black" stroke-width="0">{}</g>',
    '<g fill-opacity="0">{}</g>',
    '<g fill="transparent">{}</g>',
    "<defs>{}</defs>",
    "<clipPath>{}</clipPath>",
    '<style>.off{{display:none}}</style><g class="off">{}</g>',
    "<style>rect{{visibility:hidden}}</style>{}",
    '<style>#k rect{{fill:none}}</style><g id="k">{}</g>',
]


@pytest.mark.parametrize("wrapper", HIDDEN)
def test_what_cannot_be_seen_is_no_piece(wrapper):
    assert read(wrapper.format(RECT)).pieces == ()


SEEN = [
    '<g visibility="hidden"><g visibility="visible">{}</g></g>',
    '<g style="fill:none;stroke:#000">{}</g>',
    '<g fill="none"><g fill="red">{}</g></g>',
    "<style>rect{{display:none}} rect{{display:inline}}</style>{}",
    "<style>@media print {{ rect {{ display:none }} }} bad{{</style>{}",
    "<switch>{}</switch>",
    '<a href="x">{}</a>',
]


@pytest.mark.parametrize("wrapper", SEEN)
def test_what_can_be_seen_is_a_piece(wrapper):
    assert areas(read(wrapper.format(RECT))) == [1200]


def test_layers_and_names_as_editors_write_them():
    body = (
        '<g inkscape:groupmode="layer" inkscape:label="Cut">'
        '<rect id="rect4711" inkscape:label="left cuff" width="40" height="30"/></g>'
        '<g id="Belly_bands"><rect x="60" width="40" height="30"/></g>'
        '<g id="score"><path d="M5 5 L35 5" fill="none" stroke="blue"/></g>'
        '<rect x="120" width="40" height="30"><title>knee cup</title></rect>'
    )
    reading = read(body)
    assert [(p.name, p.layer) for p in reading.pieces] == [
        ("left cuff", "Cut"),
        ("Belly bands", "Belly_bands"),
        ("knee cup", ""),
    ]
    assert len(reading.pieces[0].lines) == 1


def test_pictures_are_left_out_and_said_so():
    reading = read(f'<image href="x.png"/>{RECT}')
    assert [p.code for p in reading.problems] == ["picture-ignored"]
    assert len(reading.pieces) == 1


def test_writing_on_a_piece_is_offered_as_what_it_says():
    words = (
        '<g transform="translate(10 20)"><text x="5" y="10">cut 2'
        '<tspan x="5" y="20">6mm</tspan></text></g><text x="150" y="90">far 9 mm</text>'
    )
    reading = read(RECT + words)
    (piece,) = reading.pieces
    assert (piece.hints.quantity, piece.hints.thickness) == (2, 6.0)
    assert [p.code for p in reading.problems] == ["text-hint"]
    hidden = read(RECT + '<text x="20" y="30" style="display:none">cut 9</text>')
    assert not hidden.pieces[0].hints


def test_an_unreadable_path_is_reported_and_the_rest_comes_in():
    reading = read(f'<path id="odd" d="M 1 2 Q banana"/>{RECT}')
    assert len(reading.pieces) == 1
    assert all(p.code in ("bad-path", "open-outline") for p in reading.problems)


# Hostile and broken files

BOMB = (
    b'<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;&a;">]>'
    b'<svg xmlns="http://www.w3.org/2000/svg" width="10mm" height="10mm"><text>&b;</text></svg>'
)
OUTSIDE = (
    b'<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/hostname">]>'
    b'<svg xmlns="http://www.w3.org/2000/svg" width="10mm" height="10mm"><text>&x;</text></svg>'
)


@pytest.mark.parametrize("data", [BOMB, OUTSIDE])
def test_hostile_xml_is_refused(data):
    with pytest.raises(InputError, match="refused for safety"):
        read_svg(data, file="bad.svg")


def test_a_doctype_alone_is_no_harm():
    head = b'<!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "http://www.w3.org/svg11.dtd">'
    assert len(read_svg(head + svg(RECT)).pieces) == 1


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "not readable XML"),
        (b"hello", "not readable XML"),
        (b"<svg", "not readable XML"),
        (b"<html/>", "root is <html>"),
        (b"\xff\xfe\x00", "not readable XML"),
        (svg(RECT, 'width="0mm" height="5mm"'), "page size"),
    ],
)
def test_broken_files_are_refused_in_a_sentence(data, said):
    with pytest.raises(InputError, match=said):
        read_svg(data, file="bad.svg")


def test_copies_of_copies_do_not_flood_the_machine():
    layers = "".join(
        f'<g id="g{k}">' + f'<use href="#g{k - 1}"/>' * 10 + "</g>" for k in range(1, 10)
    )
    flood = f'<defs><rect id="g0" width="9" height="9"/>{layers}</defs><use href="#g9"/>'
    with pytest.raises(InputError, match="too large or nests too deep"):
        read(flood)
    with pytest.raises(InputError, match="too large or nests too deep"):
        read('<g id="a"><use href="#a"/></g>')


@given(st.binary(max_size=200))
def test_any_bytes_are_read_or_refused(data):
    try:
        read_svg(data)
    except InputError as error:
        assert "\n" not in str(error)


@given(st.text("MLHVCSQTAZmlhvcsqtaz0123456789.,- e", max_size=60))
def test_any_path_data_is_read_or_reported(data):
    reading = read(f'<path d="{data}"/>')
    for piece in reading.pieces:
        assert piece.shape.polygon.is_valid


def test_fitting_a_view_box_by_hand():
    # 100 × 100 into 200 × 100: scale 1, centred, so x is moved by 50.
    fit = view_transform([0, 0, 100, 100], 200, 100, None)
    assert (fit.a, fit.d, fit.e, fit.f) == (1, 1, 50, 0)
    left = view_transform([0, 0, 100, 100], 200, 100, "xMinYMax meet")
    assert (left.e, left.f) == (0, 0)
    assert view_transform([], 200, 100, None).a == 1


def test_a_page_of_no_size_is_refused_by_the_file_s_name():
    data = svg('<rect width="9" height="9"/>').replace(b'width="', b'width="-', 1)
    with pytest.raises(InputError, match=r"^bad\.svg, width and height: "):
        read_svg(data, file="bad.svg")
