"""Finishes of the inner faces."""

import msgspec


class Finish(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A matt surface with its total reflectance, typical."""

    id: str
    name: str
    reflectance: float
    source: str = ""
    spread: float = 0.0
