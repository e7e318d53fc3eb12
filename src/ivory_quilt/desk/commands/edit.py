"""The Edit menu: steps taken back, and what is done to pieces."""

from ivory_quilt.desk.commands.command import Command, at, command, in_front

EDIT: tuple[Command, ...] = (
    command(
        "undo",
        "Undo",
        "Ctrl+Z",
        "Edit",
        "Undo the last step.",
        run=lambda w: w.session.undo(),
        enabled=lambda w: bool(w.session.undo_label),
    ),
    command(
        "redo",
        "Redo",
        "Ctrl+Y",
        "Edit",
        "Redo the step that was undone.",
        run=lambda w: w.session.redo(),
        enabled=lambda w: bool(w.session.redo_label),
    ),
    command(
        "history",
        "History …",
        "Ctrl+H",
        "Edit",
        "See all steps and go back to one.",
        run=lambda w: w.panels.show_history(),
        enabled=lambda w: bool(w.session.undo_label),
    ),
    command(
        "select-all",
        "Select all",
        "Ctrl+A",
        "Edit",
        "Select all pieces or parts in sight.",
        **in_front("select-all"),
    ),
    command(
        "copy",
        "Duplicate piece",
        "Ctrl+D",
        "Edit",
        "Add a copy of the selected pieces.",
        **in_front("copy"),
    ),
    command(
        "delete", "Delete piece", "Del", "Edit", "Delete the selected pieces.", **in_front("delete")
    ),
    command(
        "mirror",
        "Mirror piece",
        "Ctrl+Shift+M",
        "Edit",
        "Mirror the selected pieces into their other hand.",
        **at("pattern", "mirror"),
    ),
    command(
        "unfold",
        "Unfold half pattern",
        "Ctrl+Shift+U",
        "Edit",
        "Unfold the selected pieces at their fold.",
        **at("pattern", "unfold"),
    ),
    command(
        "draft",
        "Draft piece",
        "Ctrl+E",
        "Edit",
        "Draw lines, marks and words on a piece; part it, let in a strip, cut a dart.",
        **at("pattern", "draft"),
    ),
    command(
        "open-build",
        "Open piece in Build",
        "Ctrl+Shift+D",
        "Edit",
        "Its form, edges and stack: what must really be cut.",
        **at("pattern", "build"),
    ),
    command(
        "make-shape",
        "Make a shape …",
        "Ctrl+M",
        "Edit",
        "Make pieces from numbers: bands, cuffs, domes, spikes, horns.",
        run=lambda w: w.do_at("pattern", "make-shape"),
    ),
)
