"""`plot` and `plan --sheets`: files for a machine, and what the simulated one makes of them."""

import pytest
from defusedxml import ElementTree

from ivory_quilt.cli import main
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.stock.foam_stock import sheet
from ivory_quilt.files.project_file import save_project
from ivory_quilt.shop.sqlite_store import SqliteStore


@pytest.fixture
def project(tmp_path):
    place = tmp_path / "p.ivq"
    save_project(Project("Plates", (Piece("plate", "plate", rectangle(180, 90)),)), place)
    store = SqliteStore(tmp_path / "shop.sqlite")
    store.put(sheet("s", "half", Foam(6.0, "eva"), (400, 300), owned=1))
    store.close()
    return place


def plan(project, *more):
    store = str(project.parent / "shop.sqlite")
    return main(["plan", str(project), "--seconds", "0.2", "--store", store, *more])


def test_a_file_is_written_and_tried(project, tmp_path, capsys):
    out = tmp_path / "papers"
    assert plan(project, "--out-dir", str(out), "--sheets", "hpgl, dxf,g-code") == 0
    assert {p.suffix for p in out.iterdir()} >= {".plt", ".dxf", ".nc", ".svg", ".pdf"}
    capsys.readouterr()
    for suffix in (".plt", ".nc"):
        (file,) = out.glob(f"*{suffix}")
        assert main(["plot", str(file), "--out", str(tmp_path / "cut.svg")]) == 0
        assert capsys.readouterr().out.startswith("1 cut, 0.2 min")
        root = ElementTree.parse(tmp_path / "cut.svg").getroot()
        wide, high = (float(root.get(side).removesuffix("mm")) for side in ("width", "height"))
        # 5 mm of edge all round; the sheet may be laid either way.
        assert sorted((wide, high)) == pytest.approx([90 + 10, 180 + 10], abs=0.1)


def test_the_shop_book_is_written_on_the_command_line(project, tmp_path):
    book = tmp_path / "book.pdf"
    assert plan(project, "--book", str(book)) == 0
    assert book.read_bytes().startswith(b"%PDF-")
    assert plan(project, "--book", str(tmp_path / "nowhere" / "book.pdf")) == 2


def test_what_cannot_be_is_said(project, tmp_path, capsys):
    assert plan(project, "--sheets", "hpgl") == 2
    assert "--out-dir" in capsys.readouterr().err
    assert plan(project, "--out-dir", str(tmp_path / "o"), "--sheets", "cnc") == 2
    assert "svg, dxf, hpgl, g-code" in capsys.readouterr().err
    assert not (tmp_path / "o").exists()
    wrong = tmp_path / "a.plt"
    wrong.write_text("IN;PD1;")
    assert main(["plot", str(wrong), "--out", str(tmp_path / "c.svg")]) == 2
    assert "a.plt" in capsys.readouterr().err
    assert not (tmp_path / "c.svg").exists()
