"""What is doubtful in a project's pieces, with the place and a mend; checked before foam is cut.

Rules are common practice, no source: a hole no nearer to the edge than the foam is thick, nothing
narrower than that, left and right mirrored and never alike, a name on everything.
"""

from ivory_quilt.core.document.project import (
    Project,
)
from ivory_quilt.core.review.finding import Finding
from ivory_quilt.core.review.foam import hole_findings, making_findings, pen_findings, thin_findings
from ivory_quilt.core.review.girths import girth_findings
from ivory_quilt.core.review.hands import duplicate_findings, hand_findings
from ivory_quilt.core.review.names import no_name_findings, same_name_findings
from ivory_quilt.core.review.seams import seam_findings


def review(project: Project) -> tuple[Finding, ...]:
    """Return all findings, those that cost most foam first."""
    pieces = [p for p in project.pieces if p.count > 0]
    found = [*hand_findings(pieces), *seam_findings(project), *duplicate_findings(pieces)]
    for piece in pieces:
        found += thin_findings(piece)
        found += hole_findings(piece)
        found += no_name_findings(piece)
        found += making_findings(piece, project)
    twice = {f.pieces for f in found if f.code == "duplicate"}
    found += [
        f for f in same_name_findings(pieces) if not any(set(f.pieces) == set(t) for t in twice)
    ]
    found += girth_findings(project)
    found += pen_findings(project)
    return tuple(found)
