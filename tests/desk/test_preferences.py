"""Preferences take effect at once, and are there at the next start."""

from decimal import Decimal

import pytest

from ivory_quilt.core.document.project import Paper
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.stock.keeping import KeepRule
from ivory_quilt.core.units import Currency, LengthUnit, show_length, show_money
from ivory_quilt.demo.project import demo_project
from ivory_quilt.desk.theme.style import pixels
from tests.desk.conftest import let_run


@pytest.fixture
def opened(demo_desk):
    demo_desk.act("preferences")
    return demo_desk, demo_desk.window.panels.preferences


def choose(box, place):
    box.setCurrentIndex(place)
    box.activated.emit(place)
    let_run()


def test_each_preference_takes_effect_at_once(opened):
    desk, panel = opened
    assert panel.isVisible()
    choose(panel.unit, 3)
    assert desk.lay.canvas.unit is LengthUnit.FRACTION
    assert show_length(25.4 * 1.5) == "1 1/2 in"
    choose(panel.decimal, 1)
    assert show_money(Decimal("4.5")) == "4,50 €"
    panel.sign.setText("$")
    choose(panel.place, 1)
    assert desk.session.stock.currency == Currency("$", first=True)
    assert desk.window.ledger.cost.text().startswith("$")
    choose(panel.text, 2)
    assert pixels(14) == 18
    assert "font-size: 18px" in desk.window.styleSheet()
    choose(panel.theme, 1)
    assert desk.window.settings.dark
    choose(panel.paper, 1)
    desk.act("new")
    assert desk.session.project.paper is Paper.LETTER
    panel.processes.setValue(1)


def test_they_are_there_at_the_next_start(opened, make_desk):
    desk, panel = opened
    choose(panel.unit, 2)
    choose(panel.decimal, 1)
    choose(panel.text, 1)
    desk.window.settings.sync()
    again = make_desk(demo_project())
    assert again.lay.canvas.unit is LengthUnit.INCH
    assert show_length(12.7) == "0,5 in"
    again.act("preferences")
    shown = again.window.panels.preferences
    assert (shown.unit.value, shown.decimal.value, shown.text.value) == (LengthUnit.INCH, True, 115)


def test_a_sign_that_is_none_is_refused_and_nothing_changes(opened):
    desk, panel = opened
    panel.sign.setText("12")
    panel.sign.editingFinished.emit()
    assert "currency" in panel.error.text()
    assert desk.session.stock.currency == Currency()


def test_which_offcuts_are_kept_is_the_shops(opened):
    desk, panel = opened
    desk.rested()
    assert desk.session.keep_all()
    before = desk.session.plan.ledger.kept
    assert before > 0
    panel.side.setText("40 cm")
    panel.area.setText("2400")
    panel.side.editingFinished.emit()
    assert desk.session.stock.keep == KeepRule(400.0, 240_000.0)
    assert desk.session.plan.ledger.kept < before
    panel.joined.show_value(False)
    panel.joined.activated.emit(1)
    assert desk.store.stock().keep == KeepRule(400.0, 240_000.0, joined=False)
    assert not desk.session.stock.keep.joined
    panel.joined.show_value(True)
    panel.joined.activated.emit(0)
    panel.area.setText("a lot")
    panel.area.editingFinished.emit()
    assert "area" in panel.error.text()
    assert desk.store.stock().keep == KeepRule(400.0, 240_000.0)


def test_a_server_that_does_not_answer_leaves_the_shop_as_it_is(opened):
    desk, panel = opened
    store = desk.session.store
    with pytest.raises(InputError):
        desk.window.preferences.set_store("shop.sqlite")
    panel.address.setText("postgresql://quilt@127.0.0.1:1/shop")
    panel._store()
    assert let_run(lambda: "refuses" in panel.shop_words.text(), 20)
    assert desk.session.store is store
    assert desk.window.settings.store_address == ""
    panel.address.setText("")
    panel._store()
    assert "your own" in panel.shop_words.text()
