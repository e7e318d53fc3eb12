"""Things that are not foam, in a project."""

from ivory_quilt.core.document.project import Project, free_name
from ivory_quilt.core.pattern.thing import Thing
from ivory_quilt.core.record import replace


def put_thing(project: Project, thing: Thing) -> Project:
    """Add a thing, or replace the one with the same id."""
    if any(t.id == thing.id for t in project.things):
        things = tuple(thing if t.id == thing.id else t for t in project.things)
    else:
        things = (*project.things, thing)
    return replace(project, things=things)


def drop_thing(project: Project, thing_id: str) -> Project:
    """Take a thing out; unknown ids are ignored."""
    return replace(project, things=tuple(t for t in project.things if t.id != thing_id))


def fresh_thing_id(project: Project) -> str:
    """Return an id that no thing of the project has."""
    taken = {t.id for t in project.things}
    return free_name("thing", taken)
