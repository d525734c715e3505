"""The demo: a small print room by a tidal harbour. All names and readings are invented."""

from importlib import resources


def demo_design_bytes() -> bytes:
    """Return the design file of the proofing panel over the press."""
    return resources.files("gauze.demo").joinpath("proofing_panel.gauze").read_bytes()


def demo_sign_bytes() -> bytes:
    """Return the design file of the sign over the harbour door: loose emitters in a prism, some of a measured distribution."""
    return resources.files("gauze.demo").joinpath("harbour_sign.gauze").read_bytes()
