"""What a reckoning's formula comes to, read as a maker reads it: 2 × 6 × tan 40°."""

import ast
import math
import re

SIGNS = {"×": "*", "÷": "/", "−": "-", "²": "**2", "π": "pi", "√": "sqrt", "\u2009": " "}
KNOWN = {
    "pi": math.pi,
    "sqrt": math.sqrt,
    "tan": math.tan,
    "cos": math.cos,
    "sin": math.sin,
    "atan": math.atan,
}


def evaluated(formula, degree=math.pi / 180):
    """Return the formula's value, None for one that says it in words; ° is `degree`."""
    text = re.sub(r"(\d)\s*(?:mm²|mm)", r"\1", formula.partition(" = ")[0])
    text = re.sub(r"(\d)π", r"(\1*π)", text)
    for sign, ours in SIGNS.items():
        text = text.replace(sign, ours)
    text = re.sub(r"\b(tan|sin|cos) (-?[\d.]+°)", r"\1(\2)", text)
    text = re.sub(r"(\d) (tan|sin|cos)", r"\1 * \2", text)
    text = re.sub(r"([\d.]+)°", rf"(\1*{degree!r})", text)
    try:
        tree = ast.parse(text.strip(), mode="eval")
    except SyntaxError:
        return None
    for node in ast.walk(tree):
        if isinstance(node, ast.Name) and node.id not in KNOWN:
            return None
    if not any(isinstance(n, ast.BinOp | ast.Call) for n in ast.walk(tree)):
        return None
    return float(eval(compile(tree, "formula", "eval"), {"__builtins__": {}}, KNOWN))


def agrees(step):
    """Return whether a step's formula comes to its value; None where it is in words."""
    if not isinstance(step.value, int | float):
        return None
    meant = {step.value, step.value / 100 if step.unit == "%" else step.value}
    if step.unit == "°":
        meant.add(math.radians(step.value))
    found = {evaluated(step.formula), evaluated(step.formula, 1.0)} - {None}
    if not found:
        return None
    # Numbers in formulas are rounded as they are shown.
    largest = max((float(n) for n in re.findall(r"\d+\.?\d*", step.formula)), default=0.0)
    return any(abs(f - m) <= 2e-3 * abs(m) + 2e-4 * largest + 0.01 for f in found for m in meant)
