"""Who will wear it: wearers of a project, and the reference pictures they are measured on."""

from ivory_quilt.core.document.project import Project, free_name
from ivory_quilt.core.measure.study import Study
from ivory_quilt.core.measure.wearer import Wearer
from ivory_quilt.core.record import replace


def add_wearer(project: Project, name: str) -> Project:
    """Add a wearer with a fresh id.

    Raises:
        InputError: the name is empty.
    """
    ident = free_name("wearer", {w.id for w in project.wearers})
    return replace(project, wearers=(*project.wearers, Wearer(ident, name.strip())))


def put_wearer(project: Project, wearer: Wearer) -> Project:
    """Put a wearer in place of the one with the same id.

    Raises:
        InputError: there is none.
    """
    project.wearer(wearer.id)
    wearers = tuple(wearer if w.id == wearer.id else w for w in project.wearers)
    return replace(project, wearers=wearers)


def remove_wearer(project: Project, wearer_id: str) -> Project:
    """Take a wearer out, with the suits made for them."""
    return replace(
        project,
        wearers=tuple(w for w in project.wearers if w.id != wearer_id),
        troupe=tuple(m for m in project.troupe if m.wearer != wearer_id),
        girths=tuple(a for a in project.girths if a.wearer != wearer_id),
    )


def put_study(project: Project, study: Study) -> Project:
    """Put a reference picture's study in place of the one of the same picture, or add it."""
    others = tuple(s for s in project.studies if s.picture != study.picture)
    return replace(project, studies=(*others, study))
