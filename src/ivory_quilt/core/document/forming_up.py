"""How groups of pieces are formed up: the maker's decisions, one for each group."""

from collections.abc import Collection

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.formup.choices import GroupForm
from ivory_quilt.core.record import replace


def group_form(project: Project, pieces: Collection[str]) -> GroupForm:
    """Return how a group is formed up; as it stands freely where nobody decided."""
    found = next((f for f in project.forms if f.piece in pieces), None)
    return found or GroupForm(next(iter(pieces), ""))


def set_group_form(project: Project, pieces: Collection[str], form: GroupForm) -> Project:
    """Decide how a group is formed up."""
    kept = tuple(f for f in project.forms if f.piece not in pieces)
    plain = form == GroupForm(form.piece)
    return replace(project, forms=kept if plain else (*kept, form))
