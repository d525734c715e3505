"""What every kind of strip and module in a build draws."""

from collections.abc import Sequence
from dataclasses import dataclass

from gauze.core.design import Design, StripChoice
from gauze.core.design.channel_bar import ChannelBar
from gauze.core.layout import AnyLayout, BuiltLayout, ModuleSet
from gauze.core.materials import Strip


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


@dataclass(frozen=True)
class _Piece:
    strip: Strip
    choice: StripChoice
    length_mm: float
    emitters: int
    lit: bool = True


def loads_of(design: Design, layout: AnyLayout) -> list[Load]:
    """Add up what a build draws, by kind of strip and module."""
    if not isinstance(layout, BuiltLayout):
        strips = design.panel.strips
        return _strip_loads([_Piece(r.strip, strips[r.strip_index], r.length_mm, r.emitters) for r in layout.rows])
    dark = design.build.dark_zones if isinstance(design.build, ChannelBar) else ()
    pieces = [_Piece(run.strip, run.choice, run.length_mm, run.emitters, run.zone not in dark) for run in layout.runs]
    return _strip_loads(pieces) + [_module_load(modules) for modules in layout.modules]


def _strip_loads(pieces: Sequence[_Piece]) -> list[Load]:
    kinds: dict[str, list[_Piece]] = {}
    for piece in pieces:
        kinds.setdefault(piece.strip.id, []).append(piece)
    return [_strip_load(own[0].strip, own) for own in kinds.values()]


def _strip_load(strip: Strip, pieces: Sequence[_Piece]) -> Load:
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


def _module_load(modules: ModuleSet) -> Load:
    module, count = modules.module, modules.count
    levels = modules.choice.levels_for(module)
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
