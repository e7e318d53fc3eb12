"""Fixings with what each takes, and checks before anything permanent."""

from collections.abc import Callable

from PySide6.QtWidgets import QLineEdit, QWidget

from ivory_quilt.core.document.benchwork import set_checks
from ivory_quilt.core.document.fastening import need_of, set_fixings
from ivory_quilt.core.document.project import free_name
from ivory_quilt.core.errors import InputError, nearest
from ivory_quilt.core.measure.fit_check import FIELDS, FitCheck, FitKind, FitResult
from ivory_quilt.core.measure.wearer import SPOTS, MeasureKind
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.fixing import Fixing, FixingKind
from ivory_quilt.core.record import replace
from ivory_quilt.core.units import parse_scalar, show_length, show_number, typed_length
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.widgets.basics import Complaint, ValueBox, button, column, label, row
from ivory_quilt.desk.widgets.fields import Taking, typed_whole, typed_word, typed_yes, yes_or_no
from ivory_quilt.desk.widgets.record_table import Column, RecordTable

HELP = (
    "Along: an edge's name, a girth of the wearer (wrist, chest …) or a length. Inside: it will "
    "sit in a closed form, and is put in before that closes. Cut from: the shop's cloth that a "
    "sewn strap or hinge strip is laid on with the pieces. What all others take is in Buy, Other "
    "goods; backing strips come from scrap. An empty first cell takes a row out."
)
CHECKS = (
    "Figures in mm and degrees, with a blank between. Try it on before anything permanent, and say "
    "what you found: passed, failed or not tried."
)
GIRTHS = {s.title.lower(): s.id for s in SPOTS if s.kind is MeasureKind.GIRTH}


class FixingsPanel(QWidget):
    """Two tables: fixings, and checks."""

    def __init__(self, session: Session) -> None:
        """Edit the fixings and checks of `session`'s project."""
        super().__init__()
        self._session = session
        self.error = Complaint()
        self.table: RecordTable[Fixing] = RecordTable(
            "fixings",
            (
                Column("Fixing", lambda f: f.kind.value, self._kind),
                Column("On piece", self._piece_name, self._piece),
                Column("Along", self._along_words, self._along),
                Column("Width", lambda f: show_length(f.width), _number("width")),
                Column("How many", lambda f: str(f.count), _whole("count")),
                Column("Spacing", lambda f: show_length(f.spacing), _number("spacing")),
                Column("Inside", lambda f: yes_or_no(on=f.inside), _yes),
                Column("Cut from", self._cloth_name, self._cloth),
                Column("Takes", self._takes),
            ),
            lambda: session.project.fixings,
            self._put,
            self.error.setText,
            remove=self._remove,
        )
        self.kind = ValueBox("kind of fixing", [(k, k.value) for k in FixingKind], str)
        self.on_piece = QLineEdit()
        self.on_piece.setPlaceholderText("on piece")
        self.on_piece.setAccessibleName("piece of the fixing")
        self.along = QLineEdit()
        self.along.setPlaceholderText("along: an edge, a girth, or mm")
        self.along.setAccessibleName("along what the fixing goes")
        add = button("Add fixing", self.add)
        self.checks: RecordTable[FitCheck] = RecordTable(
            "checks before anything permanent",
            (
                Column("Check", lambda c: c.title, lambda c, t: replace(c, title=t.strip())),
                Column("Of", lambda c: c.kind.value),
                Column("Figures", _figures, _figures_in),
                Column("Says", _says),
                Column("Tried on", lambda c: c.tried.value, _tried),
                Column("Note", lambda c: c.note, lambda c, t: replace(c, note=t.strip())),
            ),
            lambda: session.project.checks,
            self._put_check,
            self.error.setText,
            remove=self._remove_check,
        )
        self.check_kind = ValueBox("kind of check", [(k, k.value) for k in FitKind], self._hint)
        self.check_name = QLineEdit()
        self.check_name.setPlaceholderText("what is checked: left knee past right")
        self.check_name.setAccessibleName("name of the check")
        self.check_values = QLineEdit()
        self.check_values.setAccessibleName("figures of the check, with a blank between")
        self._hint(FitKind.OVERLAP)
        more = button("Add check", self.add_check)
        self.setLayout(
            column(
                label("Fixings", "title"),
                self.error,
                row(self.kind, self.on_piece, self.along, add),
                self.table,
                label(HELP, "note", wrap=True),
                label("Checks before anything permanent", "title"),
                row(self.check_kind, self.check_name, self.check_values, more),
                self.checks,
                label(CHECKS, "note", wrap=True),
                space=8,
                edge=16,
            )
        )

    def fill(self) -> None:
        """Show both tables as they are now."""
        self.table.fill()
        self.checks.fill()

    # Fixings

    def _set(self, word: str, fixings: tuple[Fixing, ...]) -> None:
        self._session.edit(word, lambda p: set_fixings(p, fixings))

    def _put(self, fixing: Fixing) -> None:
        known = self._session.project.fixings
        self._set("Change fixing", tuple(fixing if f.id == fixing.id else f for f in known))

    def _remove(self, fixing: Fixing) -> None:
        known = self._session.project.fixings
        self._set("Remove fixing", tuple(f for f in known if f.id != fixing.id))

    def add(self) -> None:
        """Add the fixing that was typed."""
        with Taking(self.error, self.on_piece, self.along):
            known = self._session.project.fixings
            ident = free_name("fixing", {f.id for f in known})
            made = Fixing(ident, self.kind.value, self._piece_in(self.on_piece.text()))
            if self.along.text().strip():
                made = self._along(made, self.along.text())
            self._set("Add fixing", (*known, made))
            self.along.clear()

    def _piece_in(self, text: str) -> str:
        return self._session.project.piece_named(text, "on piece").id

    def _piece(self, fixing: Fixing, text: str) -> Fixing:
        return replace(fixing, piece=self._piece_in(text), edge="")

    def _cloth(self, fixing: Fixing, text: str) -> Fixing:
        """Take the material of the shop that a text names; none: it is bought."""
        known = {m.name.lower(): m.id for m in self._session.stock.materials}
        known |= {m.id.lower(): m.id for m in self._session.stock.materials}
        wish = text.strip().lower()
        if wish and wish not in known:
            raise InputError("cut from", f"'{text}'{nearest(wish, known)}", ", ".join(known))
        return replace(fixing, cloth=known[wish] if wish else "")

    def _cloth_name(self, fixing: Fixing) -> str:
        return self._session.stock.material_name(fixing.cloth) if fixing.cloth else ""

    def _piece_name(self, fixing: Fixing) -> str:
        pieces = self._session.project.pieces
        return next((p.name for p in pieces if p.id == fixing.piece), fixing.piece)

    def _kind(self, fixing: Fixing, text: str) -> Fixing:
        return replace(fixing, kind=typed_word(FixingKind, "fixing", text))

    def _along_words(self, fixing: Fixing) -> str:
        if fixing.edge:
            return fixing.edge
        if fixing.spot:
            return next((w for w, i in GIRTHS.items() if i == fixing.spot), fixing.spot)
        return show_length(fixing.way) if fixing.way else ""

    def _along(self, fixing: Fixing, text: str) -> Fixing:
        plain = replace(fixing, edge="", spot="", way=0.0)
        wish = text.strip()
        piece = self._session.project.piece(fixing.piece)
        names = [e.name for e in edges_of(piece)]
        if wish in names:
            return replace(plain, edge=wish)
        if wish.lower() in GIRTHS or wish.lower() in GIRTHS.values():
            return replace(plain, spot=GIRTHS.get(wish.lower(), wish.lower()))
        try:
            return replace(plain, way=typed_length(wish, where="along"))
        except InputError:
            expected = f"an edge ({', '.join(names[:6])}), a girth, or mm"
            raise InputError("along", f"'{text}'", expected) from None

    def _takes(self, fixing: Fixing) -> str:
        try:
            need = need_of(self._session.project, fixing)
        except InputError as error:
            return str(error)
        return f"{need.count} × {need.words}"

    # Checks

    def _set_checks(self, word: str, checks: tuple[FitCheck, ...]) -> None:
        self._session.edit(word, lambda p: set_checks(p, checks))

    def _put_check(self, check: FitCheck) -> None:
        known = self._session.project.checks
        self._set_checks("Change check", tuple(check if c.id == check.id else c for c in known))

    def _remove_check(self, check: FitCheck) -> None:
        known = self._session.project.checks
        self._set_checks("Remove check", tuple(c for c in known if c.id != check.id))

    def _hint(self, kind: FitKind) -> None:
        """Say which figures a kind of check takes."""
        self.check_values.setPlaceholderText(", ".join(FIELDS[kind]) or "no figures")
        self.check_values.setEnabled(bool(FIELDS[kind]))
        self.check_values.clear()

    def add_check(self) -> None:
        """Add the check that was typed."""
        with Taking(self.error, self.check_name, self.check_values):
            known = self._session.project.checks
            ident = free_name("check", {c.id for c in known})
            values = _values(self.check_values.text())
            made = FitCheck(ident, self.check_kind.value, self.check_name.text().strip(), values)
            self._set_checks("Add check", (*known, made))
            self.check_name.clear()
            self.check_values.clear()


def _number(name: str) -> Callable[[Fixing, str], Fixing]:
    def take(fixing: Fixing, text: str) -> Fixing:
        return replace(fixing, **{name: typed_length(text, where=name)})  # type: ignore[arg-type]

    return take


def _whole(name: str) -> Callable[[Fixing, str], Fixing]:
    def take(fixing: Fixing, text: str) -> Fixing:
        return replace(fixing, **{name: typed_whole(text, "how many")})  # type: ignore[arg-type]

    return take


def _yes(fixing: Fixing, text: str) -> Fixing:
    return replace(fixing, inside=typed_yes(text, "inside"))


def _values(text: str) -> tuple[float, ...]:
    return tuple(parse_scalar(word, where="figures") for word in text.split())


def _figures(check: FitCheck) -> str:
    return " ".join(show_number(v, 1) for v in check.values)


def _figures_in(check: FitCheck, text: str) -> FitCheck:
    return replace(check, values=_values(text))


def _says(check: FitCheck) -> str:
    if check.kind is FitKind.TRIED:
        return "only the body tells"
    made = check.reckoning
    spare, wanted = made.figure("spare"), made.figure("wanted")
    verdict = "enough" if spare >= wanted else "too little"
    return f"{spare:.0f} mm left, {wanted:.0f} wanted: {verdict}"


def _tried(check: FitCheck, text: str) -> FitCheck:
    known = {r.value: r for r in FitResult}
    wish = text.strip().lower()
    if wish not in known:
        raise InputError("tried on", f"'{text}'", ", ".join(known))
    return replace(check, tried=known[wish])
