"""Rules of heat, bevels and layers: what a flat piece must be so that the formed one is true."""

from ivory_quilt.core.calculators.calculator import Calculator, area, length, lengths, number
from ivory_quilt.core.calculators.shapes import NEUTRAL
from ivory_quilt.core.edges import bevels, grooves
from ivory_quilt.core.forming import bend_allowance
from ivory_quilt.core.forming import shrink as shrinking
from ivory_quilt.core.shapes import rules
from ivory_quilt.core.stacks import case, coverings, layers, thickness
from ivory_quilt.core.stacks import lengths as shaped
from ivory_quilt.core.stock import consumables

ANGLE = number("angle", "how far around, degrees")
INSIDE = length("inside_radius", "of the inner face")

BUILDING = (
    Calculator(
        "bend",
        "Flat length of a bend",
        (ANGLE, INSIDE, length("thickness", "of the foam"), NEUTRAL),
        bend_allowance.bend,
    ),
    Calculator(
        "neutral-from-coupon",
        "Neutral line from a bent strip",
        (
            ANGLE,
            INSIDE,
            length("thickness", "of the foam"),
            length("flat_length", "of the strip before it was bent"),
        ),
        bend_allowance.neutral_from_coupon,
    ),
    Calculator(
        "thickness-change",
        "The same bend in another thickness",
        (ANGLE, INSIDE, length("old", "thickness now"), length("new", "thickness then"), NEUTRAL),
        bend_allowance.thickness_change,
    ),
    Calculator(
        "dowel",
        "Length of a dowel around a bend",
        (
            ANGLE,
            INSIDE,
            length("thickness", "of the foam"),
            length("size", "diameter or side of the dowel"),
            number("middle", "height of its own middle, share of its size", 0.5),
            number("inside", "1 on the inner face, 0 on the outer one", 0.0),
        ),
        shaped.dowel,
    ),
    Calculator(
        "sewn-case",
        "Sewn case of a box",
        (
            length("width", "of the core"),
            length("height", "of the core"),
            length("thickness", "of the core"),
            length("cloth", "thickness of the cloth", 1.0),
            length("ease", "of the case", 0.0),
            length("allowance", "for the seams", 10.0),
        ),
        case.box_case,
    ),
    Calculator(
        "shrink",
        "Cut length before heat shrinks it",
        (length("length", "wanted after heat"), number("shrink_percent", "of what was cut")),
        shrinking.shrink,
    ),
    Calculator(
        "coupon",
        "Shrink from test strips",
        (lengths("before", "each strip before heat"), lengths("after", "the same after heat")),
        shrinking.coupon,
    ),
    Calculator(
        "mitre",
        "Bevel of two equal edges",
        (number("dihedral", "between the outer faces, through the foam, degrees"),),
        bevels.mitre,
    ),
    Calculator(
        "mitre-unequal",
        "Bevels of two thicknesses",
        (
            number("dihedral", "between the outer faces, through the foam, degrees"),
            length("thickness_1", "of the first"),
            length("thickness_2", "of the second"),
        ),
        bevels.mitre_unequal,
    ),
    Calculator(
        "flare",
        "Outline of a bevel on the far face",
        (length("thickness", "of the foam"), number("angle", "from a square cut, degrees")),
        bevels.flare,
    ),
    Calculator(
        "undercut",
        "V groove for a fold",
        (
            number("fold", "by how much it folds, degrees"),
            length("thickness", "of the foam"),
            length("skin", "left uncut", 0.0),
        ),
        grooves.undercut,
    ),
    Calculator(
        "blade",
        "Bevel of a blade",
        (length("thickness", "of the blade"), length("width", "of each bevel, along the face")),
        grooves.blade,
    ),
    Calculator(
        "trench",
        "Trench for a rod between layers",
        (length("rod", "its diameter"), number("layers", "that share it", 2.0)),
        grooves.trench,
    ),
    Calculator(
        "curved-layers",
        "Lengths of layers glued on a form",
        (ANGLE, INSIDE, lengths("thicknesses", "inner layer first"), NEUTRAL),
        layers.curved_layers,
    ),
    Calculator(
        "drift",
        "Drift of parts on a curved base",
        (
            ANGLE,
            INSIDE,
            length("under", "thickness of the base"),
            length("over", "thickness of what lies on it"),
            NEUTRAL,
        ),
        layers.drift,
    ),
    Calculator(
        "edge-wrap",
        "Strip around a stack's edge",
        (
            length("perimeter", "around the stack"),
            length("stack", "its thickness"),
            length("stretch", "that the strip is cut short by", 2.5),
            length("overhang", "past the stack", 0.0),
        ),
        rules.edge_wrap,
    ),
    Calculator(
        "cover",
        "Cover of a sandwich",
        (
            length("width", "of the core"),
            length("height", "of the core"),
            length("core", "its thickness"),
            length("margin", "pressed together all around"),
        ),
        coverings.cover,
    ),
    Calculator(
        "make-thickness",
        "Ways to a thickness that is not at hand",
        (length("wanted", "the thickness"), lengths("available", "what the shop has")),
        thickness.make_thickness,
    ),
    Calculator(
        "cement",
        "Cement for joints",
        (
            area("area", "of the joint: mm², or with its unit (0.5 m2)"),
            number("faces", "that are brushed", 2.0),
            number("coats", "on each face", 1.0),
            number("coverage", "m² that a litre covers in one coat"),
        ),
        consumables.cement,
    ),
    Calculator(
        "coating",
        "Primer, dip or paint for a face",
        (
            area("area", "to cover: mm², or with its unit (0.5 m2)"),
            number("coats", "one over the other", 1.0),
            number("coverage", "m² that a litre covers in one coat"),
            number("loss_percent", "sprayed past or left in the pot", 0.0),
        ),
        consumables.coating,
    ),
)
