"""Rules of shapes that foam is bent, domed or built into."""

from ivory_quilt.core.calculators.calculator import Calculator, length, lengths, number
from ivory_quilt.core.shapes import rules

NEUTRAL = number("neutral", "neutral line's depth as a share of thickness", 0.5)
NO_THICKNESS = length("thickness", "of the foam", 0.0)

SHAPES = (
    Calculator(
        "wrap",
        "Length of foam around a girth",
        (
            length("girth", "what it goes around"),
            length("ease", "room to move", 0.0),
            length("thickness", "of the foam"),
            NEUTRAL,
            number("angle", "how far around, degrees", 360.0),
        ),
        rules.wrap,
    ),
    Calculator(
        "cone",
        "Flat sector of a cuff or cone section",
        (
            length("diameter_1", "inside, at one end"),
            length("diameter_2", "inside, at the other end"),
            length("height", "along the axis"),
            NO_THICKNESS,
            NEUTRAL,
        ),
        rules.cone,
    ),
    Calculator(
        "gores",
        "Gores of a sphere",
        (length("radius", "of the sphere, on the neutral line"), number("count", "how many gores")),
        rules.gores,
    ),
    Calculator(
        "dish",
        "Blank of a dished disc, and its strain",
        (length("base_radius", "of the rim"), length("height", "of the dome")),
        rules.dish,
    ),
    Calculator(
        "spike",
        "Faces of a spike",
        (
            number("sides", "how many faces"),
            length("base", "one side of the base"),
            length("height", "base to tip"),
        ),
        rules.spike,
    ),
    Calculator(
        "horn-layers",
        "Thickness of a horn built of layers",
        (length("spine", "the middle layer"), lengths("sides", "layers on each side, inner first")),
        rules.horn_layers,
    ),
    Calculator(
        "edge-roll",
        "Length of a strip rolled along edges",
        (lengths("lengths", "the edges"),),
        rules.edge_roll,
    ),
    Calculator(
        "strap",
        "Cut size of a cloth strap",
        (
            length("finished_width", "of the strap"),
            length("length", "between buckle and fixing"),
            length("turn_back", "folded back", 0.0),
            length("tail", "free end", 0.0),
        ),
        rules.strap,
    ),
)
