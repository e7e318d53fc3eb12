"""Writing the demo's files to a folder: drawings, project and shop store."""

from contextlib import closing
from pathlib import Path

from ivory_quilt.demo.practice import practice_names, practice_picture
from ivory_quilt.demo.project import demo_project
from ivory_quilt.demo.shop import fill_demo_shop
from ivory_quilt.demo.suit import demo_drawings
from ivory_quilt.files.atomic import write_atomic
from ivory_quilt.files.project_file import save_project
from ivory_quilt.shop.sqlite_store import SqliteStore


def export_demo(folder: Path) -> list[Path]:
    """Write the demo's files and return their paths.

    SVG drawings, two pictures to trace, the project, and the shop's store.
    """
    folder.mkdir(parents=True, exist_ok=True)
    paths = []
    for name, data in demo_drawings().items():
        write_atomic(folder / name, data)
        paths.append(folder / name)
    for name in practice_names():
        write_atomic(folder / name, practice_picture(name))
        paths.append(folder / name)
    project = folder / "stag-beetle-lamplighter.ivq"
    save_project(demo_project(), project)
    store = folder / "shop.sqlite"
    store.unlink(missing_ok=True)
    with closing(SqliteStore(store)) as shop:
        fill_demo_shop(shop)
    return [*paths, project, store]
