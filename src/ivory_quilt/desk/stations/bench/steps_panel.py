"""Every step: other minutes, repeats, left out, in another order; steps of one's own; sets kept."""

from PySide6.QtWidgets import QComboBox, QLineEdit, QWidget

from ivory_quilt.core.errors import InputError, nearest
from ivory_quilt.core.record import replace
from ivory_quilt.core.schedule.bench_choices import StepSet, step_set, with_step_set
from ivory_quilt.core.schedule.own_steps import OwnStep, StepChange
from ivory_quilt.core.schedule.step import BenchStep, StepKind
from ivory_quilt.core.units import counted
from ivory_quilt.desk.stations.bench.presenter import BenchPlanner
from ivory_quilt.desk.widgets.basics import Complaint, button, column, label, narrow, row
from ivory_quilt.desk.widgets.fields import Taking, typed_whole
from ivory_quilt.desk.widgets.record_table import Column, RecordTable

HELP = (
    "Type other minutes, how often and with which wait between; 0 times leaves a step out. After: "
    "the numbers of steps that come before it. An empty name takes a step of your own out."
)
MOST_SHOWN = 2000


class StepsPanel(QWidget):
    """A table of all steps, and the sets that are kept."""

    def __init__(self, planner: BenchPlanner) -> None:
        """Change the steps of `planner`'s project."""
        super().__init__()
        self.planner = planner
        self.error = Complaint()
        self.count = label("", "note")
        self.table: RecordTable[BenchStep] = RecordTable(
            "steps",
            (
                Column("No.", lambda s: str(self.number(s.id))),
                Column("Step", lambda s: s.title, self._title),
                Column("Kind", lambda s: s.kind.value, self._kind),
                Column("Minutes", lambda s: str(s.minutes), self._minutes),
                Column("Times", lambda s: str(self._change(s).times), self._times),
                Column("Wait, min", lambda s: str(self._wait_of(s)), self._wait),
                Column("People", lambda s: str(s.hands), self._hands),
                Column("After", self._after_words, self._after),
                Column("Done", lambda s: "done" if s.id in planner.choices.done_ids else ""),
            ),
            self._steps,
            lambda _step: None,
            self.error.setText,
        )
        self.own = QLineEdit()
        self.own.setPlaceholderText("a step of your own: wire the lanterns")
        self.own.setAccessibleName("name of a step of your own")
        add = button("Add step", self.add_own)
        back = button("As worked out", self.reset, "quiet", "Take every change of steps back")
        self.set_name = QLineEdit()
        self.set_name.setPlaceholderText("name of the set")
        self.set_name.setAccessibleName("name of the set of steps")
        keep = button("Keep set", self.keep, tip="Schools, coats and own steps, for next time")
        self.sets = QComboBox()
        narrow(self.sets)
        self.sets.setAccessibleName("sets of steps that are kept")
        use = button("Use set", self.use)
        usual = button("Usual from now on", self.make_usual, "quiet", "New projects begin with it")
        drop = button("Let go", self.drop, "quiet")
        self.setLayout(
            column(
                label("Steps", "title"),
                self.count,
                self.error,
                row(self.own, add, back),
                self.table,
                label(HELP, "note", wrap=True),
                row(self.set_name, keep, self.sets, use, usual, drop),
                space=8,
                edge=16,
            )
        )
        self._numbers: dict[str, int] = {}

    def fill(self) -> None:
        """Show the steps as they are now."""
        steps = self._steps()
        self._numbers = {s.id: k for k, s in enumerate(steps, 1)}
        self.table.fill()
        changed = len(self.planner.choices.changes) + len(self.planner.choices.own)
        text = f"{counted(len(steps), 'step')}, {changed} of them changed or added"
        skipped = [c.id for c in self.planner.choices.changes if c.skip]
        if skipped:
            text += f"; left out: {len(skipped)}"
        self.count.setText(text)
        shown = self.sets.currentText()
        self.sets.clear()
        for kept in self.planner.session.store.step_sets():
            self.sets.addItem(kept.name + (" (usual)" if kept.usual else ""), kept)
        self.sets.setCurrentIndex(max(0, self.sets.findText(shown)))

    def number(self, step: str) -> int:
        """Return the number of a step in the table; 0 for none."""
        return self._numbers.get(step, 0)

    def _steps(self) -> tuple[BenchStep, ...]:
        found = self.planner.found
        return found.steps.steps[:MOST_SHOWN] if found is not None else ()

    # What is typed

    def _change(self, step: BenchStep) -> StepChange:
        return self.planner.choices.change_of(step.id)

    def _own(self, step: BenchStep) -> OwnStep | None:
        return next((o for o in self.planner.choices.own if o.id == step.id), None)

    def _put(self, step: BenchStep, **fields: object) -> BenchStep:
        choices, own = self.planner.choices, self._own(step)
        if own is not None:
            known = {k: v for k, v in fields.items() if k in own.__struct_fields__}
            made = replace(own, **known)  # type: ignore[arg-type]
            after = replace(choices, own=tuple(made if o is own else o for o in choices.own))
        else:
            change = replace(self._change(step), **fields)  # type: ignore[arg-type]
            after = choices.with_change(change)
        self.planner.set_choices("Change step", after)
        return step

    def _title(self, step: BenchStep, text: str) -> BenchStep:
        own = self._own(step)
        if own is None:
            raise InputError(step.title, "its name comes from the plan", "a step of your own")
        if not text.strip():
            choices = self.planner.choices
            rest = tuple(o for o in choices.own if o is not own)
            self.planner.set_choices("Remove step", replace(choices, own=rest))
            return step
        return self._put(step, title=text.strip())

    def _kind(self, step: BenchStep, text: str) -> BenchStep:
        if self._own(step) is None:
            raise InputError(step.title, "its kind comes from the plan", "a step of your own")
        known = {k.value: k for k in StepKind}
        if text.strip() not in known:
            raise InputError("kind", f"'{text}'{nearest(text, known)}", ", ".join(known))
        return self._put(step, kind=known[text.strip()])

    def _minutes(self, step: BenchStep, text: str) -> BenchStep:
        return self._put(step, minutes=typed_whole(text, "minutes"))

    def _times(self, step: BenchStep, text: str) -> BenchStep:
        if self._own(step) is not None:
            raise InputError(step.title, "a step of your own is done once", "another one")
        times = typed_whole(text, "times")
        return self._put(step, skip=times == 0, times=max(1, times))

    def _wait_of(self, step: BenchStep) -> int:
        own = self._own(step)
        return own.wait if own is not None else self._change(step).wait

    def _wait(self, step: BenchStep, text: str) -> BenchStep:
        return self._put(step, wait=typed_whole(text, "wait"))

    def _hands(self, step: BenchStep, text: str) -> BenchStep:
        return self._put(step, hands=typed_whole(text, "people"))

    def _after_words(self, step: BenchStep) -> str:
        own = self._own(step)
        after = own.after if own is not None else self._change(step).after
        return ", ".join(str(self.number(i)) for i in after if self.number(i))

    def _after(self, step: BenchStep, text: str) -> BenchStep:
        by_number = {n: i for i, n in self._numbers.items()}
        ids = []
        for word in text.replace(",", " ").split():
            number = typed_whole(word, "after")
            if number not in by_number:
                raise InputError("after", f"no step {number}", f"1 to {len(by_number)}")
            ids.append(by_number[number])
        return self._put(step, after=tuple(ids))

    def add_own(self) -> None:
        """Add the step whose name was typed."""
        with Taking(self.error, self.own):
            choices = self.planner.choices
            taken, number = {o.id for o in choices.own}, 1
            while f"own:{number}" in taken:
                number += 1
            made = OwnStep(f"own:{number}", self.own.text().strip())
            self.planner.set_choices("Add step", replace(choices, own=(*choices.own, made)))
            self.own.clear()

    def reset(self) -> None:
        """Take every change of steps back; steps of one's own stay."""
        with Taking(self.error):
            self.planner.set_choices(
                "Steps as worked out", replace(self.planner.choices, changes=())
            )

    # Sets for next time

    def keep(self) -> None:
        """Keep schools, coats and own steps under the name that was typed."""
        with Taking(self.error, self.set_name):
            kept = step_set(self.set_name.text(), self.planner.choices)
            self.planner.session.store.put_step_set(kept)
            self.set_name.clear()
            self.fill()

    def _chosen(self) -> StepSet:
        kept = self.sets.currentData()
        if not isinstance(kept, StepSet):
            raise InputError("sets", "none is kept yet", "a set that was kept")
        return kept

    def use(self) -> None:
        """Make this project by the set in front."""
        with Taking(self.error):
            after = with_step_set(self.planner.choices, self._chosen())
            self.planner.set_choices("Use set of steps", after)

    def make_usual(self) -> None:
        """Let new projects begin with the set in front."""
        with Taking(self.error):
            self.planner.session.store.put_step_set(replace(self._chosen(), usual=True))
            self.fill()

    def drop(self) -> None:
        """Let go of the set in front."""
        with Taking(self.error):
            self.planner.session.store.remove_step_set(self._chosen().name)
            self.fill()
