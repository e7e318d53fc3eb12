"""Where the demo suit's groups are worn on the lamplighter."""

from ivory_quilt.core.formup.choices import GroupForm, Worn
from ivory_quilt.core.measure.body import BodyPart

HEAD, TORSO, SHIN = BodyPart.HEAD, BodyPart.TORSO, BodyPart.SHIN
UPPER, FORE = BodyPart.UPPER_ARM, BodyPart.FOREARM

WORN = {
    "wing-case": Worn(TORSO, 0.38, 148),
    "wing-case-under-plate": Worn(TORSO, 0.5, 122),
    "wing-hinge": Worn(TORSO, 0.95, 150),
    "dorsal-ridge": Worn(TORSO, 0.5, 180),
    "scutellum": Worn(TORSO, 0.98, 180),
    "belly-band-1": Worn(TORSO, 0.68, 0),
    "belly-band-2": Worn(TORSO, 0.58, 0),
    "belly-band-3": Worn(TORSO, 0.48, 0),
    "belly-band-4": Worn(TORSO, 0.38, 0),
    "belly-band-5": Worn(TORSO, 0.28, 0),
    "belt-backing": Worn(TORSO, 0.17, 0),
    "belt-lozenge": Worn(TORSO, 0.1, 24),
    "shoulder-cap-crown": Worn(UPPER, 0.97, 90),
    "shoulder-lame": Worn(UPPER, 0.72, 90),
    "shoulder-rim": Worn(UPPER, 0.62, 90),
    "forearm-cuff": Worn(FORE, 0.45, 90),
    "forearm-lame": Worn(FORE, 0.82, 90),
    "elbow-cup": Worn(FORE, 1.0, 180),
    "hand-plate": Worn(FORE, -0.1, 90),
    "shin-cuff": Worn(SHIN, 0.45, 0),
    "shin-ridge": Worn(SHIN, 0.55, 0),
    "knee-cup": Worn(SHIN, 1.0, 0),
    "knee-lame": Worn(SHIN, 0.87, 0),
    "thigh-plate": Worn(BodyPart.THIGH, 0.5, 12),
    "mandible": Worn(HEAD, 1.05, 62),
    "mandible-root": Worn(HEAD, 0.62, 78),
    "eye-bezel": Worn(HEAD, 0.55, 44),
    "crest-base": Worn(HEAD, 0.78, 0),
    "horn-spine": Worn(HEAD, 1.2, 0),
    "collar-front": Worn(TORSO, 0.93, 0),
    "collar-back": Worn(TORSO, 0.93, 180),
    "wing-edging": Worn(TORSO, 0.12, 148),
    "small-spike": Worn(UPPER, 1.02, 60),
    "back-spike": Worn(TORSO, 0.8, 180),
}

FORMS = tuple(GroupForm(piece, worn=worn) for piece, worn in WORN.items())
