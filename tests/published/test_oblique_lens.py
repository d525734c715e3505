"""A curved lens seen at an angle: its intensity, place by place, against the path-traced map of the same channel.

Source: ``tests/reference/channel_v_lens.csv``, traced by a general-purpose renderer (see ``test_reference_maps.py``). Behind a
sheet that scatters all light evenly every place has the luminance tau E / pi in all directions (Lambert's law), so the intensity
towards a direction is the sum of that times the area as it is seen from there.
"""

import dataclasses
import math

import msgspec
import numpy as np
import pytest

from gauze.core.evaluate import evaluate
from gauze.core.formats.design_file import decode_design
from gauze.core.materials import load_catalogue
from tests.reference_maps import FOLDER, read_reference

_PARTS = 20  # of a cell across the lens, which turns away within it


@pytest.mark.parametrize("c_deg", [0.0, 90.0, 270.0])
@pytest.mark.parametrize("gamma_deg", [0.0, 45.0, 70.0])
def test_a_curved_lens_gives_what_its_traced_map_gives_in_every_direction(gamma_deg: float, c_deg: float) -> None:
    catalogue, reference = load_catalogue(), read_reference("channel_v_lens")
    design = decode_design((FOLDER / "channel_v_lens.gauze").read_bytes(), catalogue)
    opal = catalogue.diffuser("opal-acrylic-3")
    sheet = msgspec.structs.replace(opal, haze=1.0, diffuse_share=1.0)  # it reflects as it was traced
    even = dataclasses.replace(catalogue, diffusers={**catalogue.diffusers, sheet.id: sheet})
    light = evaluate(design, even).light

    assert design.loose is not None
    shape = design.loose.cavity
    half, rise = shape.width_mm / 2.0, shape.lens_rise_mm
    radius = (half**2 + rise**2) / (2.0 * rise)
    v_mm = reference.v_mm[:, None] + ((np.arange(_PARTS) + 0.5) / _PARTS - 0.5) * reference.cell_mm[1]
    angle = math.pi / 2.0 + math.asin(half / radius) - v_mm / radius
    gamma, plane = math.radians(gamma_deg), math.radians(c_deg)
    y, z = math.sin(gamma) * math.sin(plane), math.cos(gamma)
    seen = np.maximum(np.cos(angle) * y + np.sin(angle) * z, 0.0).mean(axis=1) * math.prod(reference.cell_mm)
    expected = sheet.transmittance / math.pi * float(reference.illuminance @ seen)

    found = float(light.intensity_cd(np.array([gamma_deg]), np.array([c_deg])).item())
    assert found == pytest.approx(expected, rel=0.005)
