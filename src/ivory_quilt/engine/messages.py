"""What goes through the pipe between whoever asks and an engine's process, as msgpack."""

from decimal import Decimal

import msgspec

from ivory_quilt.core.formup.wearing import Nearness
from ivory_quilt.core.measure.wearer import Wearer
from ivory_quilt.core.nesting.job import LayResult, Placement, RollSpec
from ivory_quilt.core.rendering.scene import View
from ivory_quilt.engine.forming import AssemblyMessage, ShapeMessage
from ivory_quilt.engine.scenes import FramingMessage, GarmentMessage, SceneMessage

Rings = tuple[bytes, ...]
MOST_HANDS, MOST_SCENES = 4, 8  # that a process keeps: those handed over last


class _Message(msgspec.Struct, array_like=True, tag=True):
    pass


class PieceMessage(msgspec.Struct, array_like=True):
    """A piece of a job, with its shape's key."""

    id: str
    shape: bytes
    quantity: int
    rotations: tuple[float, ...] | None
    mirror: bool
    fixed: tuple[Placement, ...]
    group: str | None
    hidden: bool
    worth: float


class SheetMessage(msgspec.Struct, array_like=True):
    """A kind of sheet of a job, with the keys of its shape and its flaws'."""

    id: str
    shape: bytes
    quantity: int | None
    cost: Decimal
    margin: float
    defects: tuple[bytes, ...]


class JobMessage(msgspec.Struct, array_like=True):
    """A job whose shapes are keys."""

    pieces: list[PieceMessage]
    sheets: list[SheetMessage]
    rolls: tuple[RollSpec, ...]
    gap: float


# To the engine


class SendShapes(_Message, tag="shapes"):
    """Shapes that are named by their keys from now on: rings of doubles, the outline first."""

    shapes: list[tuple[bytes, Rings]]


class ForgetShapes(_Message, tag="forget"):
    """All shapes so far are not named again."""


class StartLaying(_Message, tag="lay"):
    """Lay a job, in one go: one at a time for each process."""

    ticket: int
    job: JobMessage
    seed: int
    seconds: float | None
    steps: int | None
    target: Decimal | None
    start: tuple[Placement, ...]
    threads: int


class StopLaying(_Message, tag="stop"):
    """Stop a laying at once; what was found has been told."""

    ticket: int


class TakeUp(_Message, tag="take-up"):
    """Take one part of a layout into a hand; `hand` names it in what is asked of it later."""

    hand: int
    job: JobMessage
    placements: tuple[Placement, ...]
    index: int


class AskHand(_Message, tag="hand"):
    """Ask a hand where its part may lie.

    `how`: "near" or "dropped" from where it is `held`; "left", "right", "up", "down": pushed that
    way; "onto": on the sheet that it is held on, wherever it fits.
    """

    ticket: int
    hand: int
    how: str
    held: Placement


class HoldScene(_Message, tag="scene"):
    """Keep a solid's scene; `number` names it in what is painted of it later.

    What was kept under that number is forgotten, here and in the two below.
    """

    number: int
    scene: SceneMessage


class HoldForm(_Message, tag="hold-form"):
    """Keep the scene of a formed assembly, turned to the eye or as another one is."""

    number: int
    shape: ShapeMessage
    seen_as: ShapeMessage | None


class HoldSuit(_Message, tag="hold-suit"):
    """Keep the scene of a figure with what is worn on it."""

    number: int
    wearer: Wearer
    garments: tuple[GarmentMessage, ...]


class AskFraming(_Message, tag="framing"):
    """Ask how a scene that is kept fills a picture."""

    ticket: int
    number: int


class AskSuit(_Message, tag="suit"):
    """Ask what lies between groups on a figure that is kept."""

    ticket: int
    number: int


class PaintScene(_Message, tag="paint"):
    """Paint a scene as it is seen."""

    ticket: int
    number: int
    view: View


class AskLeftovers(_Message, tag="leftovers"):
    """Ask for the empty places of the sheets in use."""

    ticket: int
    job: JobMessage
    placements: tuple[Placement, ...]


class AskForm(_Message, tag="form"):
    """Ask for the shape of an assembly; a newer one takes its place, and `StopLaying` ends it.

    `quick` asks for a coarse one, on from the last that was; `laid` also for how each panel would
    lie if it were cut as it stands; `finer` lets triangles be smaller where foam curves tightly.
    """

    ticket: int
    assembly: AssemblyMessage
    seconds: float
    quick: bool = False
    laid: bool = False
    finer: bool = False


ToEngine = (
    SendShapes
    | ForgetShapes
    | StartLaying
    | StopLaying
    | TakeUp
    | AskHand
    | HoldScene
    | HoldForm
    | HoldSuit
    | AskFraming
    | AskSuit
    | PaintScene
    | AskLeftovers
    | AskForm
)


# From the engine


class Preparing(_Message, tag="preparing"):
    """Kernels are being compiled: `share` of the work is done, about `seconds` more to go."""

    share: float
    seconds: float


class EngineReady(_Message, tag="ready"):
    """The kernels are there."""


class LaidBetter(_Message, tag="better"):
    """A better layout of a job."""

    ticket: int
    result: LayResult


class LayingFor(_Message, tag="for"):
    """A job has been laid for so many seconds."""

    ticket: int
    seconds: float


class LayingEnded(_Message, tag="ended"):
    """A laying came to its end: the last and best result, unless it was stopped before it began."""

    ticket: int
    result: LayResult | None


class Refused(_Message, tag="refused"):
    """What was asked makes no sense: the words of an InputError."""

    ticket: int
    where: str
    problem: str
    expected: str


class Failed(_Message, tag="failed"):
    """What was asked failed in a way that nobody foresaw; the traceback."""

    ticket: int
    report: str


class TookTooMuch(_Message, tag="memory"):
    """What was asked takes more memory than the process may have."""

    ticket: int


class HandAnswer(_Message, tag="at"):
    """Where a hand's part may lie, or nowhere."""

    ticket: int
    placement: Placement | None


class Painted(_Message, tag="painted"):
    """A picture: blue, green, red and alpha of each pixel, row by row; none of an unknown scene."""

    ticket: int
    pixels: bytes | None


class FramingAnswer(_Message, tag="framed"):
    """How a scene fills a picture; nothing of one that is not known."""

    ticket: int
    framing: FramingMessage | None


class SuitAnswer(_Message, tag="dressed"):
    """What lies between groups on a figure and how that fills a picture, or why there is none."""

    ticket: int
    framing: FramingMessage | None
    nearness: Nearness | None
    problem: str = ""


class LeftoversAnswer(_Message, tag="left"):
    """The empty places: sheet, copy, and the box (x0, y0, x1, y1)."""

    ticket: int
    rooms: tuple[tuple[str, int, tuple[float, float, float, float]], ...]


class FormAnswer(_Message, tag="formed"):
    """The shape, or why there is none; neither where a newer assembly was asked for."""

    ticket: int
    shape: ShapeMessage | None
    problem: str = ""


FromEngine = (
    Preparing
    | EngineReady
    | LaidBetter
    | LayingFor
    | LayingEnded
    | Refused
    | Failed
    | TookTooMuch
    | HandAnswer
    | Painted
    | FramingAnswer
    | SuitAnswer
    | LeftoversAnswer
    | FormAnswer
)

_encoder = msgspec.msgpack.Encoder()
_to_engine: msgspec.msgpack.Decoder[ToEngine] = msgspec.msgpack.Decoder(ToEngine)
_result: msgspec.msgpack.Decoder[LayResult] = msgspec.msgpack.Decoder(LayResult)
_from_engine: msgspec.msgpack.Decoder[FromEngine] = msgspec.msgpack.Decoder(FromEngine)


def encode(message: ToEngine | FromEngine) -> bytes:
    """Return a message as it goes through the pipe."""
    return _encoder.encode(message)


def encode_result(result: LayResult) -> bytes:
    """Return a result on its own, as it comes from another machine."""
    return _encoder.encode(result)


def decode_result(data: bytes) -> LayResult:
    """Read a result that came on its own."""
    return _result.decode(data)


def decode_to_engine(data: bytes) -> ToEngine:
    """Read a message in the engine's process."""
    return _to_engine.decode(data)


def decode_from_engine(data: bytes) -> FromEngine:
    """Read an engine's message."""
    return _from_engine.decode(data)
