"""The Help menu: the guide, keys, the palette."""

from ivory_quilt.desk.commands.command import Command, command

HELP: tuple[Command, ...] = (
    command(
        "guide",
        "Guide",
        "F1",
        "Help",
        "A maker's way through, opened at the station in front.",
        run=lambda w: w.panels.show_guide(w.station.word),
    ),
    command(
        "keys",
        "Keyboard shortcuts",
        "Ctrl+F1",
        "Help",
        "All keys on one page.",
        run=lambda w: w.panels.show_keys(),
    ),
    command(
        "palette",
        "Command palette …",
        "Ctrl+K",
        "Help",
        "Find a command or a piece by a few letters.",
        run=lambda w: w.panels.show_palette(),
    ),
)
