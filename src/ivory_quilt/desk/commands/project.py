"""The Project menu: projects and drawings in and out."""

from ivory_quilt.desk.commands.command import Command, Desk, at, command


def _look_up_code(desk: Desk) -> None:
    desk.go("cut")
    desk.stations["cut"].act("look-up-code")


PROJECT: tuple[Command, ...] = (
    command(
        "new",
        "New project",
        "Ctrl+N",
        "Project",
        "Begin with an empty project.",
        run=lambda w: w.documents.new(),
    ),
    command(
        "open",
        "Open project …",
        "Ctrl+O",
        "Project",
        "Open a project file.",
        run=lambda w: w.documents.ask_open(),
    ),
    command(
        "import",
        "Import pattern …",
        "Ctrl+I",
        "Project",
        "Read SVG, DXF, PDF, a scan or a photo.",
        run=lambda w: w.drawings.ask_import(),
    ),
    command(
        "join-pages",
        "Join pages …",
        "Ctrl+Shift+I",
        "Project",
        "Lay the pages of PDFs, or several scans, side by side.",
        run=lambda w: w.drawings.ask_join(),
    ),
    command(
        "export",
        "Export pattern …",
        "Ctrl+Shift+E",
        "Project",
        "Export the selected pieces, or all, as SVG or DXF.",
        run=lambda w: w.drawings.ask_export(),
        enabled=lambda w: bool(w.session.project.pieces),
    ),
    command(
        "save", "Save", "Ctrl+S", "Project", "Save the project.", run=lambda w: w.documents.save()
    ),
    command(
        "save-as",
        "Save as …",
        "Ctrl+Shift+S",
        "Project",
        "Save under another name.",
        run=lambda w: w.documents.save_as(),
    ),
    command(
        "rename",
        "Rename project …",
        "F2",
        "Project",
        "Give the project a name.",
        run=lambda w: w.panels.ask_name(),
    ),
    command(
        "print-templates",
        "Export templates …",
        "Ctrl+P",
        "Project",
        "Export full-size templates as a PDF.",
        **at("cut", "print-templates"),
    ),
    command(
        "print-cut-sheets",
        "Export cut sheets …",
        "Ctrl+Shift+P",
        "Project",
        "Export the cut sheets as a PDF.",
        **at("cut", "print-cut-sheets"),
    ),
    command(
        "print-all",
        "Export all papers …",
        "Ctrl+Alt+P",
        "Project",
        "Export templates and cut sheets to a folder.",
        **at("cut", "print-all"),
    ),
    command(
        "export-parts",
        "Export parts list …",
        "Ctrl+Alt+L",
        "Project",
        "All parts with their sizes, foam and sheets, as a spreadsheet or CSV.",
        **at("cut", "export-parts"),
    ),
    command(
        "export-gauges",
        "Export gauges …",
        "Ctrl+Alt+U",
        "Project",
        "Cards with the inside curve of bent, rolled and dished pieces.",
        **at("cut", "export-gauges"),
    ),
    command(
        "export-masks",
        "Export masks …",
        "Ctrl+Alt+M",
        "Project",
        "What stays covered while a part of a piece is painted.",
        **at("cut", "export-masks"),
    ),
    command(
        "export-book",
        "Export shop book …",
        "Ctrl+Alt+B",
        "Project",
        "All that a bench without a screen must know, as one PDF with bookmarks.",
        **at("cut", "export-book"),
    ),
    command(
        "export-picture",
        "Export picture …",
        "Ctrl+Alt+G",
        "Project",
        "What is in front, as PNG or SVG.",
        run=lambda w: w.drawings.ask_picture(w.station.view),
    ),
    command(
        "look-up-code",
        "Look up a template's code",
        "Ctrl+Alt+C",
        "Project",
        "Whose template it is, and whether it is the present one.",
        run=_look_up_code,
        enabled=lambda w: w.stations.can("cut", "look-up-code"),
    ),
    command("quit", "Quit", "Ctrl+Q", "Project", "Close the window.", run=lambda w: w.close()),
)
