"""The demo suit as a project file, made of its drawings once: reading those takes its time."""

import sys
from pathlib import Path

from ivory_quilt.core.document.project import Project
from ivory_quilt.files.project_file import load_project, save_project

PROJECT_FILE = Path(__file__).with_name("stag-beetle-lamplighter.ivq")


def demo_project() -> Project:
    """Return the demo suit."""
    return load_project(PROJECT_FILE)


def main() -> int:
    """Make the project file anew (`./quilt formats`)."""
    from ivory_quilt.demo.suit import project_from_drawings

    save_project(project_from_drawings(), PROJECT_FILE)
    PROJECT_FILE.with_name(PROJECT_FILE.name + "~").unlink(missing_ok=True)
    return 0


if __name__ == "__main__":
    sys.exit(main())
