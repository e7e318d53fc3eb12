"""What the command palette finds: commands that make sense now, and all pieces."""

from collections.abc import Callable
from functools import partial

from ivory_quilt.core.plan.templates import shelf_label, template_code
from ivory_quilt.core.units import show_thickness
from ivory_quilt.desk.commands.command import Desk
from ivory_quilt.desk.commands.menus import COMMANDS
from ivory_quilt.desk.widgets.command_palette import Entry


def palette_entries(desk: Desk, show_piece: Callable[[str], None]) -> list[Entry]:
    """Return the entries of `desk`'s palette; `show_piece` brings one to the eye by its id."""
    commands = [
        Entry(c.title.removesuffix(" …"), f"{c.menu} · {c.keys}", partial(c.run, desk))
        for c in COMMANDS
        if c.id != "palette" and c.enabled(desk)
    ]
    pieces = [
        Entry(p.name, f"piece · {show_thickness(p.thickness)}", partial(show_piece, p.id))
        for p in desk.session.project.pieces
    ]
    return [*commands, *pieces]


def palette_answers(desk: Desk, typed: str, look_up: Callable[[str], None]) -> list[Entry]:
    """Return what answers a text that is no title: a code, to be looked up."""
    code = typed.strip().upper()
    if template_code(code) is None and shelf_label(code) is None:
        return []

    def tell() -> None:
        desk.go("cut")
        look_up(code)

    return [Entry(code, "a code from a template or sticker", tell)]
