from decimal import Decimal

import pytest

from ivory_quilt.core.errors import InputError
from ivory_quilt.devices.supplier import SimulatedSupplier


def test_a_seed_and_a_day_always_answer_alike():
    one, again = SimulatedSupplier(3, 1), SimulatedSupplier(3, 1)
    assert one.price_list() == again.price_list()
    assert one.supplier == again.supplier
    later = SimulatedSupplier(3, 2)
    assert later.supplier == one.supplier
    assert [i.id for i in later.price_list()] == [i.id for i in one.price_list()]
    assert [i.price for i in later.price_list()] != [i.price for i in one.price_list()]


def test_quotes_agree_with_the_list_and_stop_where_the_stock_does():
    out = plenty = None
    for seed in range(6):
        shop = SimulatedSupplier(seed)
        for item in shop.price_list():
            if item.available == 0:
                out = (shop, item)
            elif item.available is None:
                plenty = (shop, item)
    shop, item = out
    with pytest.raises(InputError, match="1 wanted, 0 in stock"):
        shop.quote(item.id, 1)
    shop, item = plenty
    assert shop.quote(item.id, 1).price == item.price * item.pack
    assert shop.quote(item.id, 5).price == item.steps[0][1]
    assert shop.quote(item.id, 5).price < shop.quote(item.id, 4).price
    with pytest.raises(InputError, match="does not sell"):
        shop.quote("moonlight", 1)
    assert all(Decimal(0) < i.price < 100 for i in shop.price_list())
