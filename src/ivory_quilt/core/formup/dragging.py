"""A shape that follows a number while it is dragged: coarse, and solved on from the last one."""

from dataclasses import dataclass, replace

import numpy as np

from ivory_quilt.core.formup.assembly import Array, Assembly, Ints, edge_for
from ivory_quilt.core.formup.carrying import carried
from ivory_quilt.core.formup.form import form_on, solved_on
from ivory_quilt.core.formup.formed import Formed
from ivory_quilt.core.formup.measures import curvature
from ivory_quilt.core.formup.meshing import PanelMesh, meshed_finely
from ivory_quilt.core.formup.sampling import SampledSeam
from ivory_quilt.core.formup.shell import Shell, make_shell, set_rest
from ivory_quilt.core.formup.solver import Going

TRIANGLES = 200  # about: a shape of so many follows a hand


@dataclass
class _Last:
    job: Assembly
    meshes: list[PanelMesh]
    seams: list[SampledSeam]
    shell: Shell
    places: Array
    curved: Array
    order: Ints


class Dragged:
    """The last shape of an assembly, from which the next one is found."""

    def __init__(self) -> None:
        """Know none."""
        self._last: _Last | None = None

    def form(self, job: Assembly, going: Going = lambda: True) -> Formed:
        """Return the coarse shape of an assembly.

        Raises:
            InputError, Stopped: see `form`.
        """
        job = replace(job, edge=coarse_edge(job))
        last = self._last
        begun = self._begun(job, last) if last is not None and _alike(job, last.job) else None
        if begun is None:
            formed, energy = form_on(job, going)
        else:
            seams, shell, places, order = begun
            formed, energy = solved_on(job, seams, shell, places, going, order)
        self._last = _Last(
            job,
            formed.shell.meshes,
            formed.sampled,
            formed.shell,
            formed.places,
            curvature(energy, formed.places),
            energy.stiffness.order,
        )
        return formed

    def _begun(
        self, job: Assembly, last: _Last
    ) -> tuple[list[SampledSeam], Shell, Array, Ints | None] | None:
        """Return the mesh of an assembly, and where the last shape puts its vertices.

        With the order of its stiffness, where the mesh is the last one.
        """
        order: Ints | None = None
        if _same_flat(job, last.job):
            meshes = last.meshes
            seams = [replace(s, seam=seam) for s, seam in zip(last.seams, job.seams, strict=True)]
            shell = make_shell(job, meshes, seams)
            places, curved, order = last.places, last.curved, last.order
        else:
            meshes, seams = meshed_finely(job, job.edge)
            shell = make_shell(job, meshes, seams)
            places, curved = carried(
                last.meshes, last.shell, last.places, last.curved, meshes, shell
            )
        set_rest(shell, curved)
        if not np.isfinite(places).all():
            return None
        return seams, shell, places, order


def coarse_edge(job: Assembly) -> float:
    """Return an edge's length that makes few enough triangles, mm; never finer than asked for."""
    return max(job.edge, edge_for(job.area, TRIANGLES))


def _alike(job: Assembly, last: Assembly) -> bool:
    """Whether panels, seams and former are the same but for their numbers and outlines."""
    return (
        type(job.former) is type(last.former)
        and job.firmly == last.firmly
        and [(p.id, p.mirrored) for p in job.panels] == [(p.id, p.mirrored) for p in last.panels]
        and [(s.a.panel, s.b.panel, s.meet) for s in job.seams]
        == [(s.a.panel, s.b.panel, s.meet) for s in last.seams]
        and [f.panel for f in job.folds] == [f.panel for f in last.folds]
    )


def _same_flat(job: Assembly, last: Assembly) -> bool:
    """Whether the panels' middle surfaces are the same, so that their mesh is."""
    bevelled = any(s.turn for s in (*job.seams, *last.seams))
    if job.edge != last.edge or job.folds != last.folds:
        return False
    if [(s.a, s.b) for s in job.seams] != [(s.a, s.b) for s in last.seams]:
        return False
    if bevelled and job.seams != last.seams:
        return False
    return all(
        p.outline == q.outline and p.face == q.face and (p.thickness == q.thickness or not bevelled)
        for p, q in zip(job.panels, last.panels, strict=True)
    )
