"""What the library's place does, without a widget."""

from collections.abc import Callable
from datetime import date

from ivory_quilt.core.document.library import (
    LibrarySet,
    SizeMatch,
    bring_in,
    library_set,
    match_of,
)
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.wearer import Wearer, spot
from ivory_quilt.core.record import replace
from ivory_quilt.core.units import counted, parse_scalar, show_number
from ivory_quilt.desk.session import Session

MOST_MEASURES = 4  # that are told


class LibraryPresenter:
    """The shop's sets, and the project that they come into."""

    def __init__(self, session: Session) -> None:
        """Serve `session`."""
        self.session = session
        self.today: Callable[[], date] = date.today
        self.words = ""
        """What is looked for."""
        self.chosen = ""
        self.wearer_id = ""
        self._sets: tuple[LibrarySet, ...] | None = None

    def reload(self) -> None:
        """Read the shop's sets anew when they are next asked for."""
        self._sets = None

    @property
    def sets(self) -> tuple[LibrarySet, ...]:
        """All sets of the shop, by name."""
        if self._sets is None:
            self._sets = self.session.store.library_sets()
        return self._sets

    @property
    def found(self) -> tuple[LibrarySet, ...]:
        """The sets that the words typed find."""
        return tuple(k for k in self.sets if k.found_by(self.words))

    @property
    def kept(self) -> LibrarySet | None:
        """The set in sight."""
        found = {k.id: k for k in self.found}
        return found.get(self.chosen) or next(iter(found.values()), None)

    @property
    def wearer(self) -> Wearer | None:
        """For whom it is brought in."""
        known = {w.id: w for w in self.session.project.wearers}
        return known.get(self.wearer_id) or next(iter(known.values()), None)

    def match(self) -> SizeMatch:
        """Return how the set in sight meets the wearer."""
        kept = self.kept
        return match_of(kept, self.wearer) if kept is not None else SizeMatch(())

    def selected(self) -> tuple[str, ...]:
        """Return the pieces selected on the board, all of them where none is."""
        known = [p.id for p in self.session.project.pieces]
        chosen = [i for i in known if i in set(self.session.selected)]
        return tuple(chosen or known)

    # Doing

    def keep(self, name: str, tags: str) -> None:
        """Keep the selected pieces in the shop.

        Raises:
            InputError: no piece, or no name.
        """
        ids = self.selected()
        if not ids:
            raise InputError("set", "there are no pieces", "pieces in the project")
        made = library_set(
            self.session.project,
            ids,
            name,
            tags=tags.split(","),
            wearer=self.wearer,
            when=self.today().isoformat(),
            taken=[k.id for k in self.sets],
        )
        self.session.store.put_library_set(made)
        self.reload()
        self.words, self.chosen = "", made.id
        self.session.tell(f"{made.name}: {counted(len(ids), 'piece')} kept in the shop.", "good")

    def remove(self) -> None:
        """Take the set in sight out of the shop; projects keep what came of it."""
        kept = self.kept
        if kept is not None:
            self.session.store.remove_library_set(kept.id)
            self.reload()

    def describe(self, *, name: str, tags: str, note: str) -> None:
        """Say another name, other tags, or what is to be known of the set in sight.

        Raises:
            InputError: the name is empty.
        """
        kept = self.kept
        if kept is None:
            return
        words = tuple(dict.fromkeys(t.strip().lower() for t in tags.split(",") if t.strip()))
        made = replace(kept, name=name.strip(), tags=words, note=note.strip())
        if made != kept:
            self.session.store.put_library_set(made)
            self.reload()
            self.chosen = made.id

    def bring(self, size: str) -> tuple[str, ...]:
        """Bring the set in sight into the project, in a size as typed; return its pieces' ids.

        Raises:
            InputError: no percentage that makes sense.
        """
        kept = self.kept
        if kept is None:
            return ()
        percent = parse_scalar(size.replace("%", ""), where="size")
        if not 10 <= percent <= 1000:
            raise InputError("size", f"{percent:g} %", "10 to 1000 %")
        project, ids = bring_in(self.session.project, kept, percent / 100)
        self.session.edit(f"Bring in {kept.name}", lambda _: project)
        self.session.selected = ids
        self.session.tell(f"{counted(len(ids), 'piece')} of {kept.name} brought in.", "good")
        return ids

    # Words

    def facts(self) -> str:
        """Return what the set in sight is, in a few sentences."""
        kept = self.kept
        if kept is None:
            return ""
        parts = sum(p.cut_count for p in kept.pieces)
        seams = f", {counted(len(kept.seams), 'seam')}" if kept.seams else ""
        when = f" Kept {kept.when}." if kept.when else ""
        shown = [
            f"{spot(m.spot).title.lower()} {show_number(m.value, 0)} mm"
            for m in kept.made_for[:MOST_MEASURES]
        ]
        size = f" Made for {', '.join(shown)}." if shown else ""
        many = f"{counted(len(kept.pieces), 'piece')}, {counted(parts, 'part')} to cut{seams}."
        return f"{many}{when}{size}"
