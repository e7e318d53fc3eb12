"""Schedules against published networks and instances.

- The contractor's project of fourteen activities of "Introduction to Operations Research" (Hillier
  and Lieberman, on project management with PERT/CPM): 44 weeks. Values from memory.
- The job-shop instances 6 × 6 of Fisher and Thompson (1963, "ft06"), optimum 55, and 10 × 5 of
  Lawrence (1984, "la01"), optimum 666, as in the OR-Library. Values from memory: each optimum is
  proven here.
"""

from decimal import Decimal

import pytest

from ivory_quilt.core.schedule.conflict import earliest_starts
from ivory_quilt.core.schedule.schedule_job import Follow, Resource, ScheduleJob, Task
from ivory_quilt.core.schedule.solve import Effort, schedule
from ivory_quilt.core.stock.cutting_stock import cut_at_least_cost
from ivory_quilt.core.stock.lengths_job import BarStock, LengthDemand, LengthsJob

PROJECT = {
    "A": (2, ""),
    "B": (4, "A"),
    "C": (10, "B"),
    "D": (6, "C"),
    "E": (4, "C"),
    "F": (5, "E"),
    "G": (7, "D"),
    "H": (9, "EG"),
    "I": (7, "C"),
    "J": (8, "FI"),
    "K": (4, "J"),
    "L": (5, "J"),
    "M": (2, "H"),
    "N": (6, "KL"),
}
# Earliest starts as the textbook's forward pass gives them.
EARLIEST = {
    "A": 0,
    "B": 2,
    "C": 6,
    "D": 16,
    "E": 16,
    "F": 20,
    "G": 22,
    "H": 29,
    "I": 16,
    "J": 25,
    "K": 33,
    "L": 33,
    "M": 38,
    "N": 38,
}


def test_the_textbook_network_takes_44_weeks():
    tasks = tuple(Task(i, weeks) for i, (weeks, _) in PROJECT.items())
    follows = tuple(Follow(i, b) for i, (_, before) in PROJECT.items() for b in before)
    job = ScheduleJob((), tasks, follows)
    found = schedule(job, Effort(10.0, 2))
    assert (found.makespan, found.optimal) == (44, True)
    assert earliest_starts(job) == EARLIEST


FT06 = """
2 1  0 3  1 6  3 7  5 3  4 6
1 8  2 5  4 10 5 10 0 10 3 4
2 5  3 4  5 8  0 9  1 1  4 7
1 5  0 5  2 5  3 3  4 8  5 9
2 9  1 3  4 5  5 4  0 3  3 1
1 3  3 3  5 9  0 10 4 4  2 1
"""
LA01 = """
1 21 0 53 4 95 3 55 2 34
0 21 3 52 4 16 2 26 1 71
3 39 4 98 1 42 2 31 0 12
1 77 0 55 4 79 2 66 3 77
0 83 3 34 2 64 1 19 4 37
1 54 2 43 4 79 0 92 3 62
3 69 4 77 1 87 2 87 0 93
2 38 0 60 1 41 3 24 4 83
3 17 1 49 4 25 0 44 2 98
4 77 3 79 2 43 1 75 0 96
"""


@pytest.mark.parametrize(("table", "optimum"), [(FT06, 55), (LA01, 666)])
def test_job_shops_of_the_literature_to_their_known_optimum(table, optimum):
    tasks, follows, machines = [], [], set()
    for row, line in enumerate(table.strip().splitlines()):
        numbers = [int(v) for v in line.split()]
        for k in range(len(numbers) // 2):
            machine, minutes = numbers[2 * k], numbers[2 * k + 1]
            machines.add(machine)
            tasks.append(Task(f"{row}.{k}", minutes, {f"m{machine}": 1}))
            if k:
                follows.append(Follow(f"{row}.{k}", f"{row}.{k - 1}"))
    resources = tuple(Resource(f"m{m}") for m in sorted(machines))
    found = schedule(ScheduleJob(resources, tuple(tasks), tuple(follows)), Effort(30.0, 2))
    assert (found.makespan, found.optimal) == (optimum, True)


def test_both_solvers_live_in_one_process():
    """Each brings a library of the same name: of versions that clash, the second fails to load."""
    job = LengthsJob(
        (BarStock("bar", 2000.0, None, Decimal("3.20")),), (LengthDemand("rim", 460.0, 6),), 1.0
    )
    assert cut_at_least_cost(job).cost == Decimal("6.40")
    found = schedule(
        ScheduleJob((), (Task("a", 3), Task("b", 4)), (Follow("b", "a", 1),)), Effort(2.0, 1)
    )
    assert found.makespan == 8
    assert cut_at_least_cost(job).optimal
