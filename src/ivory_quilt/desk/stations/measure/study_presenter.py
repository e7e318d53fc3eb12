"""What the reference picture's place does, without a widget."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

import numpy as np

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.document.wearers import put_study
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Point
from ivory_quilt.core.measure.study import Pictured, Study
from ivory_quilt.core.measure.wearer import Measure, MeasureKind, spot
from ivory_quilt.core.reading.tracing.picture import Picture
from ivory_quilt.core.reckoning import Reckoning
from ivory_quilt.core.record import replace
from ivory_quilt.core.units import parse_scalar, show_number, typed_length
from ivory_quilt.desk.stations.measure.presenter import MeasurePresenter
from ivory_quilt.desk.work import Background, at_once
from ivory_quilt.files.atomic import read_bytes, shown_name

KNOWN = "known"
LAID = "Line over the picture"
USUAL = ("forearm-hand", "head-height", "height", "shoulders", "knee-height", "shoe")


def load_grey(path: Path) -> Picture:
    """Return a picture's pixels in grey; may run anywhere.

    Raises:
        InputError: it is no picture that can be read.
    """
    from ivory_quilt.files.picture_read import load_picture  # it loads the picture library

    return load_picture(read_bytes(path), shown_name(path.name)).grey


class StudyPresenter:
    """The project's reference picture, its lines and sizes."""

    def __init__(
        self, presenter: MeasurePresenter, reader: Callable[[], Background] = lambda: at_once
    ) -> None:
        """Work on the project of `presenter`; pictures are loaded on what `reader` returns."""
        self._measure, self._reader = presenter, reader
        self.session = presenter.session
        self.grey: np.ndarray | None = None
        self._moving: tuple[str, int, Point] | None = None
        self._loaded = ""

    def forget(self) -> None:
        """Let go of the picture: another project is open."""
        self.grey, self._moving, self._loaded = None, None, ""

    @property
    def study(self) -> Study | None:
        """The project's study; the last one, when there are several."""
        studies = self.session.project.studies
        return studies[-1] if studies else None

    @property
    def ready(self) -> bool:
        """Whether sizes can be worked out."""
        return self.study is not None and self.study.ready

    @property
    def known(self) -> Pictured | None:
        """The line over what is known, as it lies now."""
        study = self.study
        return self._moved(study.known) if study is not None and study.known else None

    @property
    def known_name(self) -> str:
        """What is known, in words."""
        return self.study.known.name if self.study is not None and self.study.known else ""

    @property
    def lines(self) -> tuple[Pictured, ...]:
        """The lines over pieces, as they lie now."""
        return tuple(self._moved(k) for k in self.study.lines) if self.study is not None else ()

    def all_lines(self) -> tuple[Pictured, ...]:
        """Return the known line and the others."""
        return (*((self.known,) if self.known else ()), *self.lines)

    def advice(self) -> str:
        """Return what to do next."""
        study = self.study
        if study is None:
            return "Open a picture of the armour as it is worn, seen square on."
        if study.known is None:
            return "Drag a line over something known: forearm and hand, head height, a shoe."
        if not study.real:
            return "Enter its actual length, or take it from the wearer's sheet."
        if not study.lines:
            return "Drag lines over the pieces wanted; their real sizes follow."
        return "What is nearer to the camera looks larger: keep to one plane."

    # The picture

    def open(self, path: Path) -> None:
        """Begin a study of a picture, once it is loaded."""
        self._reader()(partial(load_grey, path), partial(self._have_new, path))

    def _have_new(self, path: Path, grey: Picture | None, error: Exception | None) -> None:
        if grey is None:
            self.session.tell(str(error), "cut")
            return
        self.grey, self._loaded = grey, str(path)
        study = Study(str(path))
        self.session.edit(f"Picture {shown_name(path.name)}", lambda p: put_study(p, study))

    def reload(self) -> None:
        """Load the study's picture again, if it is where it was."""
        study = self.study
        if study is None or study.picture == self._loaded:
            return
        self._loaded, self.grey = study.picture, None
        path = Path(study.picture)
        if path.is_file():
            self._reader()(partial(load_grey, path), partial(self._have_again, study.picture))

    def _have_again(self, picture: str, grey: Picture | None, error: Exception | None) -> None:
        if grey is None:
            self.session.tell(str(error), "heat")
        elif picture == self._loaded:
            self.grey = grey
            self.session.changed.emit()

    # Lines

    def lay(self, start: Point, stop: Point) -> None:
        """Lay a line: the first over what is known, the others over pieces."""
        study = self.study
        if study is None:
            return
        if study.known is None:
            made = replace(study, known=Pictured("known", start, stop))
        else:
            made = study.with_line(Pictured(f"piece {len(study.lines) + 1}", start, stop))
        self._put(LAID, made)

    def end_at(self, at: Point, reach: float) -> tuple[str, int] | None:
        """Return (line, which end) that lies within reach of a place; the known line is "known"."""
        best: tuple[float, tuple[str, int]] | None = None
        named = [(KNOWN, self.known), *((f"line {k.name}", k) for k in self.lines)]
        for name, line in named:
            if line is None:
                continue
            for which, end in enumerate((line.start, line.stop)):
                away = float(np.hypot(end[0] - at[0], end[1] - at[1]))
                if away <= reach and (best is None or away < best[0]):
                    best = (away, (name, which))
        return best[1] if best else None

    def carry(self, name: str, which: int, at: Point) -> None:
        """Move a line's end while it is held; nothing is kept until `let_go`."""
        self._moving = (name, which, at)

    def let_go(self) -> None:
        """Keep where the held end lies."""
        study = self.study
        if study is None or self._moving is None:
            return
        lines = tuple(self._moved(k) for k in study.lines)
        known = self._moved(study.known) if study.known else None
        self._moving = None
        self._put("Move a line's end", replace(study, known=known, lines=lines))

    def _moved(self, line: Pictured) -> Pictured:
        if self._moving is None or self.study is None:
            return line
        name, which, at = self._moving
        own = KNOWN if line is self.study.known else f"line {line.name}"
        if own != name:
            return line
        return replace(line, start=at) if which == 0 else replace(line, stop=at)

    def rename(self, old: str, new: str) -> None:
        """Name a line.

        Raises:
            InputError: the name is empty or taken.
        """
        study = self.study
        if study is None:
            return
        if not new.strip() or any(k.name == new.strip() for k in study.lines):
            raise InputError("line", f"the name '{new}' is empty or taken", "a name of its own")
        lines = tuple(replace(k, name=new.strip()) if k.name == old else k for k in study.lines)
        self._put(f"Name {new.strip()}", replace(study, lines=lines))

    def drop(self, name: str) -> None:
        """Take a line away."""
        if self.study is not None:
            lines = tuple(k for k in self.study.lines if k.name != name)
            self._put(f"Delete {name}", replace(self.study, lines=lines))

    # What is known

    def say_known(self, name: str, real: str, uncertainty: str) -> None:
        """Say what the first line lies over and how long that is.

        Raises:
            InputError: it is no length.
        """
        study = self.study
        if study is None:
            return
        length = typed_length(real, where="real length")
        give = uncertainty.strip("± ")
        off = typed_length(give, where="give or take") if give else 0.0
        known = replace(study.known, name=name.strip() or "known") if study.known else None
        self._put("What is known", replace(study, known=known, real=length, uncertainty=off))

    def say_blur(self, text: str) -> None:
        """Say how far ends of lines may be off, in pixels.

        Raises:
            InputError: it is no number.
        """
        if self.study is not None:
            blur = parse_scalar(text, where="ends of lines")
            self._put("Ends of lines", replace(self.study, blur=blur))

    def usual(self) -> tuple[Measure, ...]:
        """Return the wearer's measures that pictures are scaled by, while none is taken."""
        if self.study is None or self.study.real or self.study.known is None:
            return ()
        known = {m.spot: m for m in self._measure.measured}
        return tuple(known[s] for s in USUAL if s in known)

    def take_measure(self, spot_id: str) -> None:
        """Take a measure of the wearer in sight for what is known."""
        study = self.study
        found = next((m for m in self._measure.measured if m.spot == spot_id), None)
        if study is None or found is None or study.known is None:
            return
        known = replace(study.known, name=spot(spot_id).title.lower())
        self._put(
            "What is known",
            replace(study, known=known, real=found.value, uncertainty=found.uncertainty),
        )

    @staticmethod
    def measure_words(measure: Measure) -> str:
        """Return a measure in words."""
        around = "around " if spot(measure.spot).kind is MeasureKind.GIRTH else ""
        return f"{around}{spot(measure.spot).title.lower()}, {show_number(measure.value, 1)} mm"

    # Sizes

    def known_words(self) -> str:
        """Return what the known line means."""
        study = self.study
        if study is None or study.known is None:
            return ""
        real = f": {show_number(study.real, 1)} mm" if study.real else ""
        return f"{study.known.name}{real}"

    def size_words(self, line: Pictured) -> str:
        """Return a line's real size with its uncertainty."""
        study = self._now()
        if study is None or not study.ready:
            return f"{show_number(line.pixels, 0)} px"
        try:
            size = study.size(line)
        except InputError:
            return "too short"
        return f"{show_number(size.length, 0)} ± {show_number(size.uncertainty, 0)} mm"

    def reckon(self, line: Pictured) -> Reckoning:
        """Explain a size."""
        study = self._now()
        assert study is not None
        return study.reckon(line)

    def _now(self) -> Study | None:
        """Return the study with a held end where it is."""
        return replace(self.study, known=self.known) if self.study is not None else None

    def _put(self, label: str, study: Study) -> None:
        def edit(project: Project) -> Project:
            return put_study(project, study)

        if study != self.study:
            self.session.edit(label, edit)
