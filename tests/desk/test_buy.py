"""The Buy station as a maker uses it: an empty shop, the order, other ways, the catalogue."""

from decimal import Decimal

import pytest
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QPushButton

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.catalogue import Supplier
from ivory_quilt.core.stock.foam_stock import StockItem, StockKind, sheet
from ivory_quilt.desk.stations.buy.presenter import KINDS
from ivory_quilt.files.catalogue_file import write_price_list
from ivory_quilt.files.project_file import load_project
from tests.desk.conftest import let_run

EVA6 = Foam(6.0, "eva")


def plates(*sizes):
    return Project(
        pieces=tuple(
            Piece(f"p{k}", f"plate {k}", rectangle(w, h), count=n)
            for k, (w, h, n) in enumerate(sizes)
        )
    )


def half(ident, price, **more):
    made = sheet(ident, f"sheet {ident}", EVA6, (1000, 500), price=Decimal(price), margin=5)
    return replace(made, **more)


@pytest.fixture
def small_desk(make_desk):
    """A few plates, two suppliers of half sheets."""
    desk = make_desk(plates((480, 480, 3)), fill=False)
    desk.store.put_supplier(Supplier("near", "Nearby", Decimal(4), None, Decimal(0), 2))
    desk.store.put_supplier(Supplier("far", "Faraway", Decimal(9), Decimal(16), Decimal(0), 6))
    desk.store.put(half("a", "9.00", supplier="near"))
    desk.store.put(half("b", "8.00", supplier="far"))
    desk.session.reload_stock()
    desk.buy.ordering.seconds = 1.5
    desk.window.go("buy")
    return desk


def ordered(desk):
    desk.laid()

    def ready():
        return desk.buy.ordering.result is not None and not desk.buy.ordering.running

    assert let_run(ready, 40), desk.buy.ordering.problem
    return desk.buy.ordering.result


def pressed(widget, name):
    button = next(b for b in widget.findChildren(QPushButton) if b.accessibleName() == name)
    button.click()
    let_run()


def test_an_empty_shop_is_filled_with_usual_sizes_in_one_click(make_desk):
    desk = make_desk(plates((400, 300, 2)), fill=False)
    desk.window.go("buy")
    assert desk.session.plan.foams[0].standing is Standing.NO_STOCK
    assert desk.buy.shelf.usual.isVisible()
    assert "usual sizes" in desk.buy.order.note.text()
    pressed(desk.buy, "usual sizes, metric")
    assert not desk.buy.shelf.usual.isVisible()
    ordered(desk)
    line = desk.session.plan.ledger.lines[0]
    assert line.sheets(owned=False) == 1
    assert line.unpriced == 1
    assert desk.session.plan.ledger.cost == 0
    assert "price" in desk.buy.total_note.text()
    assert "1 price missing" in desk.buy.order.note.text()
    assert desk.buy.order.total.text() == "1 to buy"
    desk.buy.presenter.set_price(line.bought[0].item, "11.50")
    ordered(desk)
    assert desk.session.plan.ledger.unpriced == 0


def test_the_order_counts_shipping_and_is_proven(small_desk):
    result = ordered(small_desk)
    # By hand: two half sheets hold three plates; far away they cost 16 and ship for nothing.
    assert [(x.offer.supplier, x.packs) for x in result.lines] == [("far", 2)]
    assert result.total == result.bound == 16
    box = small_desk.buy.order
    assert box.total.text() == "16.00 €"
    assert "proven" in box.note.text()
    assert box.arrives.text() == "6 days"
    assert box.total.open_slip() is not None


def test_an_order_is_adopted_and_taken_back(small_desk):
    ordered(small_desk)
    before = small_desk.session.project
    small_desk.buy.order.adopt.click()
    let_run()
    assert small_desk.session.plan.foams[0].standing is Standing.KEPT
    assert {p.sheet for p in small_desk.session.project.layouts[0].placements} == {"buy:b"}
    small_desk.act("undo")
    assert small_desk.session.project == before


def test_what_arrived_lies_on_the_shelf_and_is_ordered_no_more(small_desk):
    ordered(small_desk)
    pressed(small_desk.buy.order, "sheet b arrived")
    assert small_desk.session.stock.item("b").owned == 2
    result = ordered(small_desk)
    assert result.total == 0
    assert result.lines == ()


def test_the_list_is_copied_and_written(small_desk, tmp_path):
    ordered(small_desk)
    small_desk.buy.order.copy.click()
    text = QGuiApplication.clipboard().text()
    assert "Faraway" in text
    assert "2 × sheet b" in text
    for name in ("list.pdf", "list.ods", "list.csv", "list.txt"):
        small_desk.buy.order.write_to(tmp_path / name)
        assert (tmp_path / name).stat().st_size > 100
    small_desk.buy.order.write_to(tmp_path / "list.doc")
    assert not (tmp_path / "list.doc").exists()


def test_other_ways_stand_side_by_side_and_one_is_adopted(small_desk):
    ordered(small_desk)
    small_desk.act("what-if")
    asked = small_desk.buy.asked
    assert let_run(lambda: bool(asked.ways) and not asked.running, 60)
    titles = [w.title if w else "as it is" for w in asked.ways]
    cards = small_desk.buy.what_if.cards
    assert [c.title.text() for c in cards.values()] == [titles[k] for k in cards]
    sizes = small_desk.buy.what_if.sizes
    assert [round(p.size, 2) for p in sizes.prices] == [0.9, 0.95, 1.0, 1.05, 1.1]
    assert "100 %: 16.00 €" in sizes.accessibleName()
    assert sizes.isVisibleTo(small_desk.buy.what_if)
    sizes.grab()
    assert "Nearby only" in titles
    near = cards[titles.index("Nearby only")]
    assert near.total.text() == "22.00 €"  # 2 × 9 + 4
    assert near.change.text() == "+6.00 €"
    double = cards[titles.index("two suits")]
    assert double.total.text() == "24.00 €"  # three half sheets, shipped for nothing
    double.adopt.click()
    let_run()
    assert small_desk.session.project.pieces[0].count == 6
    small_desk.act("undo")
    assert small_desk.session.project.pieces[0].count == 3


def test_the_catalogue_is_typed_into(small_desk):
    small_desk.act("catalogue")
    table = small_desk.buy.catalogue.items
    heads = [table.horizontalHeaderItem(c).text() for c in range(table.columnCount())]

    def type_in(row, head, text):
        table.item(row, heads.index(head)).setText(text)
        let_run()

    type_in(0, "Price steps", "2: 7.00; 5: 6.50")
    type_in(0, "Pack of", "1")
    type_in(0, "In stock", "4")
    type_in(0, "Measured", "5.7")
    type_in(0, "Kept at", "under the bench")
    item = small_desk.session.stock.items[0]
    assert item.steps == ((2, Decimal("7.00")), (5, Decimal("6.50")))
    assert (item.available, item.measured, item.place) == (4, 5.7, "under the bench")
    for head, wrong in (("Supplier", "nobody"), ("Pack of", "0"), ("Price steps", "cheap")):
        type_in(0, head, wrong)
        assert small_desk.buy.catalogue.error.text()
        assert small_desk.session.stock.items[0] == item
    assert small_desk.session.stock.item("a").supplier == "near"


def typing(table):
    """Return a function that types into a row's cell under a head."""
    heads = [table.horizontalHeaderItem(c).text() for c in range(table.columnCount())]

    def type_in(row, head, text):
        table.item(row, heads.index(head)).setText(text)
        let_run()

    return type_in


def test_suppliers_are_typed_and_go_when_their_name_goes(small_desk):
    small_desk.act("catalogue")
    table = small_desk.buy.catalogue.suppliers
    type_in = typing(table)
    type_in(2, "Supplier", "Mosswick")
    rows = [table.text(r, 0) for r in range(table.rowCount())]
    type_in(rows.index("Mosswick"), "Shipping", "3.50")
    known = {s.id: s for s in small_desk.session.stock.suppliers}
    assert known["mosswick"].shipping == Decimal("3.50")
    type_in([table.text(r, 0) for r in range(table.rowCount())].index("Nearby"), "Supplier", "")
    assert "near" not in {s.id for s in small_desk.session.stock.suppliers}
    assert small_desk.session.stock.item("a").supplier == ""


def test_bars_and_what_is_used_up_are_typed(small_desk):
    small_desk.act("catalogue")
    bars, used = small_desk.buy.catalogue.bars, small_desk.buy.catalogue.used
    typing(bars)(0, "Section", "10 mm half-round")
    typing(bars)(0, "Price", "2.10")
    typing(bars)(0, "Length", "1.2 m")
    (bar,) = small_desk.session.stock.bars
    assert (bar.section.name, bar.price, bar.length) == ("10 mm half-round", Decimal("2.10"), 1200)
    typing(bars)(0, "Section", "10 mm plank")
    assert "half-round" in small_desk.buy.catalogue.error.text()
    typing(used)(0, "Name", "dew cement")
    typing(used)(0, "Covers, m²/L", "4.2")
    (tin,) = small_desk.session.stock.consumables
    assert (tin.name, tin.coverage, tin.rate.value) == ("dew cement", 4.2, "the maker's own")
    typing(used)(0, "Opened", "in May")
    assert "opened" in small_desk.buy.catalogue.error.text()
    typing(used)(0, "Name", "")
    typing(bars)(0, "Section", "")
    assert small_desk.session.stock.consumables == small_desk.session.stock.bars == ()


def test_a_price_list_comes_in_with_its_good_rows(small_desk, tmp_path):
    small_desk.act("catalogue")
    path = tmp_path / "list.csv"
    write_price_list(small_desk.session.stock, path)
    text = path.read_text().replace("9.00", "7.77") + "plank,x,6,1,1\n"
    path.write_text(text)
    small_desk.buy.catalogue.read_list(path)
    assert let_run(lambda: small_desk.session.stock.item("a").price == Decimal("7.77"), 20)
    assert "row 4" in small_desk.buy.catalogue.error.text()
    assert {s.id for s in small_desk.session.stock.suppliers} == {"near", "far"}
    assert small_desk.session.stock.item("a").supplier == "near"
    small_desk.buy.catalogue.read_list(tmp_path / "missing.csv")
    assert let_run(lambda: "missing.csv" in small_desk.buy.catalogue.error.text(), 20)


def test_a_simulated_supplier_serves_its_list_and_changes_its_prices(small_desk):
    small_desk.act("catalogue")
    small_desk.buy.catalogue.ask_supplier(day=1)
    first = {i.id: i for i in small_desk.session.stock.items if i.supplier not in ("near", "far")}
    assert len(first) == 15
    assert {i.supplier for i in first.values()} <= {
        s.id for s in small_desk.session.stock.suppliers
    }
    small_desk.buy.catalogue.ask_supplier(day=2)
    second = {i.id: i for i in small_desk.session.stock.items if i.id in first}
    assert {i: x.price for i, x in second.items()} != {i: x.price for i, x in first.items()}
    gone = [i for i in second.values() if i.available == 0]
    sheets = {s.id: s for f in small_desk.session.plan.foams for s in f.job.sheets}
    assert all(sheets[f"buy:{i.id}"].quantity == 0 for i in gone if f"buy:{i.id}" in sheets)


def test_what_is_used_up_stands_with_its_reckoning(demo_desk):
    demo_desk.window.go("buy")
    demo_desk.laid()
    let_run(seconds=0.1)
    words = [w.text() for w in demo_desk.buy.used.findChildren(type(demo_desk.buy.total))]
    assert any(w.endswith("mL") for w in words)
    assert any(w.endswith("blades") for w in words)
    assert demo_desk.buy.used.isVisibleTo(demo_desk.buy.used.parentWidget())


def test_a_saved_project_holds_what_it_takes_and_the_next_one_sees_it_gone(make_desk, tmp_path):
    project = Project(pieces=(Piece("p", "plate", rectangle(300, 200)),))
    desk = make_desk(project, fill=False)
    desk.store.put(sheet("K7", "offcut K7", Foam(6.0, "eva"), (400, 300), owned=1))
    desk.session.reload_stock()
    desk.laid()
    assert desk.session.keep_all()
    desk.session.save(tmp_path / "one.ivq")
    (held,) = desk.session.stock.reserved
    assert (held.item, held.count, held.name) == ("K7", 1, "Untitled")
    assert desk.session.plan.foams[0].standing is Standing.KEPT
    desk.session.start(project)
    assert desk.session.plan.foams[0].job.sheets == ()
    assert desk.session.stock.item("K7").owned == 1
    # Taken by hand all the same: saved, and said.
    told = []
    desk.session.told.connect(lambda text, tone: told.append(text))
    desk.session.start(load_project(tmp_path / "one.ivq"))
    desk.session.save(tmp_path / "two.ivq")
    assert desk.session.plan.foams[0].standing is not Standing.KEPT
    desk.session.open(tmp_path / "one.ivq")
    assert desk.session.plan.foams[0].standing is Standing.KEPT
    desk.session.edit("Empty", lambda _: Project(name="Untitled"))
    desk.session.save(tmp_path / "one.ivq")
    assert desk.session.stock.reserved == ()
    assert not any("not held" in t for t in told)


def test_other_goods_are_typed_and_told_when_late(small_desk):
    small_desk.act("things")
    panel = small_desk.buy.things
    heads = [panel.table.horizontalHeaderItem(c).text() for c in range(panel.table.columnCount())]

    def type_in(row, head, text):
        panel.table.item(row, heads.index(head)).setText(text)
        let_run()

    type_in(0, "What", "lantern light")
    type_in(0, "How many", "2")
    type_in(0, "Price each", "4,20")
    type_in(0, "For piece", "Plate 0")
    type_in(0, "Standing", "ordered")
    type_in(0, "Needed by", "2027-03-01")
    type_in(0, "Arrives", "2027-03-04")
    (thing,) = small_desk.session.project.things
    assert (thing.count, thing.piece, thing.cost) == (2, "p0", Decimal("8.40"))
    assert "too late: lantern light" in panel.late.text()
    assert panel.sum.text() == "8.40 € still to spend"
    for head, wrong in (("Standing", "somewhere"), ("For piece", "moon"), ("How many", "few")):
        type_in(0, head, wrong)
        assert panel.error.text()
        assert small_desk.session.project.things == (thing,)
    type_in(0, "Standing", "on hand")
    assert panel.sum.text() == "0.00 € still to spend"
    type_in(1, "What", "zip")
    assert len(small_desk.session.project.things) == 2
    type_in(0, "What", "")
    assert [t.name for t in small_desk.session.project.things] == ["zip"]
    ordered(small_desk)
    assert any(x.item == "zip" for x in small_desk.buy.order.listed().lines)
    small_desk.act("undo")
    assert len(small_desk.session.project.things) == 2


def test_the_shelf_shows_what_lies_there_and_the_engine_says_what_fits(small_desk):
    small_desk.act("shelf")
    panel = small_desk.buy.pictures
    assert panel.empty.isVisible()
    ell = Shape.make([(0, 0), (500, 0), (500, 500), (400, 500), (400, 100), (0, 100)])
    for ident, shape in (("K1", rectangle(520, 500)), ("K2", ell), ("K3", rectangle(900, 300))):
        item = StockItem(ident, f"offcut {ident}", StockKind.OFFCUT, EVA6, shape, owned=1)
        small_desk.store.put(item)
    small_desk.store.put(half("T", "5", foam=Foam(4.0, "eva"), owned=2))
    small_desk.session.reload_stock()
    let_run()
    assert [i.id for i in panel.pictures.items] == ["T", "K1", "K2", "K3"]
    panel.piece.setCurrentIndex(panel.piece.findData("p0"))
    panel.piece.activated.emit(panel.piece.currentIndex())
    # A plate of 480 mm: K2 is larger in its box, K3 in its area.
    assert let_run(lambda: len(panel.fit.fits) == 3, 30)
    assert {i: bool(p) for i, p in panel.fit.fits.items()} == {"K1": True, "K2": False, "K3": False}
    panel.grab()
    panel.thickness.setCurrentIndex(panel.thickness.findData("4"))
    panel.thickness.activated.emit(panel.thickness.currentIndex())
    assert [i.id for i in panel.pictures.items] == ["T"]


def test_an_offcut_is_typed_corner_by_corner(small_desk):
    form = small_desk.buy.shelf.form
    form.kind.setCurrentIndex([k for k, _ in KINDS].index(StockKind.OFFCUT))
    form.kind.activated.emit(form.kind.currentIndex())
    form.corners.setText("0,0; 42 cm,0; 420,180; 250,230; 0,390")
    pressed_text(form, "Add")
    made = next(i for i in small_desk.session.stock.items if i.kind is StockKind.OFFCUT)
    # By the shoelace rule: ½ Σ (x·y' − x'·y).
    assert made.shape.area == pytest.approx(
        (420 * 180 + 420 * 230 - 250 * 180 + 250 * 390 - 0 * 230) / 2
    )
    for wrong in ("0,0; 10,0", "0,0; 10,0; here", "0,0; 100,100; 100,0; 0,100"):
        form.corners.setText(wrong)
        pressed_text(form, "Add")
        assert form.error.text()
    assert sum(i.kind is StockKind.OFFCUT for i in small_desk.session.stock.items) == 1


def pressed_text(widget, text):
    next(b for b in widget.findChildren(QPushButton) if b.text() == text).click()
    let_run()
