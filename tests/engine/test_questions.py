"""What an engine's process keeps for questions, and what is believed of that here."""

from collections import deque

from hypothesis import example, given
from hypothesis import strategies as st

from ivory_quilt.engine.last_few import LastFew
from ivory_quilt.engine.messages import MOST_HANDS, MOST_SCENES
from ivory_quilt.engine.questions import Held, Questions


def is_hand(number):
    return number % 3 == 0


class ProcessThatForgets:
    """Keeps what was handed over last, as the process does: hands and scenes apart."""

    def __init__(self):
        self.ready, self.questions = True, set()
        self.hands, self.scenes = deque(maxlen=MOST_HANDS), deque(maxlen=MOST_SCENES)

    @property
    def kept(self):
        return [*self.hands, *self.scenes]

    def keep(self, number):
        place = self.hands if is_hand(number) else self.scenes
        if number in place:
            place.remove(number)
        place.append(number)


def held(number):
    return Held(lambda process: process.keep(number), hand=is_hand(number))


@given(
    st.lists(
        st.one_of(st.just("hold"), st.just("again"), st.just("lose"), st.integers(0, 12)),
        max_size=60,
    )
)
@example([*["hold"] * MOST_SCENES, "lose", *range(MOST_SCENES), "hold"])
@example([*["hold"] * MOST_SCENES, "lose", 0, 3, 2, 1, "hold"])
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
        known = questions._hands.items() + questions._scenes.items()
        believed = {one for one, what in known if what.at is process}
        assert believed <= set(process.kept)


def test_what_was_kept_longest_is_handed_over_no_more():
    questions = Questions(lambda process, work: work(process))
    process = ProcessThatForgets()
    scenes = [n for n in range(1, 40) if not is_hand(n)][: MOST_SCENES + 1]
    for number in scenes:
        questions.hold(number, held(number), [])
    questions.give(process, scenes[0])
    assert process.kept == []
    questions.give(process, scenes[1])
    assert process.kept == [scenes[1]]


def test_hands_push_out_no_scene():
    questions = Questions(lambda process, work: work(process))
    process = ProcessThatForgets()
    questions.hold(1, held(1), [])
    for number in range(3, 3 + 3 * 2 * MOST_SCENES, 3):
        questions.hold(number, held(number), [process])
    questions.give(process, 1)
    assert 1 in process.kept


def test_the_last_few_are_kept_each_in_its_last_place():
    few = LastFew(3)
    for number, what in ((1, "a"), (2, "b"), (3, "c"), (1, "d"), (4, "e")):
        few.put(number, what)
    assert few.items() == [(3, "c"), (1, "d"), (4, "e")]
    assert few.get(2) is None
    assert few.get(1) == "d"
