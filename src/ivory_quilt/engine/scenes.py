"""Scenes on their way to an engine's process, and how it keeps those that it makes itself."""

import threading
from collections.abc import Callable

import msgspec
import numpy as np

from ivory_quilt.core.formup.choices import Worn
from ivory_quilt.core.formup.skin import solid_of_form
from ivory_quilt.core.formup.wearing import Garment, Nearness, put_on
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.measure.wearer import Wearer
from ivory_quilt.core.rendering.scene import Framing, Scene
from ivory_quilt.engine.forming import ShapeMessage, shape_from, shape_message

Spot = tuple[float, float, float]


class FramingMessage(msgspec.Struct, array_like=True):
    """How a scene fills a picture."""

    middle: Spot
    reach: float
    thickness: tuple[float, ...]


class SceneMessage(msgspec.Struct, array_like=True):
    """A scene: arrays are bytes of doubles and 32-bit whole numbers, as `Scene` has them."""

    corners: bytes
    normals: bytes
    layer: bytes
    points: bytes
    ends: bytes
    framing: FramingMessage


class GarmentMessage(msgspec.Struct, array_like=True):
    """A formed group that is to be worn."""

    name: str
    shape: ShapeMessage
    worn: Worn
    sides: tuple[int, ...]
    drawn: int


def scene_message(scene: Scene) -> SceneMessage:
    """Return a scene as it goes through the pipe."""
    return SceneMessage(
        scene.corners.tobytes(),
        scene.normals.tobytes(),
        scene.layer.astype(np.int32).tobytes(),
        scene.points.tobytes(),
        scene.ends.tobytes(),
        framing_message(scene.framing),
    )


def scene_from(message: SceneMessage) -> Scene:
    """Return the scene that came through the pipe."""

    def doubles(data: bytes) -> Array:
        return np.frombuffer(data, dtype=np.float64).reshape(-1, 3)

    return Scene(
        doubles(message.corners),
        doubles(message.normals),
        np.frombuffer(message.layer, dtype=np.int32),
        doubles(message.points),
        np.frombuffer(message.ends, dtype=np.int32).reshape(-1, 2),
        framing_from(message.framing),
    )


def framing_message(framing: Framing) -> FramingMessage:
    """Return a framing as it goes through the pipe."""
    x, y, z = framing.middle.tolist()
    return FramingMessage((x, y, z), framing.reach, framing.thickness)


def framing_from(message: FramingMessage) -> Framing:
    """Return the framing that came through the pipe."""
    return Framing(np.array(message.middle), message.reach, message.thickness)


def garment_message(garment: Garment) -> GarmentMessage:
    """Return a garment as it goes through the pipe."""
    shape = shape_message(garment.shape)
    return GarmentMessage(garment.name, shape, garment.worn, garment.sides, garment.drawn)


def garment_from(message: GarmentMessage) -> Garment:
    """Return the garment that came through the pipe."""
    shape = shape_from(message.shape)
    return Garment(message.name, shape, message.worn, message.sides, message.drawn)


class KeptScene:
    """A scene that is made when it is first needed, by whichever thread that is."""

    def __init__(self, make: Callable[[], tuple[Scene, Nearness | None]]) -> None:
        """Keep what `make` will return: a scene, and of a figure what lies between its groups."""
        self._make: Callable[[], tuple[Scene, Nearness | None]] | None = make
        self._made: tuple[Scene, Nearness | None] | None = None
        self._lock = threading.Lock()

    @property
    def scene(self) -> Scene:
        """The scene.

        Raises:
            InputError: it cannot be made of what was handed over.
        """
        return self._both()[0]

    @property
    def nearness(self) -> Nearness | None:
        """What lies between groups.

        Raises:
            InputError: as `scene`.
        """
        return self._both()[1]

    def _both(self) -> tuple[Scene, Nearness | None]:
        with self._lock:
            if self._made is None:
                assert self._make is not None
                self._made = self._make()
                self._make = None  # with what was handed over
            return self._made


def kept_scene(message: SceneMessage) -> KeptScene:
    """Return a scene that was handed over."""
    return KeptScene(lambda: (scene_from(message), None))


def kept_form(shape: ShapeMessage, seen_as: ShapeMessage | None) -> KeptScene:
    """Return the scene of a formed assembly."""

    def make() -> tuple[Scene, None]:
        other = shape_from(seen_as) if seen_as is not None else None
        return Scene.of(solid_of_form(shape_from(shape), other)), None

    return KeptScene(make)


def kept_suit(wearer: Wearer, garments: tuple[GarmentMessage, ...]) -> KeptScene:
    """Return the scene of a figure with garments on it."""

    def make() -> tuple[Scene, Nearness]:
        solid, nearness = put_on(wearer, tuple(map(garment_from, garments)))
        return Scene.of(solid), nearness

    return KeptScene(make)
