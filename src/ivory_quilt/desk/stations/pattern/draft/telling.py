"""What Draft tells after an edit."""

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.document.seam_book import seam_changes, seam_name


def told_of_seams(before: Project, after: Project) -> str:
    """Return what an edit did to seams, in a sentence; empty when to none."""
    changed = seam_changes(before, after)
    if not changed:
        return ""
    first = f"Seam {seam_name(after, changed[0].seam)}: {changed[0].sentence}."
    more = len(changed) - 1
    return first + (f" {more} more changed." if more else "")
