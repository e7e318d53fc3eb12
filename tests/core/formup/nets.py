"""Nets for tests: the faces of convex bodies as panels, and simple outlines."""

import numpy as np
from scipy.spatial import ConvexHull

from ivory_quilt.core.formup.assembly import (
    Assembly,
    FormPanel,
    FormSeam,
    Meeting,
    SeamSide,
)
from ivory_quilt.core.pattern.build import Face


def rectangle(wide, high):
    return ((0.0, 0.0), (wide, 0.0), (wide, high), (0.0, high))


def tube(wide=400.0, high=150.0, thickness=6.0, face=Face.MIDDLE, edge=6.0, **more):
    """Return a rectangle whose ends are joined."""
    seam = FormSeam(SeamSide("r", 1, 2, 1), SeamSide("r", 0, 3, -1))
    panel = FormPanel("r", rectangle(wide, high), thickness, face)
    return Assembly((panel,), (seam,), edge=edge, **more)


def fan(angle, radius=100.0, thickness=2.0, edge=6.0):
    """Return a sector whose straight edges are joined: a cone."""
    turns = np.linspace(0, np.radians(angle), 91)
    outline = ((0.0, 0.0), *((radius * np.cos(t), radius * np.sin(t)) for t in turns))
    seam = FormSeam(SeamSide("s", 0, 1, 1), SeamSide("s", 0, 91, -1))
    return Assembly((FormPanel("s", outline, thickness),), (seam,), edge=edge)


def faces_of(vertices):
    """Return the faces of the hull of vertices, each counter-clockwise from outside."""
    vertices = np.asarray(vertices, dtype=float)
    hull = ConvexHull(vertices)
    groups = {}
    for corners, plane in zip(hull.simplices, hull.equations, strict=True):
        groups.setdefault(tuple(np.round(plane, 5)), set()).update(corners.tolist())
    faces = []
    for plane, found in groups.items():
        normal, corners = np.array(plane[:3]), sorted(found)
        middle = vertices[corners].mean(0)
        one = vertices[corners[0]] - middle
        one /= np.linalg.norm(one)
        other = np.cross(normal, one)
        turns = [
            np.arctan2((vertices[c] - middle) @ other, (vertices[c] - middle) @ one)
            for c in corners
        ]
        faces.append([corners[k] for k in np.argsort(turns)])
    return faces


def sharpest(vertices):
    """Return the least angle between two faces of the hull of vertices, degrees."""
    vertices = np.asarray(vertices, dtype=float)
    hull = ConvexHull(vertices)
    normals = hull.equations[:, :3]
    beside = np.repeat(np.arange(len(normals)), 3), hull.neighbors.ravel()
    cosines = (normals[beside[0]] * normals[beside[1]]).sum(1)
    return 180.0 - float(np.degrees(np.arccos(np.clip(cosines, -1, 1))).max())


def net(vertices, meet=Meeting.ANGLE, thickness=4.0, face=Face.MIDDLE, edge=8.0, turned=()):
    """Return the panels and seams of a convex body; panels in `turned` are drawn the other way."""
    vertices = np.asarray(vertices, dtype=float)
    faces = faces_of(vertices)
    panels, normals = [], []
    for number, loop in enumerate(faces):
        corners = vertices[loop]
        normal = np.cross(corners[1] - corners[0], corners[2] - corners[1])
        normal /= np.linalg.norm(normal)
        along = (corners[1] - corners[0]) / np.linalg.norm(corners[1] - corners[0])
        up = np.cross(normal, along)
        outline = [(float((c - corners[0]) @ along), float((c - corners[0]) @ up)) for c in corners]
        if number in turned:
            outline = outline[::-1]
        panels.append(FormPanel(f"f{number}", tuple(outline), thickness, face))
        normals.append(normal)
    where = {
        (loop[k], loop[(k + 1) % len(loop)]): (number, k)
        for number, loop in enumerate(faces)
        for k in range(len(loop))
    }

    def side(number, start, stop, way):
        count = len(faces[number])
        if number in turned:
            start, stop, way = count - 1 - start, count - 1 - stop, -way
        return SeamSide(f"f{number}", start, stop, way)

    seams = []
    for (i, j), (one, k) in where.items():
        if i > j:
            continue
        other, m = where[j, i]
        turn = np.degrees(np.arccos(np.clip(normals[one] @ normals[other], -1, 1)))
        first = side(one, k, (k + 1) % len(faces[one]), 1)
        second = side(other, (m + 1) % len(faces[other]), m, -1)
        seams.append(FormSeam(first, second, meet, 180.0 - turn))
    return Assembly(tuple(panels), tuple(seams), edge=edge), faces


def corner_places(formed, faces, vertices, assembly):
    """Return where the corners of a formed net are, and where they should be."""
    found, wanted = [], []
    for number, loop in enumerate(faces):
        outline = np.array(assembly.panels[number].outline)
        loops = loop if outline[0] @ outline[0] < 1e-9 else loop[::-1]
        points, places = formed.shell.meshes[number].points, formed.panel_places(number)
        for corner, vertex in zip(outline, loops, strict=True):
            found.append(places[np.argmin(((points - corner) ** 2).sum(1))])
            wanted.append(vertices[vertex])
    return np.array(found), np.array(wanted)


def misfit(found, wanted):
    """Return the largest distance after the best motion without mirroring (Kabsch 1976), mm."""
    a, b = found - found.mean(0), wanted - wanted.mean(0)
    u, _, vt = np.linalg.svd(a.T @ b)
    turn = u @ np.diag([1, 1, np.sign(np.linalg.det(u @ vt))]) @ vt
    return float(np.linalg.norm(a @ turn - b, axis=1).max())


def round_about(places, normals):
    """Return the radii of places about the axis that all normals stand across."""
    _, axes = np.linalg.eigh(normals.T @ normals)
    flat = places @ axes[:, 1:]
    rows = np.column_stack([2 * flat, np.ones(len(flat))])
    middle = np.linalg.lstsq(rows, (flat**2).sum(1), rcond=None)[0][:2]
    return np.linalg.norm(flat - middle, axis=1)
