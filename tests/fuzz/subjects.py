"""What is done with a mutated file of each kind, and whole files to begin from."""

import io
import tempfile
from contextlib import closing
from pathlib import Path

from ivory_quilt.core.plan.plan import derive
from ivory_quilt.files.drawings import ReadOptions, read_drawing
from ivory_quilt.files.pieces_file import encode_reading

DATA = Path(__file__).parents[1] / "data"


def read(data, name):
    """Read a drawing, as `read` does."""
    return len(encode_reading([read_drawing(data, name, ReadOptions(dpi=150.0))]))


def plan(data, _name):
    """Open a project and derive everything but layouts, as `plan` does."""
    from ivory_quilt.files.plan_report import plan_json, plan_text
    from ivory_quilt.files.project_file import decode_project, encode_project
    from ivory_quilt.shop.store import new_stock

    project = decode_project(data)
    found = derive(project, new_stock())
    return len(plan_text(found)) + len(plan_json(found)) + len(encode_project(project))


def lay(data, _name):
    """Lay a job, as `lay` does."""
    from ivory_quilt.core.nesting.engine import Limit
    from ivory_quilt.core.nesting.engine import lay as lay_job
    from ivory_quilt.files.lay_file import decode_job, encode_result

    found = lay_job(decode_job(data), limit=Limit(steps=1), clock=lambda: 0.0)
    assert not found.faults, found.faults
    return len(encode_result(found))


def shop(data, _name):
    """Open a shop store whatever it is, and work in it."""
    from ivory_quilt.core.errors import InputError
    from ivory_quilt.core.pattern.part import Foam
    from ivory_quilt.core.stock.foam_stock import sheet
    from ivory_quilt.shop.opening import open_store

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "shop.sqlite"
        path.write_bytes(data)
        opened = open_store(path)
        with closing(opened.store) as store:
            for work in (
                store.printers,
                store.coupons,
                store.printer,
                lambda: store.add(sheet("k", "k", Foam(6.0, "eva"), (90, 50), owned=1)),
                lambda: store.remove("k"),
                store.readable_stock,
            ):
                try:
                    work()
                except InputError as error:
                    assert "\n" not in str(error)
        # Nothing of a damaged store is overwritten: it lies aside as it was.
        aside = [p.read_bytes() for p in Path(folder).glob("shop.sqlite.damaged-*[0-9]")]
        if "set aside" in opened.problem:
            assert aside == [data]
        return len(opened.problem)


def _svg():
    return (
        b'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" '
        b'width="300mm" height="200mm" viewBox="0 0 300 200"><style>.c{fill:none;stroke:red}'
        b'</style><defs><path id="t" d="M0,0 h9 v5 q-4 3 -9 0z"/></defs>'
        b'<g id="cut" class="c" transform="translate(4,3) rotate(3)"><path id="collar" '
        b'd="M10,10 C60,-20 90,30 120,20 L110,90 A40,30 0 0 1 20,80 Z"/><rect x="150" y="20" '
        b'width="70" height="50" rx="6"/><polygon points="20,120 90,110 80,180"/></g>'
        b'<g id="score"><line x1="20" y1="30" x2="90" y2="40" stroke="blue"/></g>'
        b'<use xlink:href="#t" x="200" y="100"/><text x="40" y="50">cut 2 L/R 6mm</text></svg>'
    )


def _dxf():
    from tests.files.test_fuzz import WHOLE

    return WHOLE[".dxf"]


def _picture(kind):
    from PIL import Image, ImageDraw

    image = Image.new("L", (420, 320), 245)
    pen = ImageDraw.Draw(image)
    pen.ellipse((40, 40, 180, 200), outline=20, width=5)
    pen.polygon([(220, 60), (380, 80), (300, 280)], outline=30, width=4)
    out = io.BytesIO()
    image.save(out, kind, dpi=(150, 150))
    return out.getvalue()


def _project():
    from ivory_quilt.core.record import replace
    from ivory_quilt.demo.project import demo_project
    from ivory_quilt.files.project_file import encode_project

    suit = demo_project()
    kept = tuple(p for p in suit.pieces if len(p.shape.outer) < 60)[:14]
    ids = {p.id for p in kept}
    seams = tuple(s for s in suit.seams if {s.first.piece, s.second.piece} <= ids)
    return encode_project(replace(suit, pieces=kept, seams=seams, layouts=(), studies=()))


def _job():
    from decimal import Decimal

    from ivory_quilt.core.geometry.shape import Shape, rectangle
    from ivory_quilt.core.nesting.job import LayJob, PieceSpec, RollSpec, SheetSpec
    from ivory_quilt.files.lay_file import encode_job

    flaw = Shape.make([(50, 50), (70, 50), (60, 80)])
    frame = Shape.make(rectangle(190, 190).outer, [rectangle(120, 120).outer + 30])
    pieces = (
        PieceSpec("frame", frame, 1, (0.0, 90.0)),
        PieceSpec("spike", Shape.make([(0, 0), (60, 10), (20, 140)]), 3, None, mirror=True),
    )
    sheets = (
        SheetSpec("half", rectangle(500, 400), 2, Decimal("4.50"), 5.0, (flaw,)),
        SheetSpec("offcut", Shape.make([(0, 0), (300, 20), (260, 240), (10, 200)]), 1),
    )
    return encode_job(LayJob(pieces, sheets, (RollSpec("r", 300, 2000, Decimal("0.01")),), 2.0))


def _store():
    from ivory_quilt.demo.shop import fill_demo_shop
    from ivory_quilt.shop.sqlite_store import SqliteStore

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "shop.sqlite"
        with closing(SqliteStore(path)) as store:
            fill_demo_shop(store)
        return path.read_bytes()


SUBJECTS = {
    "svg": (read, "odd.svg", _svg),
    "dxf": (read, "odd.dxf", _dxf),
    "pdf": (read, "odd.pdf", lambda: (DATA / "cairo.pdf").read_bytes()),
    "png": (read, "odd.png", lambda: _picture("PNG")),
    "jpeg": (read, "odd.jpg", lambda: _picture("JPEG")),
    "project": (plan, "odd.ivq", _project),
    "job": (lay, "odd.json", _job),
    "store": (shop, "odd.sqlite", _store),
}
"""By kind: what is done, the file's name, and how a whole file is made."""
