"""Every joint: what it is glued with, whether it is filled, and what is proposed and why."""

from PySide6.QtWidgets import QWidget

from ivory_quilt.core.errors import InputError, nearest
from ivory_quilt.core.plan.gluing import GluedJoint, choice_of, joints_of, proposal_of
from ivory_quilt.core.record import replace
from ivory_quilt.core.schedule.joint_choice import GlueKind, JointChoice
from ivory_quilt.core.units import counted, show_number
from ivory_quilt.desk.stations.bench.presenter import BenchPlanner
from ivory_quilt.desk.widgets.basics import Complaint, button, column, label, row
from ivory_quilt.desk.widgets.fields import Taking
from ivory_quilt.desk.widgets.record_table import Column, RecordTable

HELP = (
    "Glue is contact cement, hot-melt glue, cyanoacrylate or spray adhesive; which suits what is "
    "common practice. The product's label, its safety data sheet and local rules decide: "
    "respirator and real ventilation for all of them."
)
FILLED = {"filled": True, "hidden": False}


class GluePanel(QWidget):
    """A table of joints, with a proposal and its reason beside each."""

    def __init__(self, planner: BenchPlanner) -> None:
        """Decide through `planner`."""
        super().__init__()
        self.planner = planner
        self.error = Complaint()
        self.count = label("", "note")
        self._joints: tuple[GluedJoint, ...] = ()
        self.table: RecordTable[GluedJoint] = RecordTable(
            "joints",
            (
                Column("Joint", lambda j: j.title),
                Column("Size", _size),
                Column("Glue", lambda j: self._choice(j).glue.value, self._glue),
                Column("Seam", self._finish_words, self._finish),
                Column("Proposed", lambda j: proposal_of(j).glue.value),
            ),
            lambda: self._joints,
            lambda _joint: None,
            self.error.setText,
        )
        self.why = label("", wrap=True)
        self.table.currentCellChanged.connect(lambda r, *_: self._show_why(r))
        take = button("Take all proposals", self.take_all, "main", "Can be undone")
        self.setLayout(
            column(
                label("Glue", "title"),
                row(self.count, None, take),
                self.error,
                self.table,
                self.why,
                label(HELP, "note", "heat", wrap=True),
                space=8,
                edge=16,
            )
        )

    def fill(self) -> None:
        """Show the joints as they are now."""
        joints = self._joints = joints_of(self.planner.session.plan, self.planner.choices)
        self.table.fill()
        other = sum(proposal_of(j).glue is not self._choice(j).glue for j in joints)
        self.count.setText(f"{counted(len(joints), 'joint')}, {other} other than proposed")
        self._show_why(max(0, self.table.currentRow()))

    def _show_why(self, r: int) -> None:
        """Say why what is proposed for a joint is."""
        if 0 <= r < len(self._joints):
            joint, offer = self._joints[r], proposal_of(self._joints[r])
            self.why.setText(f"{joint.title}: {offer.glue.value}. {offer.reason}")

    def _choice(self, joint: GluedJoint) -> JointChoice:
        return choice_of(joint, self.planner.choices)

    def _put(self, joint: GluedJoint, choice: JointChoice) -> GluedJoint:
        self.planner.set_choices("Glue", self.planner.choices.with_joint(choice))
        return joint

    def _glue(self, joint: GluedJoint, text: str) -> GluedJoint:
        known = {g.value: g for g in GlueKind}
        wish = text.strip().lower()
        found = known.get(wish) or next((g for w, g in known.items() if wish and wish in w), None)
        if found is None:
            raise InputError("glue", f"'{text}'{nearest(wish, known)}", ", ".join(known))
        return self._put(joint, replace(self._choice(joint), glue=found))

    def _finish_words(self, joint: GluedJoint) -> str:
        if joint.face:
            return "–"
        return "filled" if self._choice(joint).filled else "hidden"

    def _finish(self, joint: GluedJoint, text: str) -> GluedJoint:
        wish = text.strip().lower()
        if wish not in FILLED or joint.face:
            raise InputError("seam", f"'{text}'", "filled or hidden, of a seam")
        return self._put(joint, replace(self._choice(joint), filled=FILLED[wish]))

    def take_all(self) -> None:
        """Decide every joint as proposed."""
        with Taking(self.error):
            choices = self.planner.choices
            for joint in joints_of(self.planner.session.plan, choices):
                offer = proposal_of(joint)
                choices = choices.with_joint(JointChoice(joint.id, offer.glue, offer.filled))
            self.planner.set_choices("Glue as proposed", choices)


def _size(joint: GluedJoint) -> str:
    if joint.face:
        return f"{show_number(joint.size / 10, 3)} m²"
    return f"{show_number(joint.size, 2)} m"
