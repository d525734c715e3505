"""A photograph out of the bytes of a JPEG, a PNG of 8 or 16 bits, or a raw file; upright, with what EXIF says of it."""

import contextlib
import importlib
import io
import struct
from collections.abc import Iterator
from typing import Any

import numpy as np

from gauze.core.errors import FormatError, GauzeError
from gauze.core.proving.photograph import CameraNotes, Codes, Photograph, power_light, srgb_light

MOST_BYTES = 400_000_000
MOST_PIXELS = 200_000_000
_PNG = b"\x89PNG\r\n\x1a\n"
_RAW_STARTS = (b"II*\x00", b"MM\x00*", b"IIU\x00", b"FUJIFILMCCD-RAW", b"IIRO", b"IIRS")
# numbers of EXIF: CIPA DC-008 (Exif 3.0)
_ORIENTATION, _EXIF_IFD = 0x0112, 0x8769
_MAKE, _EXPOSURE, _F_NUMBER, _ISO, _WHITE_BALANCE, _FOCAL_35 = 0x010F, 0x829A, 0x829D, 0x8827, 0xA403, 0xA405
_TURNS = {3: (2, False), 6: (3, False), 8: (1, False), 2: (0, True), 4: (2, True), 5: (3, True), 7: (1, True)}
_AUTO = 0
_LEAST_FOCAL_MM = 1.0  # it is written in whole millimetres, 0 for unknown


def read_photo(data: bytes) -> Photograph:
    """Decode a photograph.

    Raises
    ------
    FormatError
        When the bytes are empty, no picture, damaged, or a picture of more than 200 megapixels.
    """
    if not data:
        raise FormatError("The picture is empty. Choose another.")
    if len(data) > MOST_BYTES:
        raise FormatError("The picture is larger than {most} MB. Save it smaller.", most=MOST_BYTES // 1_000_000)
    try:
        found = _read_raw(data) if data.startswith(_RAW_STARTS) else _read_usual(data)
    except GauzeError:
        raise
    except Exception as error:  # noqa: BLE001 - decoders of pictures raise whatever they like for damaged bytes
        raise FormatError(
            "This is not a picture that can be read: {why}. Choose a JPEG, PNG or raw file.", why=_short(error)
        ) from None
    return found


def _short(error: Exception) -> str:
    return (str(error).splitlines() or [""])[0][:120] or type(error).__name__


def _check_size(width: int, height: int) -> None:
    if width * height > MOST_PIXELS:
        raise FormatError(
            "The picture has {count} megapixels, at most {most} are read. Save it smaller.",
            count=round(width * height / 1e6),
            most=MOST_PIXELS // 1_000_000,
        )


def _read_usual(data: bytes) -> Photograph:
    cv2: Any = importlib.import_module("cv2")
    with _opened(data) as image:
        _check_size(*image.size)
        exif = image.getexif()
        notes = _notes(exif)
        orientation = int(exif.get(_ORIENTATION, 1))
    pixels = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED | cv2.IMREAD_IGNORE_ORIENTATION)
    if pixels is None or pixels.dtype not in (np.uint8, np.uint16):
        with _opened(data) as image:  # GIF, palettes and the like
            pixels = np.asarray(image.convert("RGB"))[:, :, ::-1]
    top = int(np.iinfo(pixels.dtype).max)
    codes, grey = _colours(pixels)
    light_of, name = _curve(data, top)
    return Photograph(_upright(codes, orientation), light_of, top, name, grey, notes)


@contextlib.contextmanager
def _opened(data: bytes) -> Iterator[Any]:
    """A picture that is opened whatever its size: that is checked before anything is decoded, by our own limit."""
    image_module: Any = importlib.import_module("PIL.Image")
    usual, image_module.MAX_IMAGE_PIXELS = image_module.MAX_IMAGE_PIXELS, None
    try:
        image = image_module.open(io.BytesIO(data))
    finally:
        image_module.MAX_IMAGE_PIXELS = usual
    with image:
        yield image


def _colours(pixels: Codes) -> tuple[Codes, bool]:
    """Red, green and blue of what was decoded as grey, or as blue, green, red and maybe transparency."""
    if pixels.ndim == 2 or pixels.shape[2] in (1, 2):
        grey = pixels if pixels.ndim == 2 else pixels[:, :, 0]
        return np.repeat(grey[:, :, None], 3, axis=2), True
    codes = pixels[:, :, 2::-1]
    small = codes[:: max(codes.shape[0] // 200, 1), :: max(codes.shape[1] // 200, 1)]
    alike = bool((small[:, :, 0] == small[:, :, 1]).all() and (small[:, :, 0] == small[:, :, 2]).all())
    return codes, alike


def _upright(codes: Codes, orientation: int) -> Codes:
    turns, mirrored = _TURNS.get(orientation, (0, False))
    turned = np.rot90(codes, turns) if turns else codes
    return turned[:, ::-1] if mirrored else turned


def _curve(data: bytes, top: int) -> tuple[Any, str]:
    """The light of every code, and what the curve is called; of a PNG as its chunks say, sRGB before gAMA."""
    gamma = None
    if data.startswith(_PNG):
        chunks = _png_chunks(data)
        if "sRGB" not in chunks and "gAMA" in chunks:
            gamma = struct.unpack(">I", chunks["gAMA"][:4])[0] / 100_000.0
    if gamma is None or gamma <= 0.0:
        return srgb_light(top), "sRGB"
    if abs(gamma - 1.0) < 1e-3:
        return power_light(top, 1.0), "linear"
    return power_light(top, 1.0 / gamma), "gamma"


def _png_chunks(data: bytes) -> dict[str, bytes]:
    """Chunks before the pixels, by their names."""
    found: dict[str, bytes] = {}
    at = len(_PNG)
    while at + 8 <= len(data):
        length = struct.unpack(">I", data[at : at + 4])[0]
        name = data[at + 4 : at + 8].decode("latin-1")
        if name == "IDAT":
            break
        found[name] = data[at + 8 : at + 8 + length]
        at += 12 + length
    return found


def _notes(exif: Any) -> CameraNotes | None:
    inner = exif.get_ifd(_EXIF_IFD)
    if not len(exif) and not inner:
        return None
    balance = inner.get(_WHITE_BALANCE)
    return CameraNotes(
        focal_35_mm=_number(inner.get(_FOCAL_35), _LEAST_FOCAL_MM),
        auto_white_balance=None if balance is None else int(balance) == _AUTO,
        exposure_s=_number(inner.get(_EXPOSURE)),
        f_number=_number(inner.get(_F_NUMBER)),
        iso=_number(inner.get(_ISO)),
        from_camera=bool(exif.get(_MAKE)) or inner.get(_EXPOSURE) is not None,
    )


def _number(value: Any, least: float = 0.0) -> float | None:
    """A positive number out of what EXIF holds, at least ``least``; None for anything else."""
    try:
        number = float(value[0] if isinstance(value, tuple) else value)
    except (TypeError, ValueError, ZeroDivisionError, IndexError):
        return None
    return number if np.isfinite(number) and number > 0.0 and number >= least else None


def _read_raw(data: bytes) -> Photograph:
    """Decode a raw file: its own white balance, 16 bits, no curve; of a TIFF that is none, as any other picture."""
    rawpy: Any = importlib.import_module("rawpy")
    try:
        with rawpy.imread(io.BytesIO(data)) as raw:
            _check_size(raw.sizes.width, raw.sizes.height)
            codes = raw.postprocess(
                gamma=(1, 1), no_auto_bright=True, use_camera_wb=True, output_bps=16, output_color=rawpy.ColorSpace.sRGB
            )
    except rawpy.LibRawError:
        return _read_usual(data)
    image_module: Any = importlib.import_module("PIL.Image")
    try:
        with image_module.open(io.BytesIO(data)) as image:
            notes = _notes(image.getexif())
    except Exception:  # noqa: BLE001 - a raw file that this reader of EXIF does not know
        notes = None
    return Photograph(codes, power_light(65535, 1.0), 65535, "raw", grey=False, notes=notes)
