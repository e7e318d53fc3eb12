"""A solved assembly: its shell where it stands, and what is told of it."""

import numpy as np

from ivory_quilt.core.formup.assembly import Array, Assembly, Bools
from ivory_quilt.core.formup.outcome import FormedPanel, FormedShape, SeamOutcome, StrainSpread
from ivory_quilt.core.formup.recut import laid_as_it_stands
from ivory_quilt.core.formup.sampling import SampledSeam
from ivory_quilt.core.formup.seams import bevelled_rims
from ivory_quilt.core.formup.shell import Shell
from ivory_quilt.core.formup.solver import Going
from ivory_quilt.core.record import Struct, field, replace


class Formed(Struct, frozen=True):
    """An assembly as it stands: middle surface, mm, right-handed, outer faces outwards.

    Attributes:
        strains: principal strains by triangle, smaller first, `(m, 2)`.
        masked: triangles near tips, which no percentile counts.
        curved: each triangle's curvature (`measures.curvature`).
        settled: whether the solve came to rest.
        problems: what the maker should know, one sentence each.
        off: how far each vertex stands off the former, mm; None without one.
        sampled: the seams' points on its mesh.
        faces: strain of the outer and the inner one.
    """

    assembly: Assembly
    shell: Shell
    places: Array
    strains: Array
    masked: Bools
    curved: Array
    seams: tuple[SeamOutcome, ...]
    strain: StrainSpread
    energy: float
    settled: bool
    history: tuple[float, ...]
    problems: tuple[str, ...]
    off: Array | None = None
    sampled: list[SampledSeam] = field(default_factory=list)
    faces: tuple[StrainSpread, StrainSpread] | tuple[()] = ()

    @property
    def shape(self) -> FormedShape:
        """The same as plain arrays, panel by panel."""
        panels = []
        rims = bevelled_rims(self.shell, self.sampled)
        for number, (panel, mesh) in enumerate(
            zip(self.assembly.panels, self.shell.meshes, strict=True)
        ):
            mine = self.shell.panel_of == number
            panels.append(
                FormedPanel(
                    panel.id,
                    panel.thickness,
                    mesh.points,
                    self.panel_places(number),
                    mesh.triangles,
                    self.strains[mine],
                    self.masked[mine],
                    mesh.boundary,
                    rim=rims[number],
                )
            )
        off = None if self.off is None else float(np.percentile(self.off, 99))
        told = (self.seams, self.strain, self.settled, self.problems, off)
        return FormedShape(tuple(panels), *told, *self.faces)

    def cut_as_it_stands(self, going: Going = lambda: True) -> FormedShape:
        """The shape, each panel with where it lies if it is cut as it stands (`recut`)."""
        shell, shape = self.shell, self.shape
        corners = self.places[shell.triangles]
        real = np.linalg.norm(np.roll(corners, -2, 1) - np.roll(corners, -1, 1), axis=2)
        # As drawn, on whichever face: longer by the strain that was found.
        asked = np.linalg.norm(shell.flat_edges, axis=2) * real / shell.true
        panels = []
        for number, panel in enumerate(shape.panels):
            mine = shell.panel_of == number
            laid = laid_as_it_stands(panel.flat, panel.triangles, asked[mine], going)
            panels.append(replace(panel, laid=laid))
        return replace(shape, panels=tuple(panels))

    def panel_places(self, number: int) -> Array:
        """Return the places of one panel's points, `(n, 3)`."""
        found: Array = self.places[self.shell.vertex_of[number]]
        return found
