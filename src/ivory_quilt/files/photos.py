"""Photos of the journal: copied beside the project, never only linked, each once."""

import re
from hashlib import sha256
from pathlib import Path

from ivory_quilt.core.errors import InputError
from ivory_quilt.files.atomic import write_atomic

KINDS = (".jpg", ".jpeg", ".png", ".webp")
MOST_BYTES = 60 * 1024 * 1024
NAME = re.compile(r"[0-9a-f]{24}\.(jpg|jpeg|png|webp)")


def photo_folder(project: Path | None, data: Path) -> Path:
    """Return where a project's photos are: beside its file, or with the shop while it has none."""
    if project is None:
        return data / "photos"
    return project.with_name(f"{project.stem} photos")


def keep_photo(source: Path, folder: Path) -> str:
    """Copy a picture into a folder; return its name there, which its content gives it.

    Raises:
        InputError: no picture, too large, or it cannot be copied; nothing is half written.
    """
    kind = source.suffix.lower()
    if kind not in KINDS:
        raise InputError(source.name, f"'{kind}' is no photo", ", ".join(KINDS))
    try:
        if source.stat().st_size > MOST_BYTES:
            size = f"{source.stat().st_size / 1e6:.0f} MB"
            raise InputError(source.name, size, f"at most {MOST_BYTES / 1e6:.0f} MB")
        data = source.read_bytes()
    except OSError as error:
        raise InputError(source.name, f"it cannot be read: {error}", "a photo") from error
    if not _is_picture(data):
        raise InputError(source.name, "it is no picture, or damaged", ", ".join(KINDS))
    name = f"{sha256(data).hexdigest()[:24]}{kind}"
    place = folder / name
    if not place.exists():
        folder.mkdir(parents=True, exist_ok=True)
        write_atomic(place, data)
    return name


def _is_picture(data: bytes) -> bool:
    return data.startswith((b"\xff\xd8\xff", b"\x89PNG\r\n\x1a\n")) or (
        data[:4] == b"RIFF" and data[8:12] == b"WEBP"
    )


def move_photos(before: Path, after: Path, names: tuple[str, ...]) -> None:
    """Copy photos to the folder of a project that was saved elsewhere; those there stay."""
    for name in names:
        source = before / name
        if NAME.fullmatch(name) and source.is_file() and not (after / name).exists():
            after.mkdir(parents=True, exist_ok=True)
            write_atomic(after / name, source.read_bytes())
