"""Commands as data: menus, keys, the help page and the tests are all made from this one list."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ivory_quilt.desk.window import DeskWindow


@dataclass(frozen=True)
class Command:
    """One thing the maker can do.

    Attributes:
        id: stable name.
        title: as it stands in menus.
        keys: shortcut, "" for none (every command of ours has one).
        menu: which menu, "" for none.
        tip: one plain sentence.
        run: does it.
        enabled: whether it makes sense now.
    """

    id: str
    title: str
    keys: str
    menu: str
    tip: str
    run: "Callable[[DeskWindow], object]"
    enabled: "Callable[[DeskWindow], bool]" = lambda _: True


MENUS = ("Project", "Edit", "Lay", "View", "Help")


def _station(name: str) -> "dict[str, Callable[[DeskWindow], object]]":
    """Return run and enabled for an action of the station in front."""
    return {"run": lambda w: w.station.act(name), "enabled": lambda w: w.station.can(name)}


def _at(station: str, name: str) -> "dict[str, Callable[[DeskWindow], object]]":
    """Return run and enabled for an action of one station, wherever the maker stands."""
    return {
        "run": lambda w: w.stations[station].act(name),
        "enabled": lambda w: w.stations[station].can(name),
    }


def _command(
    ident: str, title: str, keys: str, menu: str, tip: str, **how: "Callable[[DeskWindow], object]"
) -> Command:
    return Command(ident, title, keys, menu, tip, **how)  # type: ignore[arg-type]


COMMANDS: tuple[Command, ...] = (
    _command(
        "new",
        "New project",
        "Ctrl+N",
        "Project",
        "Begin with an empty project.",
        run=lambda w: w.documents.new(),
    ),
    _command(
        "open",
        "Open project …",
        "Ctrl+O",
        "Project",
        "Open a project file.",
        run=lambda w: w.documents.ask_open(),
    ),
    _command(
        "import",
        "Bring in a pattern …",
        "Ctrl+I",
        "Project",
        "Read SVG, DXF, PDF, a scan or a photo.",
        run=lambda w: w.documents.ask_import(),
    ),
    _command(
        "join-pages",
        "Join pages …",
        "Ctrl+Shift+I",
        "Project",
        "Lay the pages of PDFs, or several scans, side by side.",
        run=lambda w: w.documents.ask_join(),
    ),
    _command(
        "export",
        "Write pattern …",
        "Ctrl+Shift+E",
        "Project",
        "Write the chosen pieces, or all, as SVG or DXF.",
        run=lambda w: w.documents.ask_export(),
        enabled=lambda w: bool(w.session.project.pieces),
    ),
    _command(
        "save", "Save", "Ctrl+S", "Project", "Save the project.", run=lambda w: w.documents.save()
    ),
    _command(
        "save-as",
        "Save as …",
        "Ctrl+Shift+S",
        "Project",
        "Save under another name.",
        run=lambda w: w.documents.save_as(),
    ),
    _command(
        "rename",
        "Name the project …",
        "F2",
        "Project",
        "Give the project a name.",
        run=lambda w: w.ask_name(),
    ),
    _command(
        "print-templates",
        "Write templates …",
        "Ctrl+P",
        "Project",
        "Write full-size templates as a PDF.",
        **_at("cut", "print-templates"),
    ),
    _command(
        "print-cut-sheets",
        "Write cut sheets …",
        "Ctrl+Shift+P",
        "Project",
        "Write the cut sheets as a PDF.",
        **_at("cut", "print-cut-sheets"),
    ),
    _command(
        "print-all",
        "Write all papers …",
        "Ctrl+Alt+P",
        "Project",
        "Write templates and cut sheets into a folder.",
        **_at("cut", "print-all"),
    ),
    _command("quit", "Quit", "Ctrl+Q", "Project", "Close the window.", run=lambda w: w.close()),
    _command(
        "undo",
        "Undo",
        "Ctrl+Z",
        "Edit",
        "Take back the last step.",
        run=lambda w: w.session.undo(),
        enabled=lambda w: bool(w.session.undo_label),
    ),
    _command(
        "redo",
        "Redo",
        "Ctrl+Y",
        "Edit",
        "Do the step again.",
        run=lambda w: w.session.redo(),
        enabled=lambda w: bool(w.session.redo_label),
    ),
    _command(
        "history",
        "History …",
        "Ctrl+H",
        "Edit",
        "See all steps and go back to one.",
        run=lambda w: w.show_history(),
        enabled=lambda w: bool(w.session.undo_label),
    ),
    _command(
        "select-all",
        "Choose all",
        "Ctrl+A",
        "Edit",
        "Choose all pieces or parts in sight.",
        **_station("select-all"),
    ),
    _command(
        "copy",
        "Copy piece",
        "Ctrl+D",
        "Edit",
        "Add a copy of the chosen pieces.",
        **_station("copy"),
    ),
    _command(
        "delete", "Delete piece", "Del", "Edit", "Take the chosen pieces out.", **_station("delete")
    ),
    _command(
        "mirror",
        "Mirror piece",
        "Ctrl+Shift+M",
        "Edit",
        "Turn the chosen pieces into their other hand.",
        **_at("pattern", "mirror"),
    ),
    _command(
        "unfold",
        "Unfold half pattern",
        "Ctrl+Shift+U",
        "Edit",
        "Unfold the chosen pieces at their fold.",
        **_at("pattern", "unfold"),
    ),
    _command(
        "draft",
        "Draft piece",
        "Ctrl+E",
        "Edit",
        "Draw lines, marks and words on a piece; part it, let in a strip, cut a dart.",
        **_at("pattern", "draft"),
    ),
    _command(
        "open-build",
        "Open piece in Build",
        "Ctrl+Shift+D",
        "Edit",
        "Its form, edges and stack: what must really be cut.",
        **_at("pattern", "build"),
    ),
    _command(
        "make-shape",
        "Make a shape …",
        "Ctrl+M",
        "Edit",
        "Make pieces from numbers: bands, cuffs, domes, spikes, horns.",
        run=lambda w: w.do_at("pattern", "make-shape"),
    ),
    _command(
        "improve",
        "Improve layouts",
        "I",
        "Lay",
        "Search on for better layouts.",
        run=lambda w: w.laying.improve(),
        enabled=lambda w: not w.laying.busy,
    ),
    _command(
        "stop",
        "Stop improving",
        "Esc",
        "Lay",
        "Stop; what was found stays.",
        run=lambda w: w.laying.stop(),
        enabled=lambda w: w.laying.busy,
    ),
    _command(
        "keep",
        "Keep layouts",
        "K",
        "Lay",
        "Keep the offered layouts in the project.",
        run=lambda w: w.laying.keep(),
        enabled=lambda w: w.can_keep(),
    ),
    _command(
        "turn", "Turn part", "R", "Lay", "Turn the chosen parts one step.", **_station("turn")
    ),
    _command(
        "turn-back",
        "Turn part back",
        "Shift+R",
        "Lay",
        "Turn the chosen parts back.",
        **_station("turn-back"),
    ),
    _command(
        "flip",
        "Flip part",
        "X",
        "Lay",
        "Flip the chosen parts, where their face allows.",
        **_station("flip"),
    ),
    _command(
        "pin",
        "Pin part",
        "P",
        "Lay",
        "Pinned parts stay when the rest is laid anew.",
        **_station("pin"),
    ),
    *(
        _command(
            f"push-{way}",
            f"Push {way}",
            f"Alt+{way.capitalize()}",
            "Lay",
            f"Push the chosen parts {way} till they touch.",
            **_station(f"push-{way}"),
        )
        for way in ("left", "right", "up", "down")
    ),
    _command(
        "settle",
        "Drop here",
        "D",
        "Lay",
        "Let the part settle into the nearest gap.",
        **_station("settle"),
    ),
    _command(
        "swap", "Swap parts", "S", "Lay", "Let two chosen parts change places.", **_station("swap")
    ),
    _command(
        "lock-sheet",
        "Lock sheet",
        "L",
        "Lay",
        "Pin all on the chosen part's sheet.",
        **_station("lock-sheet"),
    ),
    _command(
        "measure-table",
        "Measure on the table",
        "M",
        "Lay",
        "Measure between two places.",
        **_station("measure"),
    ),
    _command(
        "mark-flaw",
        "Mark a flaw",
        "Shift+M",
        "Lay",
        "Draw over a flaw of an owned sheet: parts that show keep off it.",
        **_station("mark-flaw"),
    ),
    _command(
        "clear-flaws",
        "Forget flaws",
        "Ctrl+Shift+K",
        "Lay",
        "Forget the flaws marked on the chosen part's sheet.",
        **_station("clear-flaws"),
    ),
    _command(
        "leftovers",
        "Leftovers",
        "W",
        "Lay",
        "Show or hide what is left of the sheets.",
        **_station("leftovers"),
    ),
    _command(
        "compare",
        "Compare layouts",
        "C",
        "Lay",
        "The layouts before the last run and now.",
        **_station("compare"),
    ),
    _command(
        "discard",
        "Discard the last run",
        "Ctrl+Alt+Z",
        "Lay",
        "Go back to the layouts before the last run.",
        **_station("discard"),
    ),
    _command(
        "go-measure",
        "Measure",
        "Ctrl+1",
        "View",
        "Wearers, and patterns sized to them.",
        run=lambda w: w.go("measure"),
    ),
    _command(
        "sizes",
        "Sizes side by side",
        "Ctrl+Alt+1",
        "View",
        "Three sizes, each with its foam and its cost.",
        run=lambda w: w.do_at("measure", "sizes"),
    ),
    _command(
        "picture",
        "Picture proportion",
        "Ctrl+Alt+2",
        "View",
        "Real sizes from a reference picture.",
        run=lambda w: w.do_at("measure", "picture"),
    ),
    _command(
        "go-pattern",
        "Pattern",
        "Ctrl+2",
        "View",
        "Pieces at true size.",
        run=lambda w: w.go("pattern"),
    ),
    _command(
        "seams",
        "Seam map",
        "Ctrl+J",
        "View",
        "Which edges are glued together.",
        run=lambda w: w.do_at("pattern", "seams"),
        enabled=lambda w: w.stations["pattern"].can("seams"),
    ),
    _command(
        "board",
        "Board",
        "Ctrl+Shift+B",
        "View",
        "All pieces on one board.",
        run=lambda w: w.do_at("pattern", "board"),
    ),
    _command(
        "go-build",
        "Build",
        "Ctrl+3",
        "View",
        "What is really cut, and why.",
        run=lambda w: w.go("build"),
    ),
    _command(
        "build-form",
        "Build: form",
        "Ctrl+Alt+3",
        "View",
        "How the piece is shaped by heat.",
        run=lambda w: w.do_at("build", "build-form"),
        enabled=lambda w: w.stations["build"].can("build-form"),
    ),
    _command(
        "build-edges",
        "Build: edges",
        "Ctrl+Alt+4",
        "View",
        "How its edges and grooves are cut.",
        run=lambda w: w.do_at("build", "build-edges"),
        enabled=lambda w: w.stations["build"].can("build-edges"),
    ),
    _command(
        "build-stack",
        "Build: stack",
        "Ctrl+Alt+5",
        "View",
        "What is glued onto it and around it.",
        run=lambda w: w.do_at("build", "build-stack"),
        enabled=lambda w: w.stations["build"].can("build-stack"),
    ),
    _command(
        "next-piece",
        "Next piece",
        "Ctrl+PgDown",
        "View",
        "Open the next piece in Build.",
        **_station("next-piece"),
    ),
    _command(
        "previous-piece",
        "Piece before",
        "Ctrl+PgUp",
        "View",
        "Open the piece before in Build.",
        **_station("previous-piece"),
    ),
    _command("go-lay", "Lay", "Ctrl+4", "View", "Parts on sheets.", run=lambda w: w.go("lay")),
    _command("go-buy", "Buy", "Ctrl+5", "View", "Foam to buy.", run=lambda w: w.go("buy")),
    _command(
        "go-cut", "Cut", "Ctrl+6", "View", "Templates and cut sheets.", run=lambda w: w.go("cut")
    ),
    _command(
        "fit",
        "Show everything",
        "F",
        "View",
        "Fit the table into the window.",
        run=lambda w: w.fit(),
        enabled=lambda w: w.station.canvas is not None,
    ),
    _command(
        "zoom-in",
        "Nearer",
        "Ctrl++",
        "View",
        "Look nearer.",
        run=lambda w: w.zoom(1.25),
        enabled=lambda w: w.station.canvas is not None,
    ),
    _command(
        "zoom-out",
        "Further",
        "Ctrl+-",
        "View",
        "Look from further away.",
        run=lambda w: w.zoom(0.8),
        enabled=lambda w: w.station.canvas is not None,
    ),
    _command(
        "fold-card",
        "Fold the card",
        "Ctrl+B",
        "View",
        "Fold the side card away or back.",
        run=lambda w: w.fold_card(),
    ),
    _command(
        "theme",
        "Light or dark",
        "Ctrl+T",
        "View",
        "Change between light and dark.",
        run=lambda w: w.toggle_theme(),
    ),
    _command(
        "unit",
        "Next unit",
        "Ctrl+U",
        "View",
        "Rulers in mm, cm or inches.",
        run=lambda w: w.next_unit(),
    ),
    _command(
        "help", "Keys and help", "F1", "Help", "All keys on one page.", run=lambda w: w.show_help()
    ),
)


def command(ident: str) -> Command:
    """Return a command by its id."""
    return next(c for c in COMMANDS if c.id == ident)
