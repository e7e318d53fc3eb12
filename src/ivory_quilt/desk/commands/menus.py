"""All commands in the order of their menus."""

from ivory_quilt.desk.commands.command import Command
from ivory_quilt.desk.commands.edit import EDIT
from ivory_quilt.desk.commands.help import HELP
from ivory_quilt.desk.commands.lay import LAY
from ivory_quilt.desk.commands.project import PROJECT
from ivory_quilt.desk.commands.view import VIEW

MENUS = ("Project", "Edit", "Lay", "View", "Help")
COMMANDS: tuple[Command, ...] = (*PROJECT, *EDIT, *LAY, *VIEW, *HELP)


def command_of(ident: str) -> Command:
    """Return a command by its id."""
    return next(c for c in COMMANDS if c.id == ident)
