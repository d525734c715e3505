"""Bring a table of emitters, with the photometry that it names, into a design."""

import math
from dataclasses import dataclass
from pathlib import Path, PurePath
from typing import get_args

import msgspec

from gauze.core.design import Design, LooseEmitters, Purpose, StripPanel
from gauze.core.design.cavity import BoxShape, CavityShape, lit_by_reflection
from gauze.core.design.design import catalogue_of
from gauze.core.design.loose import LooseEmitter, MeasuredDistribution
from gauze.core.design.strip_panel import finish_of
from gauze.core.errors import FormatError
from gauze.core.formats.emitters_csv import MOST_BYTES, decode_emitters
from gauze.core.formats.ies_reading import MOST_BYTES as MOST_IES_BYTES
from gauze.core.formats.ies_reading import decode_ies
from gauze.core.layout.enclosing import cavity_around
from gauze.core.materials import Catalogue, Layer, MattSheet
from gauze.core.printable import printable
from gauze.session.edits import USUAL_SHEET
from gauze.session.storage import read_file

TABLE_EXTENSION, PHOTOMETRY_EXTENSION = ".csv", ".ies"
USUAL_FINISH = "matt-white-paint"


@dataclass(frozen=True)
class Inside:
    """In what emitters are to be put; None leaves it to the design that they go into, or to what is usual."""

    cavity: CavityShape | None = None
    sheet: Layer | None = None
    back: str | float | None = None
    walls: str | float | None = None


ANY_INSIDE = Inside()


def parse_cavity(text: str) -> CavityShape:
    """Read a cavity from words such as ``box,width_mm=400,height_mm=300,depth_mm=30``.

    Corners of a prism are pairs: ``corners_mm=0 0;100 0;50 80``.

    Raises
    ------
    FormatError
        When a word cannot be read, or the shape has no size of that name.
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
        reason = printable(f"{str(error)[0].lower()}{str(error)[1:]}".replace("`", ""), 160)
        raise FormatError(
            "The cavity “{text}” cannot be read: {reason}. {choices}",
            text=printable(text, 120),
            reason=reason,
            choices=_choices(shape),
        ) from None
    return cavity


def _choices(shape: str) -> str:
    """Say which shapes there are, or which sizes the named one has."""
    kinds = {str(kind.__struct_config__.tag): kind for kind in get_args(CavityShape)}
    if shape not in kinds:
        return f"Give one of: {', '.join(kinds)}."
    fields = msgspec.structs.fields(kinds[shape])
    words = [f"{one.name}=…" if one.required else f"[{one.name}=…]" for one in fields]
    return f"Give it as {shape},{','.join(words)}; those in brackets may be left out."


def parse_sheet(text: str, catalogue: Catalogue) -> Layer:
    """Read a sheet: one of the catalogue by its id, or transmittance and reflectance of a matt one, as ``0.5,0.4``.

    Raises
    ------
    GauzeError
        When it is neither; the message names the choices.
    """
    if text in catalogue.diffusers:
        return text
    words = text.replace(" ", "").split(",")
    try:
        numbers = [float(word) for word in words]
    except ValueError:
        numbers = []
    if len(numbers) != 2:
        raise FormatError(
            "--sheet is “{text}”: give transmittance and reflectance of a matt sheet, such as "
            "0.5,0.4, or one of: {diffusers}.",
            text=printable(text),
            diffusers=", ".join(catalogue.diffusers),
        )
    sheet = MattSheet(transmittance=numbers[0], reflectance=numbers[1])
    catalogue.diffuser(sheet)
    return sheet


def parse_finish(text: str, option: str, catalogue: Catalogue) -> str | float:
    """Read a finish: one of the catalogue by its id, or a reflectance; raises :class:`FormatError`, which names the choices."""
    if text in catalogue.finishes:
        return text
    try:
        value = float(text)
    except ValueError:
        value = math.nan
    if not 0.0 <= value < 1.0:
        raise FormatError(
            "{option} is “{text}”: give a reflectance from 0 to below 1, or one of: {finishes}.",
            option=option,
            text=printable(text),
            finishes=", ".join(catalogue.finishes),
        )
    return value


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
        raise FormatError(
            "The file “{name}” is not in the folder of the table. Put it there and give only its name.",
            name=printable(name),
        )
    return read_photometry(folder / name)


def read_photometry(path: Path) -> MeasuredDistribution:
    """Read a file of photometry as a distribution; raises as :func:`read_emitters`."""
    try:
        photometry = decode_ies(read_file(path, MOST_IES_BYTES))
    except FormatError as error:
        raise FormatError("“{name}”: {error}", name=printable(path.name), error=error) from None
    return MeasuredDistribution(
        name=printable(photometry.name or path.stem, 80),
        gamma_deg=tuple(photometry.gamma_deg.tolist()),
        c_deg=tuple(photometry.c_deg.tolist()),
        candela=tuple(tuple(plane) for plane in photometry.candela.tolist()),
    )


def takes_emitters(design: Design) -> bool:
    """Whether emitters of a table go into a design as it is; else they make a new one."""
    return design.build_if(LooseEmitters) is not None


def with_emitters(
    design: Design,
    emitters: tuple[LooseEmitter, ...],
    distributions: tuple[MeasuredDistribution, ...],
    wanted: Inside = ANY_INSIDE,
) -> Design:
    """Put emitters into a design; its kept versions, measured current and purpose stay.

    One of loose emitters keeps its cavity; a strip panel becomes a box of its size where they fit in, or one around them.
    What is ``wanted`` goes before both.
    """
    build, loose, panel = design.build, design.build_if(LooseEmitters), design.build_if(StripPanel)
    if wanted.cavity is not None:
        cavity = wanted.cavity
    elif loose is not None:
        cavity = loose.cavity
    else:
        cavity = cavity_around("box", emitters) if panel is None else _box_of(panel, emitters)
    chosen = LooseEmitters(
        cavity=cavity,
        emitters=emitters,
        distributions=distributions,
        diffuser=_sheet_for(cavity, wanted.sheet or build.diffuser),
        back=build.back if wanted.back is None else wanted.back,
        walls=build.walls if wanted.walls is None else wanted.walls,
    )
    if loose is not None:
        chosen = msgspec.structs.replace(chosen, level=loose.level, emitter_size_mm=loose.emitter_size_mm)
    return msgspec.structs.replace(design, build=chosen)


def _sheet_for(cavity: CavityShape, sheet: Layer | tuple[Layer, ...] | None) -> Layer | tuple[Layer, ...] | None:
    """Return the sheet where one belongs."""
    return None if lit_by_reflection(cavity) else sheet or USUAL_SHEET


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
    wanted: Inside = ANY_INSIDE,
) -> Design:
    """Return a design of emitters alone, in what is wanted, else behind a usual sheet in a white body (both typical)."""
    chosen = wanted.cavity or cavity_around("box", emitters)
    return Design(
        name=printable(name, 80),
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
            diffuser=_sheet_for(chosen, wanted.sheet),
            back=USUAL_FINISH if wanted.back is None else wanted.back,
            walls=USUAL_FINISH if wanted.walls is None else wanted.walls,
        ),
    )


def inside_words(design: Design, wanted: Inside, catalogue: Catalogue) -> list[str]:
    """Say in what the emitters were put, and which of it was taken because nothing was said, a line each."""
    build, known = design.loose, catalogue_of(design, catalogue)
    cavity = msgspec.to_builtins(build.cavity)
    shape = cavity.pop("shape")
    sizes = ",".join(f"{name}={value:g}" for name, value in cavity.items() if isinstance(value, int | float))
    sheet = "none: a wall is lit" if build.diffuser is None else known.sheet(build.layers).name
    back, walls = (finish_of(value, known) for value in (build.back, build.walls))

    def line(what: str, value: str, given: object) -> str:
        return f"{what}: {value}" + ("" if given is not None else f" (taken; --{what} gives another)")

    return [
        line("cavity", f"{shape},{sizes}".rstrip(","), wanted.cavity),
        line("sheet", sheet, wanted.sheet),
        line("back", f"{back.name}, reflects {back.reflectance:.0%}", wanted.back),
        line("walls", f"{walls.name}, reflects {walls.reflectance:.0%}", wanted.walls),
    ]
