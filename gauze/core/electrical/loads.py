"""What every kind of strip and module in a build draws."""

from collections.abc import Sequence
from dataclasses import dataclass

from gauze.core.layout.pieces import ModulePiece, Piece, StripPiece
from gauze.core.parts.joining import carries_data

# over the volts that a strip or module is made for: what it withstands permanently; common practice, no source
PIXELS_STAND, OTHERS_STAND = 1.10, 1.15


@dataclass(frozen=True)
class Load:
    """One kind of strip or module.

    ``label_w`` is with every channel at full level, ``set_w`` at the levels that are set and without the zones that are off.
    ``pixels`` is how many single-package pixels there are, 0 where the label holds for the worst case. ``longest_m`` is the
    longest piece of strip. ``terms`` are the factors of the label watts.
    """

    name: str
    volts: float
    label_w: float
    set_w: float
    pixels: int
    pieces: int
    metres: float
    terms: tuple[float, float]
    longest_m: float
    spread: float
    source: str


def loads_of(pieces: Sequence[Piece]) -> list[Load]:
    """Add up what pieces draw, by kind of strip and module."""
    strips: dict[str, list[StripPiece]] = {}
    modules: dict[str, list[ModulePiece]] = {}
    for piece in pieces:
        if isinstance(piece, StripPiece):
            strips.setdefault(piece.strip.id, []).append(piece)
        else:
            modules.setdefault(piece.module.name, []).append(piece)
    return [_strip_load(own) for own in strips.values()] + [_module_load(own) for own in modules.values()]


def _strip_load(pieces: Sequence[StripPiece]) -> Load:
    strip = pieces[0].strip
    metres = sum(piece.length_mm for piece in pieces) / 1000.0
    set_w = sum(
        level * channel.power_w_per_m * piece.length_mm / 1000.0
        for piece in pieces
        if piece.lit
        for level, channel in zip(piece.choice.levels_for(strip), strip.channel, strict=True)
    )
    single = strip.kind == "pixel" and strip.emitters_per_segment == 1
    return Load(
        name=strip.name,
        volts=strip.volts,
        label_w=sum(strip.power_w_per_m * piece.length_mm / 1000.0 for piece in pieces),
        set_w=set_w,
        pixels=sum(piece.emitters for piece in pieces) if single else 0,
        pieces=len(pieces),
        metres=metres,
        terms=(metres, strip.power_w_per_m),
        longest_m=max(piece.length_mm for piece in pieces) / 1000.0,
        spread=strip.power_spread,
        source=strip.source,
    )


def _module_load(pieces: Sequence[ModulePiece]) -> Load:
    module, count = pieces[0].module, len(pieces)
    levels = pieces[0].choice.levels_for(module)
    return Load(
        name=module.name,
        volts=module.volts,
        label_w=count * module.power_w,
        set_w=count * sum(level * channel.power_w for level, channel in zip(levels, module.channel, strict=True)),
        pixels=0 if module.kind == "chip" else count * module.emitters,
        pieces=count,
        metres=0.0,
        terms=(float(count), module.power_w),
        longest_m=0.0,
        spread=module.power_spread,
        source=module.source,
    )


def highest_volts(piece: Piece) -> float:
    """Volts that a piece withstands permanently."""
    made_for_v = piece.strip.volts if isinstance(piece, StripPiece) else piece.module.volts
    return made_for_v * (PIXELS_STAND if carries_data(piece) else OTHERS_STAND)
