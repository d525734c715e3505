"""The written distribution, read back by the letter of LM-63 and checked against the light itself."""

import numpy as np
import pytest

from gauze.core.design import RowPlan
from gauze.core.evaluate import Evaluation, evaluate
from gauze.core.formats.ies import encode_ies
from gauze.core.optics.intensity import intensity_cd
from gauze.core.optics.target import TargetPlane, target_map
from tests.builders import CATALOGUE, design


def read_lm_63(data: bytes) -> dict[str, np.ndarray | list[str] | float]:
    """A plain reader of LM-63 with TILT=NONE, as the standard lays the numbers out."""
    lines = data.decode("ascii").split("\r\n")
    tilt = next(index for index, line in enumerate(lines) if line.startswith("TILT="))
    assert lines[tilt] == "TILT=NONE"
    assert lines[0] == "IES:LM-63-2019"
    assert all(line.startswith("[") for line in lines[1:tilt])
    numbers = np.array(" ".join(lines[tilt + 1 :]).split(), dtype=float)
    lamps, lumens, factor, gammas, planes, kind, unit, width, length, height = numbers[:10]
    ballast, future, watts = numbers[10:13]
    assert (lamps, factor, kind, unit, ballast, future, height) == (1, 1, 1, 2, 1, 1, 0)
    body = numbers[13:]
    n, m = int(gammas), int(planes)
    assert len(body) == n + m + n * m
    return {
        "keywords": lines[1:tilt],
        "lumens": lumens,
        "watts": watts,
        "opening": np.array([length, width]),
        "gamma": body[:n],
        "c": body[n : n + m],
        "candela": body[n + m :].reshape(m, n),
    }


def flux_of_table_lm(candela: np.ndarray, gamma_deg: np.ndarray, c_deg: np.ndarray) -> float:
    """Flux of a candela table by the trapezoidal rule over the solid angle; the planes run round to 360."""
    rings = np.trapezoid(candela, np.radians(c_deg), axis=0)
    return float(np.trapezoid(rings * np.sin(np.radians(gamma_deg)), np.radians(gamma_deg)))


def lit(**changes: object) -> Evaluation:
    return evaluate(design(**changes), CATALOGUE)


@pytest.mark.parametrize(
    "diffuser", ["dense-opal-acrylic-3", "opal-acrylic-3", "screen-film", ("screen-film", "screen-film")]
)
def test_the_table_holds_the_flux_that_leaves(diffuser: str) -> None:
    evaluation = lit(diffuser=diffuser)
    table = read_lm_63(encode_ies(evaluation))
    flux = flux_of_table_lm(table["candela"], table["gamma"], table["c"])
    assert flux == pytest.approx(evaluation.light.face.flux_out_lm, rel=0.03)
    assert table["lumens"] == -1  # absolute photometry
    assert table["opening"] == pytest.approx([0.6, 0.4])
    assert table["watts"] == pytest.approx(evaluation.supplies[0].set_w, abs=0.01)
    assert table["c"][[0, -1]] == pytest.approx([0, 360])
    assert table["candela"][0] == pytest.approx(table["candela"][-1])


@pytest.mark.parametrize("diffuser", ["opal-acrylic-3", "satin-acrylic-3", "clear-acrylic-3"])
def test_the_axis_agrees_with_a_far_target(diffuser: str) -> None:
    face = lit(diffuser=diffuser).light.face
    axial = float(intensity_cd(face, np.array([0.0]), np.array([0.0]))[0, 0])
    distance = 30_000.0
    assert target_map(face, TargetPlane(distance), points=1).illuminance_lx.item() * (
        distance / 1000
    ) ** 2 == pytest.approx(axial, rel=0.01)


def test_an_opal_panel_is_lambertian_and_a_clear_one_is_cut_off_by_its_walls() -> None:
    gamma, planes = np.array([0.0, 60.0]), np.array([0.0, 90.0])
    opal = intensity_cd(lit(diffuser="dense-opal-acrylic-3").light.face, gamma, planes)
    assert opal[:, 1] / opal[:, 0] == pytest.approx([0.5, 0.5], rel=1e-6)
    deep = {"diffuser": "clear-acrylic-3", "depth_mm": 150.0, "walls": "matt-black-paint", "back": "matt-black-paint"}
    clear = intensity_cd(lit(**deep, rows=RowPlan(count=5, spacing_mm=60)).light.face, gamma, planes)
    assert (clear[:, 1] / clear[:, 0] < 0.45).all()
    assert clear[0, 1] > clear[1, 1]  # the longer way is along the width


def test_names_of_any_alphabet_leave_an_ascii_file() -> None:
    import msgspec

    odd = msgspec.structs.replace(design(), name="Flutuhr\nä 潮")
    table = read_lm_63(encode_ies(evaluate(odd, CATALOGUE)))
    assert any(line.startswith("[LUMCAT] Flutuhr") for line in table["keywords"])
