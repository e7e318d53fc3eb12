"""A shape that follows a number while it is dragged: coarse, and solved on from the last one."""

import numpy as np

from ivory_quilt.core.formup.assembly import Array, Assembly, edge_for
from ivory_quilt.core.formup.carrying import carried
from ivory_quilt.core.formup.form import form_on, solved_on
from ivory_quilt.core.formup.formed import Formed
from ivory_quilt.core.formup.meshing import meshed_finely
from ivory_quilt.core.formup.sampling import SampledSeam
from ivory_quilt.core.formup.shell import Shell, make_shell, set_rest
from ivory_quilt.core.formup.solver import Going
from ivory_quilt.core.formup.stiffness import Stiffness
from ivory_quilt.core.record import Struct, replace

TRIANGLES = 200  # about: a shape of so many follows a hand


class _Last(Struct, frozen=True):
    formed: Formed
    stiffness: Stiffness

    @property
    def job(self) -> Assembly:
        return self.formed.assembly

    @property
    def shell(self) -> Shell:
        return self.formed.shell


class _Begun(Struct, frozen=True):
    """A mesh of an assembly, its shell's stiffness, and where the last shape puts its vertices.

    `smooth` if the last one was found on this mesh.
    """

    seams: list[SampledSeam]
    stiffness: Stiffness
    places: Array
    smooth: bool


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
        begun = _begun(job, last) if last is not None and _alike(job, last.job) else None
        if begun is None:
            formed, energy = form_on(job, going)
        else:
            known = (begun.seams, begun.stiffness, begun.places)
            formed, energy = solved_on(job, *known, going, smooth=begun.smooth)
        # Places that are no numbers are no start for the next one.
        finite = np.isfinite(formed.places).all()
        self._last = _Last(formed, energy.stiffness) if finite else None
        return formed


def _begun(job: Assembly, last: _Last) -> _Begun | None:
    """Return from where an assembly goes on; None where the last shape leads nowhere."""
    before = last.formed
    if not _same_flat(job, last.job):
        meshes, seams = meshed_finely(job, job.edge)
        shell = make_shell(job, meshes, seams)
        places, curved = carried(
            last.shell.meshes, last.shell, before.places, before.curved, meshes, shell
        )
        if not np.isfinite(places).all():
            return None
        set_rest(shell, curved)
        return _Begun(seams, Stiffness.of(shell), places, smooth=False)
    seams = [replace(s, seam=seam) for s, seam in zip(before.sampled, job.seams, strict=True)]
    if _same_but_former(job, last.job):
        shell = replace(last.shell)
        set_rest(shell, before.curved)
        stiffness = replace(last.stiffness, shell=shell).renewed()
    else:
        shell = make_shell(job, last.shell.meshes, seams)
        set_rest(shell, before.curved)
        stiffness = last.stiffness.of_another(shell)
    return _Begun(seams, stiffness, before.places, smooth=True)


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


def _same_but_former(job: Assembly, last: Assembly) -> bool:
    others = (name for name in Assembly.__struct_fields__ if name != "former")
    return all(getattr(job, name) == getattr(last, name) for name in others)


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
