"""The window's start loads nothing that can wait: each of these costs a tenth of a second."""

import subprocess
import sys

HEAVY = ("scipy", "numba", "cv2", "PIL", "ezdxf", "pdfminer", "reportlab", "contourpy")


def test_the_window_starts_without_the_heavy_libraries():
    code = (
        "import sys, ivory_quilt.desk.app, ivory_quilt.desk.window; "
        f"print([m for m in {HEAVY!r} if m in sys.modules])"
    )
    found = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert found.stdout.strip() == "[]"
