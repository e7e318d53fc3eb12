"""Short work on another thread comes back in order, with its errors."""

import pytest

from ivory_quilt.desk.work import TaskRunner
from tests.desk.conftest import let_run


@pytest.fixture
def tasks(qapp):
    made = TaskRunner()
    yield made
    made.close()


def test_errands_come_back_in_order_with_their_errors(tasks):
    seen = []
    for k in range(5):
        tasks.run(lambda k=k: 10 // (k - 2), lambda r, e: seen.append((r, type(e))))
    assert let_run(lambda: len(seen) == 5, 5)
    assert [r for r, _ in seen] == [-5, -10, None, 10, 5]
    assert seen[2][1] is ZeroDivisionError
