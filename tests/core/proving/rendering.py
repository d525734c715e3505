"""Photographs made by computing: a face of known light, through a camera with a known lens, noise and response."""

import struct
import zlib
from typing import Any

import cv2
import numpy as np

from gauze.core.srgb import values_of_light

SHAPE = (600, 800)  # rows, columns of the picture


def picture_of(
    face: Any,
    corners: Any,
    *,
    shape: tuple[int, int] = SHAPE,
    bend: float = 0.0,
    focal_px: float | None = None,
    noise: float = 0.0,
    around: float = 0.002,
    seed: int = 1,
) -> Any:
    """Linear light of a picture, (rows, columns, 3).

    ``face`` (rows, columns, 3) is the light of the face, its lowest row first; ``corners`` are where its corners come to lie, the
    upper left first and clockwise, before the lens bends the picture. Every pixel averages 2 x 2 places.
    """
    rows, columns = shape
    high, wide = face.shape[:2]
    fine = 2
    x, y = np.meshgrid((np.arange(columns * fine) + 0.5) / fine - 0.5, (np.arange(rows * fine) + 0.5) / fine - 0.5)
    middle, half = np.array([(columns - 1) / 2.0, (rows - 1) / 2.0]), np.hypot(columns, rows) / 2.0
    away = np.stack([x, y], axis=-1) - middle
    straight = away.copy()
    for _ in range(20):
        straight = away / (1.0 + bend * np.sum(straight**2, axis=-1, keepdims=True) / half**2)
    plane = np.array([[0, high], [wide, high], [wide, 0], [0, 0]], np.float32)
    way = cv2.getPerspectiveTransform(np.asarray(corners, np.float32), plane)
    at = cv2.perspectiveTransform((straight + middle).reshape(1, -1, 2), way).reshape(*x.shape, 2)
    on = (at[..., 0] >= 0) & (at[..., 0] <= wide) & (at[..., 1] >= 0) & (at[..., 1] <= high)
    local = (at - 0.5).astype(np.float32)
    light = cv2.remap(
        face.astype(np.float32), local[..., 0], local[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
    )
    light = np.where(on[..., None], light, around)
    light = light.reshape(rows, fine, columns, fine, 3).mean(axis=(1, 3))
    if focal_px is not None:
        across, down = np.meshgrid(np.arange(columns) - middle[0], np.arange(rows) - middle[1])
        light = light / (1.0 + (across**2 + down**2) / focal_px**2)[..., None] ** 2
    if noise:
        light = light + np.random.default_rng(seed).normal(0.0, noise, light.shape) * np.sqrt(np.maximum(light, 1e-4))
    return np.clip(light, 0.0, None)


def seen_at(corners: Any, shape: tuple[int, int], bend: float) -> Any:
    """Where corners lie in a picture that a lens has bent."""
    middle, half = np.array([(shape[1] - 1) / 2.0, (shape[0] - 1) / 2.0]), np.hypot(*shape) / 2.0
    away = np.asarray(corners, float) - middle
    return middle + away * (1.0 + bend * np.sum(away**2, axis=-1, keepdims=True) / half**2)


def as_png(light: Any, *, bits: int = 8, gamma: float | None = None, grey: bool = False) -> bytes:
    """A PNG of linear light, by the curve of sRGB or by a gAMA chunk."""
    top = 2**bits - 1
    values = values_of_light(np.clip(light, 0, 1)) if gamma is None else np.clip(light, 0, 1) ** gamma
    codes = np.round(values * top).astype(np.uint16 if bits == 16 else np.uint8)
    image = codes[:, :, 1] if grey else codes[:, :, ::-1]
    data = cv2.imencode(".png", np.ascontiguousarray(image))[1].tobytes()
    if gamma is None:
        return data
    body = b"gAMA" + struct.pack(">I", round(gamma * 100_000))
    chunk = struct.pack(">I", 4) + body + struct.pack(">I", zlib.crc32(body))
    return data[:33] + chunk + data[33:]  # after IHDR
