"""Whose template is this, and is it the present one: its code typed, scanned or in a picture."""

from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QLineEdit, QWidget

from ivory_quilt.core.errors import InputError, QuiltError
from ivory_quilt.core.plan.gauges import gauge_templates
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.plan.templates import (
    Template,
    find_code,
    shelf_label,
    template_code,
    templates_of,
)
from ivory_quilt.core.units import show_thickness
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.widgets.basics import button, column, label, row, set_tone
from ivory_quilt.desk.work import TaskRunner
from ivory_quilt.files.atomic import read_bytes

PICTURES = "Pictures (*.png *.jpg *.jpeg *.tif *.tiff)"
MOST_TOLD = 6  # codes of one picture


def code_words(
    text: str, plan: Plan, templates: Sequence[Template], wearer: str = ""
) -> tuple[str, str]:
    """Return what a template's code tells, and its tone: "good", or "heat" for a caution.

    Args:
        text: the code.
        plan: what is cut now.
        templates: of that plan.
        wearer: the id of the one whose templates are in work; empty: anybody's.

    Raises:
        InputError: it is no template's code.
    """
    if (shelf := shelf_label(text)) is not None:
        return _shelf_words(shelf, plan)
    found, present = find_code(text, templates)
    if found is None:
        return "Not of this project: another suit's, or a piece that is no longer in it.", "heat"
    name = f"{found.number} {found.uses[0].piece.name}"
    whom = f" for {found.whom}" if found.whom else ""
    if not present:
        return f"{name}{whom}: printed before its last change. Print it anew.", "heat"
    if wearer and found.owner != wearer:
        return f"{name} is another wearer's:{whom}.", "heat"
    return f"{name}{whom}: as it is now.", "good"


def _shelf_words(name: str, plan: Plan) -> tuple[str, str]:
    stock = plan.shop or plan.stock
    item = next((i for i in stock.items if i.id.casefold() == name.casefold()), None)
    if item is None or not item.owned:
        return f"{name} is not on the shelf any more.", "heat"
    foam = f"{show_thickness(item.foam.thickness)} {stock.material_name(item.foam.material)}"
    return f"{item.name}: {foam}, {item.size_text}, on the shelf.", "good"


def _codes_of(path: Path) -> tuple[str, ...]:
    from ivory_quilt.files.code_read import codes_in  # its library is slow to load

    return codes_in(read_bytes(path), path.name)


def _told(
    codes: Sequence[str], plan: Plan, templates: Sequence[Template], wearer: str
) -> list[tuple[str, str]]:
    """Return what each of a few codes tells, and its tone; "cut" for what is no code."""
    told: list[tuple[str, str]] = []
    for code in codes[:MOST_TOLD]:
        try:
            told.append(code_words(code, plan, templates, wearer))
        except InputError as error:
            told.append((str(error), "cut"))
    if len(codes) > MOST_TOLD:
        told.append((f"and {len(codes) - MOST_TOLD} more", ""))
    return told


def _has_others(codes: Sequence[str], templates: Sequence[Template]) -> bool:
    """Whether a template's code is among them that none of these has."""
    known = {t.code.split()[1] for t in templates}
    found = (template_code(text) for text in codes[:MOST_TOLD])
    return any(code is not None and code[0] not in known for code in found)


def _gauges(plan: Plan) -> tuple[Template, ...]:
    try:
        return gauge_templates(plan)
    except InputError:
        return ()  # nothing is formed


class CodeBox(QWidget):
    """A field for a code, and a button for pictures of them."""

    def __init__(self, session: Session, tasks: TaskRunner, wearer: Callable[[], str]) -> None:
        """Look up codes in the plan of `session`; `wearer` is whose templates are in work."""
        super().__init__()
        self._session, self._tasks, self._wearer = session, tasks, wearer
        self.field = QLineEdit()
        self.field.setPlaceholderText("e.g. IQ 7KQ3MX 2WPR8")
        self.field.setAccessibleName("a template's code")
        self.field.returnPressed.connect(self._typed)
        self.picture = button("Picture …", self.ask, tip="A photo or scan with templates' codes")
        self.told = label("", "note", wrap=True)
        self.setLayout(
            column(
                label("Whose template is this?", "note"),
                row(self.field, self.picture),
                self.told,
                space=6,
            )
        )
        self.ask_picture: Callable[[], str] = self._ask_picture

    def look_up(self, text: str) -> None:
        """Tell what one code says."""
        self.field.setText(text)
        self._tell([text])

    def ask(self) -> None:
        """Ask for a picture, and tell what its codes say."""
        chosen = self.ask_picture()
        if not chosen:
            return
        path = Path(chosen)
        self.told.setText("Looking …")
        self._tasks.run(partial(_codes_of, path), self._read)

    def _typed(self) -> None:
        self._tell([self.field.text()])

    def _read(self, codes: tuple[str, ...] | None, error: Exception | None) -> None:
        if error is not None and not isinstance(error, QuiltError):
            raise error
        if error is not None:
            self._say([(str(error), "cut")])
        elif not codes:
            self._say([("No code was found; nearer, sharper, straight from above.", "heat")])
        else:
            self._tell(list(codes))

    def _tell(self, codes: list[str]) -> None:
        plan, wearer = self._session.plan, self._wearer()
        templates = templates_of(plan)
        if not _has_others(codes, templates):
            self._say(_told(codes, plan, templates, wearer))
            return
        # Perhaps a gauge's: cards take a moment to find.
        self.told.setText("Looking …")
        self._tasks.run(
            lambda: _told(codes, plan, (*templates, *_gauges(plan)), wearer), self._found
        )

    def _found(self, told: list[tuple[str, str]] | None, error: Exception | None) -> None:
        if error is not None:
            raise error
        self._say(told or [])

    def _say(self, told: list[tuple[str, str]]) -> None:
        self.told.setText("\n".join(text for text, _ in told))
        tones = [tone for _, tone in told]
        worst = next((t for t in ("cut", "heat", "good") if t in tones), "")
        set_tone(self.told, worst)
        if worst in ("cut", "heat"):
            self._session.tell(next(text for text, tone in told if tone == worst), worst)

    def _ask_picture(self) -> str:
        found, _ = QFileDialog.getOpenFileName(self, "Picture of templates", "", PICTURES)
        return found
