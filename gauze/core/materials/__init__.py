"""What a light is built from: strips, diffusers, finishes, supplies; typical values with their spread."""

from gauze.core.materials.catalogue import Catalogue, load_catalogue
from gauze.core.materials.diffuser import Diffuser, TransmissionSplit
from gauze.core.materials.finish import Finish
from gauze.core.materials.matt_sheet import Layer, MattSheet
from gauze.core.materials.module import Module, ModuleChannel
from gauze.core.materials.own import OwnDiffuser
from gauze.core.materials.profile import Profile
from gauze.core.materials.stack import Lobe, Stack, stacked
from gauze.core.materials.strip import Strip, StripChannel

__all__ = [
    "Catalogue",
    "Diffuser",
    "Finish",
    "Layer",
    "Lobe",
    "MattSheet",
    "Module",
    "ModuleChannel",
    "OwnDiffuser",
    "Profile",
    "Stack",
    "Strip",
    "StripChannel",
    "TransmissionSplit",
    "load_catalogue",
    "stacked",
]
