"""Buy, Cut, the commands, the help page, errors, themes, and Qt's own health."""

import sys
from decimal import Decimal

import pytest
from defusedxml import ElementTree
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QImage, QKeySequence, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QLabel, QLineEdit, QPushButton, QSpinBox, QWidget

from ivory_quilt.core.document.project import Paper, Project, set_gap
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.stock.foam_stock import StockKind
from ivory_quilt.desk.canvas.view import FURTHEST, NEAREST
from ivory_quilt.desk.commands.menus import COMMANDS, MENUS, command_of
from ivory_quilt.desk.layout_engine import LayTask
from ivory_quilt.desk.stations.buy.presenter import StockForm, stock_from
from ivory_quilt.desk.stations.pattern.board import arrange
from ivory_quilt.engine.orders import EngineFault
from tests.desk.conftest import let_run

# Commands


def test_every_command_has_a_title_a_tip_a_menu_and_a_key_of_its_own():
    keys = [QKeySequence(c.keys).toString() for c in COMMANDS]
    assert all(keys)
    assert len(set(keys)) == len(keys)
    assert len({c.id for c in COMMANDS}) == len(COMMANDS)
    for c in COMMANDS:
        assert c.menu in MENUS
        assert c.tip.endswith(".")
        assert c.title


def test_menus_and_the_page_of_keys_are_made_from_the_one_list(empty_desk):
    window = empty_desk.window
    in_menus = {a.text() for m in window.menus.menus.values() for a in m.actions()}
    empty_desk.act("keys")
    assert window.panels.keys.isVisible()
    on_page = {label.text() for label in window.panels.keys.findChildren(QLabel)}
    for c in COMMANDS:
        assert c.title in in_menus
        assert c.title.removesuffix(" …") in on_page
        assert c.keys in on_page
    QTest.keyClick(window.panels.keys, Qt.Key.Key_Escape)
    assert not window.panels.keys.isVisible()


def test_commands_that_make_no_sense_are_grey(empty_desk):
    window = empty_desk.window
    for ident in ("undo", "redo", "turn", "delete", "keep", "print-templates"):
        assert not window.actions_by_id[ident].isEnabled(), ident
        assert not command_of(ident).enabled(window)
    for ident in ("new", "open", "import", "save", "guide", "theme", "go-lay"):
        assert window.actions_by_id[ident].isEnabled(), ident


@pytest.mark.parametrize("ident", [c.id for c in COMMANDS])
def test_every_command_can_be_given_at_any_time(empty_desk, ident):
    command_of(ident).run(empty_desk.window)
    let_run()
    assert not empty_desk.window.panels.error.isVisible()


def test_stations_are_reached_by_key_rail_and_tab(demo_desk):
    window = demo_desk.window
    for ident, station in window.stations.items():
        demo_desk.act(f"go-{ident}")
        assert window.station is station
    QTest.mouseClick(window.rail.keys["buy"], Qt.MouseButton.LeftButton)
    assert window.station is demo_desk.buy
    QTest.keyClick(window.rail.keys["cut"], Qt.Key.Key_Space)
    assert window.station is demo_desk.cut


def test_history_goes_back_several_steps(demo_desk):
    for k in range(4):
        demo_desk.session.edit(f"step {k}", lambda p, k=k: Project(f"n{k}", p.pieces))
    demo_desk.act("history")
    panel = demo_desk.window.panels.history
    assert [panel.list.item(k).text() for k in range(4)] == [f"step {k}" for k in (3, 2, 1, 0)]
    panel.list.setCurrentRow(2)
    panel._back()
    assert demo_desk.session.project.name == "n0"
    assert demo_desk.session.redo_label == "step 1"


# Buy


def test_buy_shows_what_each_foam_takes(demo_desk):
    desk = demo_desk
    desk.laid()
    desk.window.go("buy")
    let_run()
    ledger = desk.session.plan.ledger
    assert desk.buy.total.text() == f"{ledger.cost:.2f} €"
    assert len(desk.buy._blocks) == 7
    words = {label.text() for label in desk.buy.centre.findChildren(QLabel)}
    assert any("become parts" in w for w in words)
    assert "on the shelf" in words
    slip = desk.buy.total.open_slip()
    texts = " ".join(label.text() for label in slip.findChildren(QLabel))
    slip.close()
    assert "proven lower bound" in texts
    assert "Source" in texts
    desk.buy.show_foam(Foam(10.0, "eva"))


def test_owning_more_foam_saves_money_at_once(demo_desk):
    desk = demo_desk
    desk.rested()
    desk.window.go("buy")
    before = desk.session.plan.ledger.cost
    field = next(
        f
        for f in desk.buy.shelf.findChildren(QSpinBox)
        if f.accessibleName().startswith("10 mm half sheet")
    )
    field.setValue(2)
    desk.rested()
    assert desk.session.stock.item("T10-half").owned == 2
    assert desk.session.plan.ledger.cost < before
    line = desk.session.plan.ledger.line(Foam(10.0, "eva"))
    assert line.cost == 0


def test_prices_can_be_changed_and_wrong_ones_are_refused(demo_desk):
    desk = demo_desk
    desk.window.go("buy")
    shelf = desk.buy.shelf
    field = next(
        f for f in shelf.findChildren(QLineEdit) if f.accessibleName() == "6 mm half sheet: price"
    )
    field.setText("cheap")
    field.editingFinished.emit()
    assert "money" in shelf.error.text()
    assert field.text() == "cheap"  # it stays to be mended, and so does the reason
    desk.session.changed.emit()
    assert (field.text(), "money" in shelf.error.text()) == ("cheap", True)
    assert str(desk.session.stock.item("T6-half").price) == "11.50"
    field.setText("9,25")
    field.editingFinished.emit()
    assert desk.session.stock.item("T6-half").price == Decimal("9.25")


def test_foam_can_be_added_and_taken_out(make_desk, tmp_path):
    desk = make_desk(Project("X", (Piece("x", "x", rectangle(50, 50), thickness=3.0),)), fill=False)
    desk.window.go("buy")
    form = desk.buy.shelf.form
    form.thickness.setText("3 mm")
    form.owned.setValue(0)
    form._add()
    assert "none is owned" in form.error.text()
    form.price.setText("4.20")
    form._add()
    assert form.error.text() == ""
    (item,) = desk.session.stock.items
    assert (item.name, item.price, item.owned) == ("3 mm sheet", Decimal("4.20"), 0)
    desk.rested()
    assert desk.session.plan.ledger.cost == Decimal("4.20")
    outline = tmp_path / "offcut.svg"
    outline.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="20cm" height="20cm" '
        'viewBox="0 0 200 200"><path d="M0 0 L200 0 L120 150 Z"/></svg>'
    )
    form.read_outline(outline)
    assert let_run(lambda: form.kind.currentData() == StockKind.OFFCUT, 20)
    form.owned.setValue(1)
    form.price.clear()
    form._add()
    offcut = desk.session.stock.item("3-mm-offcut")
    assert offcut.shape.area == pytest.approx(15000)
    assert offcut.owned == 1
    desk.rested()
    assert desk.session.plan.ledger.cost == 0
    form.read_outline(tmp_path / "none.svg")
    assert let_run(lambda: "none.svg" in form.error.text(), 20)
    keys = desk.buy.shelf.findChildren(QPushButton)
    next(k for k in keys if k.accessibleName() == "remove 3 mm offcut").click()
    assert desk.session.stock.item("3-mm-offcut") is None


@pytest.mark.parametrize(
    ("field", "value"),
    [
        ("thickness", "thick"),
        ("thickness", "500"),
        ("length", "0"),
        ("breadth", "-4"),
        ("price", "dear"),
        ("margin", "wide"),
    ],
)
def test_wrong_stock_forms_name_the_field(demo_desk, field, value):
    good = {
        "kind": StockKind.SHEET,
        "material": "eva",
        "thickness": "6",
        "length": "1000",
        "breadth": "500",
        "owned": 1,
        "price": "3",
        "margin": "5",
    }
    stock_from(StockForm(**good), demo_desk.session.stock)
    names = {"breadth": "width", "margin": "edge strip"}
    with pytest.raises(InputError, match=names.get(field, field)):
        stock_from(StockForm(**{**good, field: value}), demo_desk.session.stock)


# Cut


def test_all_papers_are_written_into_a_folder(demo_desk, tmp_path):
    desk = demo_desk
    desk.laid()
    desk.window.go("cut")
    folder = tmp_path / "papers"
    desk.cut.ask_folder = lambda: str(folder)
    # Papers are of the plan as it stood at the press; the layout improves while they are written.
    sheets = sum(len(f.result.stock) for f in desk.session.plan.foams)
    desk.act("print-all")
    message = desk.window.message.text
    assert let_run(lambda: message.text().startswith("Exported"), 20)
    names = sorted(p.name for p in folder.iterdir())
    assert "templates.pdf" in names
    assert sum(n.startswith("cut-") and n.endswith(".svg") for n in names) == sheets
    desk.cut.ask_folder = lambda: ""
    desk.act("print-all")


def test_a_place_that_cannot_be_written_is_said(demo_desk, tmp_path):
    desk = demo_desk
    desk.laid()
    desk.window.go("cut")
    desk.cut.ask_file = lambda name, kinds: str(tmp_path / "none" / "x.pdf")
    desk.act("print-cut-sheets")
    message = desk.window.message.text
    assert let_run(lambda: "cannot be written" in message.text(), 20)


def test_paper_is_an_edit_like_any_other(demo_desk):
    desk = demo_desk
    desk.window.go("cut")
    desk.cut.paper.setCurrentIndex(1)
    desk.cut.paper.activated.emit(1)
    assert desk.session.project.paper is Paper.LETTER
    desk.act("undo")
    assert desk.session.project.paper is Paper.A4
    desk.cut.show_templates.click()
    assert let_run(lambda: not desk.cut.presenter.paging.waiting, 60)
    assert len(desk.cut.preview.scene().items()) == len(desk.cut.presenter.pages()) > 20


# The window


def test_themes_change_everything_in_sight(demo_desk):
    desk = demo_desk
    desk.laid()

    def pictures():
        found = {}
        for ident in desk.window.stations:
            desk.act(f"go-{ident}")
            found[ident] = desk.window.grab().toImage()
        return found

    light = pictures()
    desk.act("theme")
    spots = [(x, y) for x in range(40, 1240, 120) for y in range(70, 780, 90)]
    for ident, dark in pictures().items():
        darker = sum(
            dark.pixelColor(x, y).lightness() < light[ident].pixelColor(x, y).lightness()
            for x, y in spots
        )
        assert darker > 0.8 * len(spots), ident


def test_nothing_is_wider_than_a_small_window(demo_desk):
    desk = demo_desk
    desk.laid()
    desk.window.resize(1280, 800)
    let_run()
    assert desk.window.size().width() == 1280
    for ident, station in desk.window.stations.items():
        desk.act(f"go-{ident}")
        assert station.width() + desk.window.rail.width() <= 1280
        centre = getattr(station, "centre", station.canvas)
        if station.canvas is not None:
            assert centre.width() >= 720
        for field in station.card.findChildren(QWidget):
            if field.isVisible() and isinstance(field, QLineEdit | QSpinBox | QPushButton):
                right = field.mapTo(station.card, QPoint(field.width(), 0)).x()
                assert right <= station.card.width() + 1, (ident, field.accessibleName())


def test_the_wheel_zooms_to_the_pointer(demo_desk):
    desk = demo_desk
    canvas = desk.pattern.canvas
    assert let_run(lambda: canvas.scale_now < 1, 10)  # the whole suit is in sight
    at = QPointF(300, 200)
    before = canvas.mapToScene(at.toPoint())
    wheel = QWheelEvent(
        at,
        canvas.viewport().mapToGlobal(at),
        QPoint(),
        QPoint(0, 240),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    scale = canvas.scale_now
    canvas.wheelEvent(wheel)
    assert canvas.scale_now > scale
    after = canvas.mapToScene(at.toPoint())
    assert (after - before).manhattanLength() < 3 / canvas.scale_now
    for factor in (1e9, 1e-9):
        canvas.zoom(factor)
        assert FURTHEST <= canvas.scale_now <= NEAREST
    desk.act("fit")
    assert canvas.scale_now == pytest.approx(scale, rel=0.01)


def test_the_table_is_panned_with_the_middle_button_or_space(demo_desk):
    canvas = demo_desk.pattern.canvas
    view = canvas.viewport()
    before = canvas.mapToScene(QPoint(300, 200))
    QTest.mousePress(view, Qt.MouseButton.MiddleButton, pos=QPoint(300, 200))
    QTest.mouseMove(view, QPoint(340, 230))
    QTest.mouseRelease(view, Qt.MouseButton.MiddleButton, pos=QPoint(340, 230))
    moved = canvas.mapToScene(QPoint(340, 230)) - before
    assert moved.manhattanLength() < 4 / canvas.scale_now
    QTest.keyPress(canvas, Qt.Key.Key_Space)
    assert canvas._space
    QTest.keyRelease(canvas, Qt.Key.Key_Space)
    assert not canvas._space


def test_a_board_groups_pieces_by_foam_and_overlaps_none():
    made = [
        Piece(
            f"p{k}",
            f"p{k}",
            rectangle(40 + 7 * k, 30 + 11 * (k % 5)),
            thickness=(2.0, 6.0, 10.0)[k % 3],
        )
        for k in range(25)
    ]
    board = arrange(made, 1.5)
    assert [g.foam.thickness for g in board.groups] == [2.0, 6.0, 10.0]
    from ivory_quilt.core.geometry.shape import Pose

    placed = [s.piece.shape.placed(Pose(*s.at)) for s in board.spots]
    for i, one in enumerate(placed):
        assert one.bounds[2] <= board.width + 1e-6
        for other in placed[i + 1 :]:
            assert one.polygon.distance(other.polygon) > 5


def test_unexpected_errors_reach_the_maker_calmly(demo_desk, capsys):
    desk = demo_desk
    desk.watch.install()
    try:
        raise RuntimeError("a thread came loose")
    except RuntimeError:
        sys.excepthook(*sys.exc_info())
    assert let_run(desk.window.panels.error.isVisible, 3)
    panel = desk.window.panels.error
    assert "a thread came loose" in panel.what.text()
    (report,) = desk.where.reports.iterdir()
    text = report.read_text()
    assert "RuntimeError: a thread came loose" in text
    assert "Ivory Quilt" in text
    assert str(report) in panel.where.text()
    assert desk.session.project.pieces
    panel.put_away()
    capsys.readouterr()


def test_a_foam_that_costs_the_engine_too_much_is_marked_with_a_report(demo_desk, capsys):
    desk = demo_desk
    desk.rested()
    desk.window.laying.engine.request = lambda tasks: None  # nobody lays from now on
    desk.session.edit("Gap", lambda p: set_gap(p, 3.0))
    planned = desk.session.plan.unlaid[0]
    fault = EngineFault("The layout engine was lost 3 times on this foam.", "ended by SIGSEGV")
    task = LayTask(planned.foam, planned.job, 0.0)
    desk.window.laying.engine.failed.emit(task, fault)
    desk.window.go("lay")
    let_run()
    reports = list(desk.where.reports.glob("*"))
    assert len(reports) == 1, reports
    assert "ended by SIGSEGV" in reports[0].read_text()
    assert not desk.window.panels.error.isVisible()
    rows = {r.foam: r for r in desk.lay._rows}
    assert rows[planned.foam].state_words == f"could not be laid: {fault}"
    capsys.readouterr()


def test_the_foam_in_sight_is_known_at_each_station(demo_desk):
    desk = demo_desk
    desk.rested()
    laying = desk.window.laying
    assert laying._in_sight == frozenset()
    desk.pattern.items["wing-case"].setSelected(True)
    let_run()
    assert laying._in_sight == frozenset({Foam(6.0, "eva")})
    desk.window.go("build")
    desk.window.building.open("horn-spine")
    desk.window.go("build")
    assert desk.window.building.presenter.piece_id == "horn-spine"
    layers = {p.foam for p in desk.session.plan.parts["horn-spine"]}
    assert len(layers) > 1
    assert laying._in_sight == layers
    desk.window.go("lay")
    assert laying._in_sight == frozenset()
    desk.lay.show_foam(Foam(4.0, "eva"))
    assert laying._in_sight == frozenset({Foam(4.0, "eva")})
    desk.lay.table.drawing.finish()
    key = next(k for k in desk.lay.table.parts if k[0] == Foam(2.0, "eva"))
    desk.lay.table.parts[key].setSelected(True)
    let_run()
    assert laying._in_sight == frozenset({Foam(2.0, "eva")})
    desk.window.go("buy")
    assert laying._in_sight == frozenset()


def test_messages_go_by_themselves_or_on_a_click(demo_desk):
    message = demo_desk.window.message
    demo_desk.session.tell("Foam is here.", "good")
    assert message.isVisible()
    message.findChildren(QPushButton)[0].click()
    assert not message.isVisible()


def test_void_methods_of_qt_can_be_called_without_end(qapp):
    # PySide6 6.12.0 on Python 3.11 loses a reference to None at each call and dies after about
    # 5,000 of them; the pinned version must not.
    label = QLabel("x")
    for _ in range(50_000):
        label.setText("y")
    assert label.text() == "y"


def test_what_is_in_front_is_exported_as_a_picture(demo_desk, tmp_path, monkeypatch):
    desk = demo_desk
    for name, station in desk.window.stations.items():
        desk.window.go(name)
        let_run()
        for kind in (".png", ".svg"):
            place = tmp_path / f"{name}{kind}"
            chosen = lambda *_, place=place: (str(place), "")  # noqa: E731
            monkeypatch.setattr(QFileDialog, "getSaveFileName", chosen)
            desk.act("export-picture")
            assert f"Exported: {place.name}" in desk.window.message.text.text()
        seen = QImage(str(tmp_path / f"{name}.png"))
        assert seen.size() == station.view.size() * 2
        colours = {
            seen.pixel(x, y) for x in range(0, seen.width(), 7) for y in range(0, seen.height(), 7)
        }
        assert len(colours) > 5
        root = ElementTree.parse(tmp_path / f"{name}.svg").getroot()
        assert root.tag.endswith("svg")
        assert len(list(root.iter())) > 30
    wrong = tmp_path / "a.gif"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(wrong), ""))
    desk.act("export-picture")
    assert ".png or .svg" in desk.window.message.text.text()
    assert not wrong.exists()
