"""What is broken, one thing at a time: constants by a third, code by the operators of cosmic-ray.

Every numeric constant at the top of a module, and every default of a record's field, is made larger
and smaller. Of the changes to code (comparisons, arithmetic, conditions, numbers, loops) a sample
is drawn that a seed decides.
"""

import ast
import random
import tokenize
from io import StringIO
from pathlib import Path

from cosmic_ray.ast import ast_nodes, get_ast
from cosmic_ray.mutating import mutate_code
from cosmic_ray.plugins import get_operator, operator_names

from ivory_quilt.core.record import Struct

SOURCE = Path(__file__).parents[2] / "src"
CORE = SOURCE / "ivory_quilt" / "core"
ROOMS = ("forming", "edges", "stacks", "editing", "plan", "document")
CONSTANTS = (*ROOMS, "pattern", "review", "measure")
FACTOR = 1.3
# Only changes that a slip of the pen would make. Shifts, powers and bits of lengths end in an error
# at once: they would be noticed by any test and say nothing of ours.
BINARY = ("Add Sub", "Sub Add", "Mul Div", "Div Mul", "Pow Mul", "Mod Add")
COMPARED = (
    "Lt LtE",
    "LtE Lt",
    "Gt GtE",
    "GtE Gt",
    "Lt Gt",
    "Gt Lt",
    "LtE GtE",
    "GtE LtE",
    "Eq NotEq",
    "NotEq Eq",
    "Is IsNot",
    "IsNot Is",
)
OPERATORS = frozenset(
    f"core/{name}"
    for name in (
        "AddNot",
        "NumberReplacer",
        "ReplaceAndWithOr",
        "ReplaceOrWithAnd",
        "ReplaceTrueWithFalse",
        "ReplaceFalseWithTrue",
        "ReplaceBreakWithContinue",
        "ReplaceContinueWithBreak",
        "ZeroIterationForLoop",
        "ReplaceUnaryOperator_USub_UAdd",
        "ReplaceUnaryOperator_Delete_Not",
        *(f"ReplaceBinaryOperator_{a}_{b}" for a, b in map(str.split, BINARY)),
        *(f"ReplaceComparisonOperator_{a}_{b}" for a, b in map(str.split, COMPARED)),
    )
)


class Mutant(Struct, frozen=True):
    """One change to one module.

    Attributes:
        module: dotted name.
        line: where, from 1.
        what: the change, in a line.
        source: the module's text with it.
        constant: whether it is a constant that was changed.
    """

    module: str
    line: int
    what: str
    source: str
    constant: bool

    @property
    def key(self) -> str:
        """What names it in the list of those explained."""
        return f"{self.module.removeprefix('ivory_quilt.core.')}: {self.what}"


def modules(rooms: tuple[str, ...]) -> list[Path]:
    """Return the modules of rooms, in order."""
    return [p for room in rooms for p in sorted((CORE / room).rglob("*.py")) if p.stem[0] != "_"]


def dotted(path: Path) -> str:
    """Return a module's name."""
    return ".".join(path.relative_to(SOURCE).with_suffix("").parts)


def constants(path: Path) -> list[Mutant]:
    """Return every constant of a module made larger and smaller."""
    text = path.read_text()
    lines = text.splitlines(keepends=True)
    spans = []
    for node in ast.parse(text).body:
        if isinstance(node, ast.Assign | ast.AnnAssign) and node.value is not None:
            spans.append(node)
        elif isinstance(node, ast.ClassDef):
            spans += [n for n in node.body if isinstance(n, ast.AnnAssign) and n.value is not None]
    found = []
    for span in spans:
        for node in ast.walk(span.value):
            number = isinstance(node, ast.Constant) and type(node.value) in (int, float)
            if not number or node.value == 0 or node.lineno != node.end_lineno:
                continue
            row = lines[node.lineno - 1].encode()
            name = ast.unparse(getattr(span, "target", None) or span.targets[0])
            for value in _others(node.value):
                new = row[: node.col_offset] + f"{value!r}".encode() + row[node.end_col_offset :]
                changed = [*lines]
                changed[node.lineno - 1] = new.decode()
                what = f"{name}: {node.value!r} -> {value!r}"
                found.append(Mutant(dotted(path), node.lineno, what, "".join(changed), True))
    return found


def _others(value: float) -> tuple[float, float]:
    if isinstance(value, int):
        return value + max(1, round(0.3 * value)), value - max(1, round(0.3 * value))
    return round(value * FACTOR, 9), round(value / FACTOR, 9)


def code(path: Path) -> list[tuple[str, int, Path]]:
    """Return (operator, occurrence, module) of every change that is possible in functions."""
    text = path.read_text()
    tree = get_ast(text)
    allowed = _lines_of_code(text)
    found = []
    for name in sorted(operator_names()):
        if name not in OPERATORS:
            continue
        operator = get_operator(name)()
        occurrence = 0
        for node in ast_nodes(tree):
            for (row, column), _ in operator.mutation_positions(node):
                if row in allowed and not _in_annotation(allowed[row], row, column):
                    found.append((name, occurrence, path))
                occurrence += 1
    return found


def _lines_of_code(text: str) -> dict[int, list[ast.expr]]:
    """Return the lines of functions' bodies, but for assertions, with the annotations there."""
    tree = ast.parse(text)
    allowed: dict[int, list[ast.expr]] = {}
    for function in ast.walk(tree):
        if isinstance(function, ast.FunctionDef):
            notes = [a.annotation for a in ast.walk(function.args) if isinstance(a, ast.arg)]
            notes += [n.annotation for n in ast.walk(function) if isinstance(n, ast.AnnAssign)]
            notes += [function.returns]
            for row in range(function.body[0].lineno, (function.end_lineno or 0) + 1):
                allowed.setdefault(row, []).extend(n for n in notes if n is not None)
    for node in ast.walk(tree):
        if isinstance(node, ast.Assert):
            for row in range(node.lineno, (node.end_lineno or 0) + 1):
                allowed.pop(row, None)
    return allowed


def _in_annotation(notes: list[ast.expr], row: int, column: int) -> bool:
    return any(
        (n.lineno, n.col_offset) <= (row, column) <= (n.end_lineno or 0, n.end_col_offset or 0)
        for n in notes
    )


def made(name: str, occurrence: int, path: Path) -> Mutant | None:
    """Carry one change to code out; None for one that changes nothing."""
    text = path.read_text()
    source = mutate_code(text, get_operator(name)(), occurrence)
    if source is None or source == text:
        return None
    old, new = text.splitlines(), source.splitlines()
    at = next((k for k, (a, b) in enumerate(zip(old, new, strict=False)) if a != b), 0)
    if _words(old[at]) == _words(new[at]):
        return None
    what = f"{name.rpartition('/')[2]}: {old[at].strip()} -> {new[at].strip()}"
    return Mutant(dotted(path), at + 1, what, source, False)


def _words(line: str) -> list[str]:
    try:
        return [t.string for t in tokenize.generate_tokens(StringIO(line.strip()).readline)]
    except (tokenize.TokenError, IndentationError):
        return line.split()


def sample(rooms: tuple[str, ...], count: int, seed: int) -> list[Mutant]:
    """Return `count` changes to code of each room, drawn by a seed; all for 0."""
    drawn = []
    for room in rooms:
        possible = [c for path in modules((room,)) for c in code(path)]
        random.Random(f"{seed} {room}").shuffle(possible)
        found: list[Mutant] = []
        for one in possible:
            if count and len(found) == count:
                break
            mutant = made(*one)
            if mutant is not None:
                found.append(mutant)
        drawn += found
    return drawn
