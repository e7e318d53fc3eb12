"""What an engine's process keeps for questions, and what is believed of that here."""

from collections import deque

from hypothesis import example, given
from hypothesis import strategies as st

from ivory_quilt.engine.messages import MOST_HELD
from ivory_quilt.engine.questions import Held, Questions


class ProcessThatForgets:
    """Keeps what was handed over last, as the process does."""

    def __init__(self):
        self.ready, self.questions = True, set()
        self.kept = deque(maxlen=MOST_HELD)

    def keep(self, number):
        if number in self.kept:
            self.kept.remove(number)
        self.kept.append(number)


def held(number):
    return Held(lambda process: process.keep(number))


@given(
    st.lists(
        st.one_of(st.just("hold"), st.just("again"), st.just("lose"), st.integers(0, 9)),
        max_size=60,
    )
)
@example([*["hold"] * MOST_HELD, "lose", *range(MOST_HELD), "hold"])
@example([*["hold"] * MOST_HELD, "lose", 0, 3, 2, 1, "hold"])
def test_what_is_still_held_is_there_when_it_is_asked_about(doings):
    questions = Questions(lambda process, work: work(process))
    process, number = ProcessThatForgets(), 0
    for doing in doings:
        if doing == "hold":
            number += 1
            questions.hold(number, held(number), [process])
        elif doing == "again":  # in the place of one that is kept, or was
            questions.hold(max(1, number - 3), held(max(1, number - 3)), [process])
        elif doing == "lose":
            process = ProcessThatForgets()
        else:
            questions.give(process, number - doing)
        believed = {one for one, what in questions._held.items() if what.at is process}
        assert believed <= set(process.kept)


def test_what_was_kept_longest_is_handed_over_no_more():
    questions = Questions(lambda process, work: work(process))
    process = ProcessThatForgets()
    for number in range(1, MOST_HELD + 2):
        questions.hold(number, held(number), [])
    questions.give(process, 1)
    assert list(process.kept) == []
    questions.give(process, 2)
    assert list(process.kept) == [2]
