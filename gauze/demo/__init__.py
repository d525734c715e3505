"""The demo: a small print room by a tidal harbour. All names and readings are invented."""

from dataclasses import dataclass
from importlib import resources


@dataclass(frozen=True)
class Demo:
    """A design of the scene: its file, its family in words, and what such a build is for.

    ``begins`` says that a new design of its kind begins from it.
    """

    key: str
    family: str
    purpose: str
    begins: bool = True

    def read(self) -> bytes:
        """Return its design file."""
        return resources.files("gauze.demo").joinpath(f"{self.key}.gauze").read_bytes()


DEMOS = (
    Demo("proofing_panel", "Strip panel", "An even face to look at or to light with: rows of strip on a flat back"),
    Demo("tide_board", "Pixel display", "Text, clock or picture in crisp pixels, or in one glow"),
    Demo("rack_tube", "Tube", "A glowing line, round or behind a slit"),
    Demo("sign_frame", "Channel frame", "A lit outline with mitred corners, in any number of sides"),
    Demo("press_bars", "Channel bars", "Straight bars end to end, in zones that are switched separately"),
    Demo("stair_tiles", "Tile wall", "Triangles, squares, hexagons joined edge to edge"),
    Demo("negative_face", "Edge-lit face", "A thin face to trace or inspect on, lit from its rim"),
    Demo("reading_head", "Reflector head", "Much light from one small board: a funnel with film"),
    Demo("corner_wash", "Indirect lamp", "A wall or a corner washed with light, the strip unseen"),
    Demo("float_string", "Shell string", "Single pixels in balls or cups, spread over a wall"),
    Demo("glow_board", "Glow board", "Rows of pixels behind a sheet that blends them"),
    Demo("harbour_sign", "Loose emitters", "What no family covers: any LEDs, from a table, in any shape"),
    Demo("quay_line", "Tube", "A long line of 5 V pixels, pink at its far end until it is fed there too", begins=False),
    Demo(
        "night_panel",
        "Strip panel",
        "Warm and cool white by two knobs, on a battery that lasts the night",
        begins=False,
    ),
)
BEGINNINGS = tuple(one for one in DEMOS if one.begins)


def demo(key: str) -> Demo:
    """Return a demo by its key; raises :class:`KeyError`."""
    return {one.key: one for one in DEMOS}[key]


def demo_design_bytes() -> bytes:
    """Return the design file of the proofing panel over the press."""
    return DEMOS[0].read()


def demo_sign_bytes() -> bytes:
    """Return the design file of the sign over the harbour door: loose emitters in a prism, some of a measured distribution."""
    return demo("harbour_sign").read()
