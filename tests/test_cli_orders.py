"""`lengths` and `buy` as scripts use them: shapes, exit statuses, nothing half written."""

import copy
import json
import random
from decimal import Decimal

import pytest

from ivory_quilt.cli import main
from ivory_quilt.core.nesting.check import violations
from ivory_quilt.core.nesting.job import LayJob
from ivory_quilt.files.buy_file import decode_buy
from ivory_quilt.files.project_file import placement_of
from ivory_quilt.files.project_wire import PlacementWire
from tests.effort import seeds

LENGTHS = {
    "format": "ivory-quilt/lengths-job",
    "version": 1,
    "kerf": 1.0,
    "end_trim": 0.0,
    "stock": [{"id": "bar", "length": 2000.0, "quantity": None, "cost": "3.20"}],
    "demands": [{"id": "rim", "length": 460.0, "quantity": 6}],
}
SQUARE = [[0, 0], [480, 0], [480, 480], [0, 480]]
HALF = [[0, 0], [1000, 0], [1000, 500], [0, 500]]
BUY = {
    "format": "ivory-quilt/buy-job",
    "version": 1,
    "gap": 2.0,
    "suppliers": [
        {
            "id": "north",
            "shipping": "6.90",
            "free_from": "80.00",
            "minimum": "0.00",
            "days": 3,
        }
    ],
    "foams": [
        {
            "id": "eva 6",
            "pieces": [{"id": "p", "outline": SQUARE, "quantity": 5, "rotations": [0, 90]}],
            "owned": [
                {"id": "own", "outline": HALF, "quantity": 1, "cost": "0", "margin": 0.0},
                {"id": "rest", "width": 400.0, "max_length": 900.0, "cost_per_mm": "0"},
            ],
            "offers": [
                {
                    "id": "north half",
                    "supplier": "north",
                    "pack": 1,
                    "available": None,
                    "breaks": [[1, "11.50"], [5, "10.20"]],
                    "sheet": {"outline": HALF, "holes": [], "margin": 5.0},
                }
            ],
        }
    ],
}


def run(tmp_path, name, job, *more):
    source, out = tmp_path / "job.json", tmp_path / "result.json"
    source.write_text(json.dumps(job))
    status = main([name, str(source), "--out", str(out), *more])
    return status, json.loads(out.read_text()) if out.exists() else None


def test_lengths_writes_a_result_of_the_promised_shape(tmp_path, capsys):
    status, result = run(tmp_path, "lengths", LENGTHS)
    assert status == 0
    assert result["format"] == "ivory-quilt/lengths-result"
    assert (result["cost"], result["cost_bound"], result["optimal"]) == ("6.40", "6.40", True)
    cuts = sum(n * b["count"] for b in result["bars"] for _, n in b["cuts"])
    assert cuts == 6
    for bar in result["bars"]:
        (_, n), *_ = bar["cuts"]
        # Kerfs between cuts and before the leftover, as the bar is cut.
        assert bar["left"] == pytest.approx(2000 - 460 * n - n * 1.0)
    assert "proven" in capsys.readouterr().out


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"kerf": -1}, "kerf"),
        ({"stock": [{"id": "bar", "length": 300.0, "cost": "1"}]}, "demand 'rim'"),
        ({"stock": [{"id": "bar", "length": 2000.0, "quantity": 1, "cost": "1"}]}, "stock"),
        ({"stock": [{"id": "bar", "length": "long", "cost": "1"}]}, "length"),
        ({"stock": []}, "demand 'rim'"),
        ({"demands": [{"id": "rim", "length": 4.0}, {"id": "rim", "length": 5.0}]}, "twice"),
        ({"demands": [{"id": "rim", "length": -4.0}]}, "demand 'rim'"),
        ({"demands": [{"id": "rim", "length": 4.0, "quantity": 10**9}]}, "quantity"),
        ({"format": "ivory-quilt/lay-job"}, "format"),
        ({"version": 2}, "newer"),
    ],
)
def test_wrong_lengths_end_with_2_and_one_line(tmp_path, capsys, change, said):
    status, result = run(tmp_path, "lengths", LENGTHS | change)
    error = capsys.readouterr().err
    assert (status, result) == (2, None)
    assert said in error
    assert error.count("\n") == 1


def test_nothing_wanted_is_nothing_cut(tmp_path):
    status, result = run(tmp_path, "lengths", LENGTHS | {"demands": []})
    assert (status, result["bars"], result["cost"]) == (0, [], "0.00")


def test_a_length_as_long_as_its_bar_needs_no_kerf(tmp_path):
    job = LENGTHS | {"demands": [{"id": "a", "length": 2000.0}, {"id": "b", "length": 999.5}]}
    job["demands"].append({"id": "c", "length": 999.5})
    _, result = run(tmp_path, "lengths", job)
    assert result["cost"] == "6.40"
    assert [b["left"] for b in result["bars"]] == [0.0, 0.0]


def prove(job, result):
    """Check an order against its job as a reader of both files would."""
    offers = {o["id"]: o for f in job["foams"] for o in f["offers"]}
    ordered = {x["offer"]: x for x in result["order"]}
    goods = Decimal(0)
    for ident, line in ordered.items():
        steps = [Decimal(p) for n, p in offers[ident]["breaks"] if n <= line["packs"]]
        assert Decimal(line["price"]) == steps[-1]
        assert Decimal(line["cost"]) == steps[-1] * line["packs"]
        assert offers[ident].get("available") is None or line["packs"] <= offers[ident]["available"]
        goods += Decimal(line["cost"])
    assert Decimal(result["goods"]) == goods
    assert Decimal(result["total"]) == goods + Decimal(result["shipping"])
    assert Decimal(result["bound"]) <= Decimal(result["total"])
    parsed = decode_buy(json.dumps(job).encode())
    for foam, found in zip(parsed.foams, result["foams"], strict=True):
        have = {i: x["packs"] * offers[i].get("pack", 1) for i, x in ordered.items()}
        mine = {o.id: have[o.id] for o in foam.laid_offers if have.get(o.id)}
        lay_job = foam.job_with(mine, {})
        assert isinstance(lay_job, LayJob)
        put = tuple(
            placement_of(PlacementWire(**{k: p[k] for k in PlacementWire.__struct_fields__}))
            for p in found["layout"]["placements"]
        )
        assert not violations(lay_job, put)
        wanted = sum(p.quantity for p in foam.job.pieces)
        assert len(put) + len(found["layout"]["unplaced"]) == wanted
        for use in found["layout"]["stock"]:
            if use["id"] in mine:
                assert use["copy"] < mine[use["id"]]
    return result


def test_buy_writes_a_result_of_the_promised_shape(tmp_path, capsys):
    status, result = run(tmp_path, "buy", BUY, "--seconds", "1.5")
    assert status == 0
    assert result["format"] == "ivory-quilt/buy-result"
    prove(BUY, result)
    # By hand: five plates, two on the owned half sheet, two on each that is bought.
    assert result["order"] == [
        {"offer": "north half", "packs": 2, "price": "11.50", "cost": "23.00"}
    ]
    assert (result["total"], result["bound"]) == ("29.90", "29.90")
    assert result["foams"][0]["layout"]["unplaced"] == []
    assert result["scrap"] > 0
    assert result["kept"] > 0
    assert "29.90" in capsys.readouterr().out


@pytest.mark.parametrize(
    ("path", "value", "said"),
    [
        (("suppliers",), [], "no supplier 'north'"),
        (("suppliers", 0, "shipping"), "-1", "shipping"),
        (("suppliers", 0, "minimum"), "NaN", "minimum"),
        (("foams", 0, "offers", 0, "breaks"), [], "breaks"),
        (("foams", 0, "offers", 0, "breaks"), [[5, "1"], [1, "2"]], "rising"),
        (("foams", 0, "offers", 0, "sheet"), None, "a sheet, a roll or a length"),
        (("foams", 0, "offers", 0, "length"), 500.0, "a sheet, a roll or a length"),
        (("foams", 0, "offers", 0, "pack"), 0, "pack"),
        (("foams", 0, "offers", 0, "id"), "own", "twice"),
        (("foams", 0, "owned", 0, "cost"), "3", "costs nothing"),
        (("foams", 0, "owned", 1, "width"), None, "neither a sheet nor a roll"),
        (("foams", 0, "pieces", 0, "outline"), [[0, 0], [1, 1]], "outline"),
        (("foams", 0, "pieces", 0, "quantity"), -1, "quantity"),
        (("gap",), -2, "gap"),
    ],
)
def test_wrong_orders_end_with_2_and_one_line(tmp_path, capsys, path, value, said):
    job = copy.deepcopy(BUY)
    inner = job
    for key in path[:-1]:
        inner = inner[key]
    inner[path[-1]] = value
    status, result = run(tmp_path, "buy", job, "--seconds", "0.2")
    error = capsys.readouterr().err
    assert (status, result) == (2, None)
    assert said in error
    assert error.count("\n") == 1


def test_what_nothing_takes_is_named_and_the_rest_is_ordered(tmp_path, capsys):
    job = copy.deepcopy(BUY)
    long = [[0, 0], [1500, 0], [1500, 30], [0, 30]]
    job["foams"][0]["pieces"].append({"id": "long", "outline": long, "quantity": 2})
    status, result = run(tmp_path, "buy", job, "--seconds", "1.5")
    assert status == 0
    prove(job, result)
    left = {u["piece"] for u in result["foams"][0]["layout"]["unplaced"]}
    assert left == {"long"}
    assert "2 pieces do not fit" in capsys.readouterr().err


def test_nothing_to_buy_is_an_order_of_nothing(tmp_path):
    job = BUY | {"foams": []}
    status, result = run(tmp_path, "buy", job, "--seconds", "0.2")
    assert (status, result["order"], result["total"], result["foams"]) == (0, [], "0.00", [])


def random_job(rng):
    def outline():
        w, h = rng.uniform(40, 260), rng.uniform(30, 200)
        kinds = [[0, 0], [w, 0], [w, h], [0, h]], [[0, 0], [w, 0], [w / 2, h]]
        return [[round(x, 2), round(y, 2)] for x, y in rng.choice(kinds)]

    def offer(ident):
        w, h = rng.choice(((1000, 500), (600, 400), (1200, 800)))
        price = w * h / 1e6 * rng.uniform(15, 25)
        goods = {"sheet": {"outline": [[0, 0], [w, 0], [w, h], [0, h]], "margin": 5.0}}
        if rng.random() < 0.3:
            goods = {"roll": {"width": float(h), "length": 2.0 * w, "margin": 4.0}}
            price *= 1.8
        pack = rng.choice((1, 1, 3))
        steps = [[1, f"{price * pack:.2f}"], [4, f"{price * pack * 0.9:.2f}"]]
        return {
            "id": ident,
            "supplier": rng.choice("ns"),
            "pack": pack,
            "available": rng.choice((None, 30)),
            "breaks": steps[: rng.randint(1, 2)],
            **goods,
        }

    foams = [
        {
            "id": f"f{k}",
            "pieces": [
                {
                    "id": f"p{i}",
                    "outline": outline(),
                    "quantity": rng.randint(1, 4),
                    "rotations": rng.choice(([0, 90, 180, 270], "free")),
                    "mirror": rng.random() < 0.3,
                }
                for i in range(rng.randint(2, 9))
            ],
            "owned": [{"id": f"own{k}", "outline": HALF}] if rng.random() < 0.4 else [],
            "offers": [offer(f"o{k}{j}") for j in range(rng.randint(1, 3))],
            "lengths": [{"id": "rim", "length": 321.5, "quantity": 4}] if k == 0 else [],
        }
        for k in range(rng.randint(1, 3))
    ]
    bar = {"id": "bar", "supplier": "n", "breaks": [[1, "2.10"]], "length": 1000.0}
    foams[0]["offers"].append(bar)
    suppliers = [
        {"id": s, "shipping": f"{rng.uniform(2, 9):.2f}", "minimum": rng.choice(("0", "15"))}
        for s in "ns"
    ]
    return {
        "format": "ivory-quilt/buy-job",
        "version": 1,
        "gap": rng.choice((0.0, 2.0)),
        "suppliers": suppliers,
        "foams": foams,
    }


@pytest.mark.parametrize("seed", seeds(4, 30))
@pytest.mark.long
def test_random_orders_are_proven_by_their_own_files(tmp_path, seed):
    job = random_job(random.Random(seed))
    status, result = run(tmp_path, "buy", job, "--seconds", "2")
    assert status == 0
    prove(job, result)
    assert all(not f["layout"]["unplaced"] for f in result["foams"])
    cuts = result["foams"][0]["lengths"]
    assert sum(n * b["count"] for b in cuts["bars"] for _, n in b["cuts"]) == 4
