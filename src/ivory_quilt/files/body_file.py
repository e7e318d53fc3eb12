"""Bodies as meshes: formers read from STL and OBJ, formed assemblies written as OBJ, STL, glTF."""

from pathlib import Path

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.formup.assembly import MeshFormer
from ivory_quilt.core.formup.formers import check_closed
from ivory_quilt.core.formup.outcome import FormedShape
from ivory_quilt.files.atomic import read_bytes, write_atomic

READ = (".stl", ".obj")
WRITTEN = (".obj", ".stl", ".glb")
LARGEST = 400_000  # triangles


def read_body(path: Path) -> MeshFormer:
    """Read a closed body, mm, from an STL or OBJ file.

    Raises:
        InputError: no such file, another format, or a mesh that is open.
    """
    import trimesh

    kind = path.suffix.lower()
    if kind not in READ:
        raise InputError(f"former '{path.name}'", f"'{kind}' is not read", "an .stl or .obj file")
    data = read_bytes(path)
    try:
        loaded = trimesh.load_mesh(trimesh.util.wrap_as_stream(data), file_type=kind[1:])
        vertices = np.asarray(loaded.vertices, dtype=float)
        triangles = np.asarray(loaded.faces, dtype=np.int64)
    except Exception as error:  # noqa: BLE001 - whatever the reader stumbles over, it is the file
        problem = f"it cannot be read ({type(error).__name__})"
        raise InputError(f"former '{path.name}'", problem, f"a sound {kind} file") from None
    if len(triangles) > LARGEST:
        problem = f"{len(triangles):,} triangles"
        raise InputError(f"former '{path.name}'", problem, f"at most {LARGEST:,}")
    body = MeshFormer(vertices, triangles)
    try:
        check_closed(body)
    except InputError as error:
        raise InputError(f"former '{path.name}'", error.problem, error.expected) from None
    return body


def write_formed(shape: FormedShape, path: Path) -> None:
    """Write a formed assembly's middle surface, mm, as OBJ, STL or binary glTF (in metres, y up).

    Raises:
        InputError: another format, or the place cannot be written.
    """
    import trimesh

    kind = path.suffix.lower()
    if kind not in WRITTEN:
        raise InputError(path.name, f"'{kind}' is not written", " or ".join(WRITTEN))
    scene = trimesh.Scene()
    for panel in shape.panels:
        mesh = trimesh.Trimesh(panel.places, panel.triangles, process=False)
        scene.add_geometry(mesh, geom_name=panel.id, node_name=panel.id)
    if kind == ".glb":  # glTF is in metres
        scene.apply_scale(0.001)
    made = scene.export(file_type=kind[1:])
    write_atomic(path, made if isinstance(made, bytes) else str(made).encode())
