"""Bring a table of emitters, with the photometry that it names, into a design."""

from pathlib import Path, PurePath

import msgspec

from gauze.core.design import Design, LooseEmitters, Purpose, StripPanel
from gauze.core.design.cavity import BoxShape, CavityShape, lit_by_reflection
from gauze.core.design.loose import LooseEmitter, MeasuredDistribution
from gauze.core.errors import FormatError
from gauze.core.formats.emitters_csv import MOST_BYTES, decode_emitters
from gauze.core.formats.ies_reading import MOST_BYTES as MOST_IES_BYTES
from gauze.core.formats.ies_reading import decode_ies
from gauze.core.layout.enclosing import cavity_around
from gauze.session.edits import USUAL_SHEET
from gauze.session.storage import read_file

TABLE_EXTENSION, PHOTOMETRY_EXTENSION = ".csv", ".ies"
_BACK, _WALLS = "matt-white-paint", "matt-white-paint"


def parse_cavity(text: str) -> CavityShape:
    """Read a cavity from words such as ``box,width_mm=400,height_mm=300,depth_mm=30``.

    Corners of a prism are pairs: ``corners_mm=0 0;100 0;50 80``.

    Raises
    ------
    FormatError
        When a word cannot be read, or the shape has no such size.
    """
    shape, *words = (word.strip() for word in text.split(","))
    sizes: dict[str, object] = {"shape": shape}
    for word in words:
        name, _, value = word.partition("=")
        sizes[name.strip()] = (
            [pair.split() for pair in value.split(";")] if name.strip() == "corners_mm" else value.strip()
        )
    try:
        cavity: CavityShape = msgspec.convert(sizes, CavityShape, strict=False)
    except msgspec.ValidationError as error:
        reason = f"{str(error)[0].lower()}{str(error)[1:]}".replace("`", "")
        raise FormatError(f"The cavity “{text}” cannot be read: {reason}. Correct it.") from None
    return cavity


def read_emitters(path: Path) -> tuple[tuple[LooseEmitter, ...], tuple[MeasuredDistribution, ...]]:
    """Read a table; the files of photometry that it names lie beside it or below.

    Raises
    ------
    StorageError, FormatError
        When a file cannot be read; every malformed row is named.
    """
    table = decode_emitters(read_file(path, MOST_BYTES))
    return table.emitters, tuple(_photometry(path.parent, name) for name in table.photometry)


def _photometry(folder: Path, name: str) -> MeasuredDistribution:
    parts = PurePath(name)
    if parts.is_absolute() or ".." in parts.parts:
        raise FormatError(f"The file “{name}” does not lie beside the table. Put it there and give its name alone.")
    return read_photometry(folder / name)


def read_photometry(path: Path) -> MeasuredDistribution:
    """Read a file of photometry as a distribution; raises as :func:`read_emitters`."""
    try:
        photometry = decode_ies(read_file(path, MOST_IES_BYTES))
    except FormatError as error:
        raise FormatError(f"“{path.name}”: {error}") from None
    return MeasuredDistribution(
        name=(photometry.name or path.stem)[:80],
        gamma_deg=tuple(photometry.gamma_deg.tolist()),
        c_deg=tuple(photometry.c_deg.tolist()),
        candela=tuple(tuple(plane) for plane in photometry.candela.tolist()),
    )


def with_emitters(
    design: Design,
    emitters: tuple[LooseEmitter, ...],
    distributions: tuple[MeasuredDistribution, ...],
    cavity: CavityShape | None = None,
) -> Design:
    """Put emitters into a design.

    One of loose emitters keeps its cavity; a strip panel becomes a box of its size where they fit in, or one around them.
    ``cavity`` goes before both.
    """
    build = design.build
    if isinstance(build, LooseEmitters):
        chosen = LooseEmitters(
            cavity=cavity or build.cavity,
            emitters=emitters,
            distributions=distributions,
            diffuser=_sheet_for(cavity or build.cavity, build.diffuser),
            back=build.back,
            walls=build.walls,
            level=build.level,
            emitter_size_mm=build.emitter_size_mm,
        )
    else:
        chosen = LooseEmitters(
            cavity=cavity
            or (_box_of(build, emitters) if isinstance(build, StripPanel) else cavity_around("box", emitters)),
            emitters=emitters,
            distributions=distributions,
            diffuser=_sheet_for(cavity, build.diffuser),
            back=build.back,
            walls=build.walls,
        )
    return msgspec.structs.replace(design, build=chosen)


def _sheet_for(cavity: CavityShape | None, diffuser: str | tuple[str, ...] | None) -> str | tuple[str, ...] | None:
    """Return the sheet where one belongs."""
    if cavity is not None and lit_by_reflection(cavity):
        return None
    return diffuser or USUAL_SHEET


def _box_of(panel: StripPanel, emitters: tuple[LooseEmitter, ...]) -> CavityShape:
    box = BoxShape(width_mm=panel.face_width_mm, height_mm=panel.face_height_mm, depth_mm=panel.depth_mm)
    fits = all(
        0 <= e.x_mm <= box.width_mm and 0 <= e.y_mm <= box.height_mm and 0 <= e.z_mm < box.depth_mm for e in emitters
    )
    return box if fits else cavity_around("box", emitters)


def new_design(
    name: str,
    emitters: tuple[LooseEmitter, ...],
    distributions: tuple[MeasuredDistribution, ...],
    cavity: CavityShape | None = None,
) -> Design:
    """Return a design of emitters alone, behind a usual sheet in a white body (both typical), to be changed by the builder."""
    chosen = cavity or cavity_around("box", emitters)
    return Design(
        name=name[:80],
        purpose=Purpose(
            use="looked_at",
            viewing_distance_mm=2000.0,
            target_distance_mm=1000.0,
            wanted_illuminance_lx=300.0,
            wanted_luminance_cd_m2=500.0,
        ),
        build=LooseEmitters(
            cavity=chosen,
            emitters=emitters,
            distributions=distributions,
            diffuser=_sheet_for(chosen, None),
            back=_BACK,
            walls=_WALLS,
        ),
    )
