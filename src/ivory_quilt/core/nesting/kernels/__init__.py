"""The compiled inner loops of the layout engine.

Flat arrays in, flat arrays out; every kernel releases the interpreter lock, so that the window
stays alive while it runs. Edges are rows (x1, y1, x2, y2) of all rings of a shape; inside and
outside go by the even-odd rule, which makes holes work without a word about them.
"""

from ivory_quilt.core.nesting.kernels.cache import use_checked_files

use_checked_files()  # before any kernel is declared
