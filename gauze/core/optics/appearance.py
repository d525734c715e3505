"""A lit face as a picture: exposure, the room's own light, and sRGB; or false colour."""

import functools
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from gauze.core.optics.box_light import Map
from gauze.core.optics.colour import planck_xyz
from gauze.core.srgb import values_of_light

Picture = NDArray[np.uint8]

# IEC 61966-2-1: linear sRGB from XYZ, white D65
XYZ_TO_SRGB = np.array(
    [[3.2406, -1.5372, -0.4986], [-0.9689, 1.8758, 0.0415], [0.0557, -0.2040, 1.0570]], dtype=np.float32
)
BRADFORD = np.array(
    [[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]], dtype=np.float32
)  # cone responses for chromatic adaptation (K. M. Lam, 1985), as in ICC.1:2022 annex E
D65_XYZ = (0.95047, 1.0, 1.08883)
ROOM_CCT_K = 4000.0  # the neutral white to which the eye at the bench is taken to be adapted


@dataclass(frozen=True)
class Viewing:
    """How the face is looked at.

    ``white_cd_m2`` is the luminance that shows as full white; ``room_lx`` falls on the outside of the
    diffuser, which reflects ``face_reflectance`` of it, matt.
    """

    white_cd_m2: float
    room_lx: float
    face_reflectance: float


def room_luminance_cd_m2(viewing: Viewing) -> float:
    """Luminance that the room's light adds all over the face: rho E / pi."""
    return float(viewing.face_reflectance * viewing.room_lx / np.pi)


def true_colour(xyz: Map, viewing: Viewing) -> Picture:
    """Picture of a face, shape (rows, columns, 3), first row at the top.

    The colours are those that an eye adapted to a neutral white of 4000 K sees, so that 2700 K looks warm
    and 6500 K cool; what is out of the screen's gamut is brought in towards grey at the same luminance;
    what is brighter than white is clipped.
    """
    white = max(viewing.white_cd_m2, 1e-6)
    room = (planck_xyz(ROOM_CCT_K) * room_luminance_cd_m2(viewing) / white).astype(np.float32)
    flat: Map = np.ascontiguousarray(xyz, np.float32).reshape(3, -1)
    to_screen = _adapted_to_screen()
    linear: Map = np.asarray((to_screen / white) @ flat + (to_screen @ room)[:, None], np.float32)
    luminance: Map = np.asarray(flat[1] / white + room[1], np.float32)
    _into_gamut(linear, luminance)
    linear *= np.float32(4095.0)
    levels = np.take(_srgb_table(), linear.astype(np.uint16)).reshape(xyz.shape)
    return np.ascontiguousarray(np.moveaxis(levels, 0, -1)[::-1])


@functools.cache
def _adapted_to_screen() -> NDArray[np.float32]:
    """Linear sRGB from XYZ as seen by an eye adapted to the room's white."""
    room, screen = (BRADFORD @ np.asarray(white, np.float32) for white in (planck_xyz(ROOM_CCT_K), D65_XYZ))
    adapt = np.linalg.inv(BRADFORD) @ np.diag(screen / room) @ BRADFORD
    return np.asarray(XYZ_TO_SRGB @ adapt, np.float32)


def _into_gamut(linear: Map, luminance: Map) -> None:
    least = linear.min(axis=0)
    outside = least < 0
    if outside.any():
        grey = np.maximum(luminance[outside], 1e-9)
        pull = grey / (grey - least[outside])
        linear[:, outside] = grey + (linear[:, outside] - grey) * pull
    np.clip(linear, 0.0, 1.0, out=linear)


@functools.cache
def _srgb_table() -> Picture:
    linear = np.arange(4096) / 4095.0
    return np.asarray(np.rint(values_of_light(linear) * 255.0), np.uint8)


def false_colour(luminance_cd_m2: Map, least_cd_m2: float, most_cd_m2: float) -> Picture:
    """Picture with the colour scale laid over a range of luminance, first row at the top."""
    span = max(most_cd_m2 - least_cd_m2, 1e-9)
    index = np.clip((luminance_cd_m2 - least_cd_m2) / span * 255.0, 0.0, 255.0).astype(np.uint8)
    return np.ascontiguousarray(colour_scale()[index][::-1])


@functools.cache
def colour_scale() -> Picture:
    """256 colours from dark blue to light yellow, shape (256, 3).

    Lightness rises evenly in Oklab (B. Ottosson, "A perceptual color space for image processing",
    2020), and only the blue-yellow opponent changes with it, which red-green colour-blind eyes see
    as others do.
    """
    position = np.linspace(0.0, 1.0, 256)
    lightness = 0.20 + 0.76 * position
    blue_yellow = -0.115 * np.cos(np.pi * np.minimum(position / 0.55, 1.0) * 0.5) + 0.15 * np.maximum(
        (position - 0.25) / 0.75, 0.0
    )
    green_red = 0.012 * np.ones_like(position)
    l_, m_, s_ = (
        lightness + 0.3963377774 * green_red + 0.2158037573 * blue_yellow,
        lightness - 0.1055613458 * green_red - 0.0638541728 * blue_yellow,
        lightness - 0.0894841775 * green_red - 1.2914855480 * blue_yellow,
    )
    cone = np.stack([l_**3, m_**3, s_**3])
    to_linear = np.array(
        [
            [4.0767416621, -3.3077115913, 0.2309699292],
            [-1.2684380046, 2.6097574011, -0.3413193965],
            [-0.0041960863, -0.7034186147, 1.7076147010],
        ]
    )
    linear = np.clip(to_linear @ cone, 0.0, 1.0)
    return np.ascontiguousarray(_srgb_table()[np.rint(linear * 4095.0).astype(int)].T)
