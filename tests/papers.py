"""What tests ask of templates: pages of pieces as they are, laid by the engine in this process."""

import time

from ivory_quilt.core.document.project import Paper, Project
from ivory_quilt.core.editing.template import template_of
from ivory_quilt.core.nesting.engine import Limit, lay
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.plan.templates import Template, TemplateUse
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.files.papers.templates import templates_pdf
from ivory_quilt.files.papers.tiling import TemplatePapers, papers_of, plan_pages

NAMES = {"eva": "EVA foam"}


def first_layout(job):
    """Return the first layout of a job."""
    return lay(job, limit=Limit(steps=0), clock=time.monotonic)


def plain(*pieces, rule=None, half=False):
    """Return a template of each piece, numbered."""
    made = []
    for number, piece in enumerate(pieces, 1):
        printed = template_of(piece, rule, half=half) if rule is not None else piece
        made.append(Template((TemplateUse(str(number), piece),), printed))
    return tuple(made)


def pages_of(*pieces, paper=Paper.A4, **more) -> TemplatePapers:
    """Return the pages of pieces as they are."""
    return plan_pages(plain(*pieces), paper, first_layout, materials=NAMES, **more)


def pdf_of(*pieces, paper=Paper.A4, title="Suit", correction=1.0, **more) -> bytes:
    """Return the templates of pieces as they are."""
    papers = pages_of(*pieces, paper=paper, correction=correction, **more)
    return templates_pdf(papers, title, NAMES, correction)


def project_papers(project: Project, stock: ShopStock | None = None, **more) -> TemplatePapers:
    """Return the pages of all that is cut for a project."""
    return papers_of(derive(project, stock or ShopStock()), first_layout, **more)
