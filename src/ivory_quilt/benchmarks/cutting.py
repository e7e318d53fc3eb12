"""Cutting orders: the way between cuts against a routing solver's, which is given long."""

import statistics
import time

import numpy as np
from ortools.constraint_solver import pywrapcp, routing_enums_pb2

from ivory_quilt.benchmarks.report import Figure
from ivory_quilt.core.cutting.order import CuttingOrder, cutting_order
from ivory_quilt.core.cutting.strokes import CutStep, Stage, Stroke
from ivory_quilt.core.cutting.ways import Way, unit_ways, units_of
from ivory_quilt.core.geometry.shape import Array

SHEETS, SECONDS = 20, 15
SIZE = (1000.0, 500.0)
FORBIDDEN = 10**9
FINENESS = 100  # steps in a millimetre: the solver counts in whole numbers


def strewn(seed: int, *, alike: bool = False) -> tuple[Stroke, ...]:
    """Return the cuts of a sheet by chance: outlines of many sizes, holes in some, scores.

    Where they are `alike` all are outlines of one stage.
    """
    random = np.random.default_rng(seed)
    made = []
    for number in range(int(random.integers(8, 36))):
        middle, radius = random.uniform((0, 0), SIZE), float(random.uniform(8, 70))
        turns = np.sort(random.uniform(0, 2 * np.pi, int(random.integers(4, 26))))
        around = np.column_stack((np.cos(turns), np.sin(turns)))
        band = 0 if alike else int(np.log(radius**2) / np.log(4))
        bevel = 45 if random.random() < 0.15 and not alike else 0
        outline = Stage(through=True, outside=0, step=CutStep.OUTLINE, setting=bevel, band=band)
        unit = number // 2 if number % 4 < 2 else None  # half of them are pairs
        made.append(Stroke(number, outline, middle + radius * around, closed=True, unit=unit))
        if random.random() < 0.3 and not alike:
            hole = Stage(through=True, outside=0, step=CutStep.INNER, setting=0, band=0)
            made.append(Stroke(number, hole, middle + 0.3 * radius * around, closed=True))
        if random.random() < 0.3 and not alike:
            score = Stage(through=False, outside=0, step=CutStep.SCORE, setting=0, band=0)
            made.append(Stroke(number, score, middle + radius * around[[0, -1]], closed=False))
    return tuple(made)


def solved_by_routing(strokes: tuple[Stroke, ...], ours: CuttingOrder, seconds: int) -> float:
    """Return the shortest way between cuts that OR-tools' routing finds, mm; stages are kept.

    A town for each way to cut a unit, of which one is visited (a disjunction).
    """
    units = units_of(strokes)
    ways = [unit_ways(strokes, members) for members in units]
    owner = [k for k, mine in enumerate(ways) for _ in mine]
    begins = np.array([(0.0, 0.0), *(w.begin for mine in ways for w in mine)])
    ends = np.array([(0.0, 0.0), *(w.end for mine in ways for w in mine)])
    inside = np.array([0.0, *(w.between for mine in ways for w in mine)])
    costs = np.rint(FINENESS * (np.linalg.norm(ends[:, None] - begins[None], axis=2) + inside))
    ranks = {s: k for k, s in enumerate(sorted({s.stage for s in strokes}))}
    rank = np.array([-1, *(ranks[strokes[units[k][0]].stage] for k in owner)])
    steps = rank[None, :] - rank[:, None]
    costs[(steps < 0) | (steps > 1)] = FORBIDDEN
    costs[:, 0] = np.where(rank == len(ranks) - 1, 0, FORBIDDEN)  # it ends anywhere
    table = costs.astype(np.int64).tolist()
    manager = pywrapcp.RoutingIndexManager(len(rank), 1, 0)
    routing = pywrapcp.RoutingModel(manager)

    def far(a: int, b: int) -> int:
        return int(table[manager.IndexToNode(a)][manager.IndexToNode(b)])

    routing.SetArcCostEvaluatorOfAllVehicles(routing.RegisterTransitCallback(far))
    for unit in range(len(units)):
        towns = [manager.NodeToIndex(n + 1) for n, k in enumerate(owner) if k == unit]
        routing.AddDisjunction(towns, 10 * FORBIDDEN)
    asked = pywrapcp.DefaultRoutingSearchParameters()
    asked.first_solution_strategy = routing_enums_pb2.FirstSolutionStrategy.PATH_CHEAPEST_ARC
    search = routing_enums_pb2.LocalSearchMetaheuristic
    asked.local_search_metaheuristic = search.GUIDED_LOCAL_SEARCH
    asked.time_limit.FromSeconds(seconds)
    routing.CloseModelWithParameters(asked)
    if len(ranks) == 1:
        found = routing.SolveWithParameters(asked)
    else:  # from our own order on: of stages it finds no way by itself
        begun = routing.ReadAssignmentFromRoutes([_route(strokes, ways, ours)], True)  # noqa: FBT003
        found = routing.SolveFromAssignmentWithParameters(begun, asked)
    return float(found.ObjectiveValue()) / FINENESS if found else float("inf")


def _route(strokes: tuple[Stroke, ...], ways: list[list[Way]], ours: CuttingOrder) -> list[int]:
    """Return our own order as the towns that the solver knows, from 1."""
    flat = [way for mine in ways for way in mine]
    number = {id(s): k for k, s in enumerate(strokes)}
    made = [(number[id(cut.stroke)], cut.places) for cut in ours.cuts]
    route = []
    while made:
        at = next(n for n, way in enumerate(flat) if _begins(made, way))
        route.append(at + 1)
        made = made[len(flat[at].cuts) :]
    return route


def _begins(made: list[tuple[int, Array]], way: Way) -> bool:
    """Whether what is left of an order begins with a way."""
    return len(made) >= len(way.cuts) and all(
        a == b and np.array_equal(places, others)
        for (a, places), (b, others) in zip(made, way.cuts, strict=False)
    )


def bench_cutting() -> list[Figure]:
    """Measure on sheets by chance: on every other one the solver begins by itself."""
    shares, times = [], []
    for seed in range(SHEETS):
        strokes = strewn(seed, alike=seed % 2 == 1)
        began = time.perf_counter()
        ours = cutting_order(strokes)
        times.append(time.perf_counter() - began)
        shares.append(ours.travel / solved_by_routing(strokes, ours, SECONDS))
    words = f"cutting: way between cuts ÷ routing's in {SECONDS} s, worst"
    return [
        Figure(words, max(shares), "", 1.15),
        Figure("cutting: the same, median", statistics.median(shares), ""),
        Figure("cutting: seconds for an order, median", statistics.median(times), "s"),
        Figure("cutting: seconds for an order, worst", max(times), "s"),
    ]
