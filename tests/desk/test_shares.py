"""Where foam and money go, quotes and orders of the past, spares and ranks in the cards."""

from datetime import date
from decimal import Decimal

import pytest
from PySide6.QtWidgets import QPushButton

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece, Wanted
from ivory_quilt.core.pattern.spares import SpareRule
from ivory_quilt.core.pattern.thing import Thing, ThingStanding
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import sheet
from ivory_quilt.desk.stations.buy.arrivals import arrivals_of
from ivory_quilt.devices.supplier import SimulatedSupplier
from tests.desk.conftest import let_run

EVA6 = Foam(6.0, "eva")
DAY = date(2027, 3, 1)


def press(widget, text):
    next(b for b in widget.findChildren(QPushButton) if b.text() == text).click()
    let_run()


def shapes(count):
    ell = Shape.make([(0, 0), (200, 0), (200, 80), (80, 80), (80, 200), (0, 200)])
    return Project(
        pieces=(
            Piece("l", "bracket", ell, count=count),
            Piece("p", "plate", rectangle(150, 90), count=count),
        )
    )


@pytest.fixture
def priced_desk(make_desk):
    desk = make_desk(shapes(3), fill=False)
    desk.store.put(sheet("s", "half sheet", EVA6, (1000, 500), price=Decimal(12), margin=5))
    desk.session.reload_stock()
    desk.laid()
    desk.window.go("buy")
    assert let_run(lambda: desk.buy.ordering.result is not None, 30)
    return desk


def test_the_bars_add_up_to_the_foam_taken(priced_desk):
    desk = priced_desk
    desk.buy.show_mode("shares")
    panel = desk.buy.shares
    assert let_run(lambda: bool(panel.causes.rows), 10)
    (row,) = panel.causes.rows
    line = desk.session.plan.foams[0].line
    assert row.whole == pytest.approx(line.foam_area, rel=1e-6)
    assert dict(row.parts)["parts"] == pytest.approx(line.part_area)
    scrap = row.whole - dict(row.parts)["parts"] - dict(row.parts)["kept"]
    assert scrap == pytest.approx(line.scrap_area, rel=1e-3)
    assert sum(r.whole for r in panel.pieces.rows) == pytest.approx(scrap, rel=1e-6)
    assert [r.name for r in panel.groups.rows] == ["bracket", "plate"]
    # By hand: 3 × 256 of 3 × (256 + 135) cm² on one sheet of 12.00.
    assert panel.groups.rows[0].text.startswith("7.86 €")
    assert "6 mm" in panel.causes.accessibleName()
    assert panel.advice.text()


def test_what_comes_too_late_stands_first():
    def thing(name, arrives, needed, standing=ThingStanding.ORDERED):
        return Thing(name, name, standing=standing, arrives=arrives, needed=needed)

    project = Project(
        things=(
            thing("lamp", "2027-03-05", "2027-03-09"),
            thing("boots", "2027-03-20", "2027-03-10"),
            thing("zip", "2027-03-02", "", ThingStanding.ON_HAND),
            thing("lens", "", ""),
        )
    )
    found = arrivals_of(project, (("Mosswick", 3),), DAY)
    assert [a.name for a in found] == ["boots", "foam: Mosswick", "lamp"]
    assert [a.late for a in found] == [True, False, False]
    assert found[1].arrives == date(2027, 3, 4)


def test_an_order_is_kept_and_the_next_one_compared_with_it(priced_desk):
    desk = priced_desk
    box = desk.buy.order
    box.day = lambda: DAY
    press(box, "Ordered")
    (past,) = desk.store.past_orders()
    assert (past.day, past.total) == ("2027-03-01", desk.buy.ordering.result.total)
    assert "2027-03-01" in box.last.text()
    item = desk.store.stock().item("s")
    desk.store.put(replace(item, price=Decimal("12.60")))
    desk.session.reload_stock()
    desk.laid()

    def compared():
        return "s" in desk.buy.ordering.changes() and not desk.buy.ordering.running

    assert let_run(compared, 30)
    assert desk.buy.ordering.changes()["s"].percent == pytest.approx(5)
    said = [w.text() for w in box.findChildren(type(box.last)) if "since" in w.text()]
    assert said == ["+5 % since 2027-03-01"]


def test_quotes_are_asked_for_and_taken_over(make_desk):
    desk = make_desk(shapes(2), fill=False)
    box = desk.buy.order
    box.day = lambda: DAY
    asked = SimulatedSupplier(day=DAY.toordinal())
    desk.store.put_supplier(asked.supplier)
    listed = next(
        i
        for i in asked.price_list()
        if i.foam.thickness == 6 and i.available != 0 and i.length == 1000
    )
    desk.store.put(replace(listed, price=listed.price - 1, steps=()))
    desk.session.reload_stock()
    desk.laid()
    desk.window.go("buy")
    assert let_run(lambda: desk.buy.ordering.result is not None, 30)
    let_run()
    press(box, "Ask for quotes")
    (answer,) = box.quotes.answers.values()
    assert answer.differs
    assert f"{listed.price:.2f}" in answer.words
    press(box, "Use these prices")
    assert desk.store.stock().item(listed.id).price == listed.price
    assert not box.quotes.answers


def test_spares_and_ranks_are_said_in_the_cards(make_desk):
    desk = make_desk(shapes(10))
    desk.laid()
    desk.window.go("lay")
    box = desk.window.stations["lay"].spares
    box.percent.setText("10 %")
    box.percent.setModified(True)
    box.percent.editingFinished.emit()
    assert desk.session.project.spares == SpareRule(10.0)
    box.percent.setText("200")
    box.percent.setModified(True)
    box.percent.editingFinished.emit()
    assert desk.session.project.spares == SpareRule(10.0)
    assert "100" in box.error.text()
    box.hard.click()
    assert desk.session.project.spares == SpareRule(10.0, hard=True)
    assert "2 spares cut" in box.note.text()
    desk.window.go("pattern")
    station = desk.window.pattern
    station.presenter.selected = ("l",)
    station.refresh()
    station.piece_card.spares.setValue(4)
    assert desk.session.project.piece("l").spares == 4
    station.piece_card.spares.setValue(-1)
    assert desk.session.project.piece("l").spares is None
    station.piece_card.wanted.setCurrentIndex(0)
    station.piece_card.wanted.activated.emit(0)
    assert desk.session.project.piece("l").wanted is Wanted.FIRST
