"""The eye's contrast sensitivity against an independent library's computing of the model that it comes from."""

import pytest

from gauze.core.optics.visibility import contrast_sensitivity

pytestmark = pytest.mark.filterwarnings("ignore")  # the library warns of extras that it does not find
contrast = pytest.importorskip("colour.contrast", reason="the reference library is in the development lock")


@pytest.mark.parametrize("luminance", [1.0, 10.0, 100.0, 500.0])
@pytest.mark.parametrize(
    ("u", "within"), [(0.5, 0.1), (1.0, 0.1), (2.0, 0.15), (4.0, 0.18), (8.0, 0.18), (16.0, 0.12), (30.0, 0.35)]
)
def test_sensitivity_is_that_of_bartens_whole_model(u: float, within: float, luminance: float) -> None:
    """The short formula of 2004 against the physical model of 1999 that it sums up, as an independent library computes it.

    P. G. J. Barten, Contrast Sensitivity of the Human Eye (1999), in colour-science; both eyes, a field of 10 degrees, pupil and
    optics at this luminance. Where the eye is at its best they differ by a few per cent.
    """
    pupil_mm = contrast.pupil_diameter_Barten1999(luminance, 10.0, 10.0)
    whole = contrast.contrast_sensitivity_function_Barten1999(
        u=u,
        sigma=contrast.sigma_Barten1999(0.5 / 60.0, 0.08 / 60.0, pupil_mm),
        E=contrast.retinal_illuminance_Barten1999(luminance, pupil_mm),
        X_0=10.0,
        Y_0=10.0,
        X_max=12.0,
        Y_max=12.0,
    )
    assert float(contrast_sensitivity(u, luminance, 100.0)) == pytest.approx(float(whole), rel=within)
