"""The stage of light: emitters in their places to lit faces, by the way that each build is lit."""

from gauze.core.evaluate.light.box import BoxFaceLight
from gauze.core.evaluate.light.cavity import CavityFaceLight
from gauze.core.evaluate.light.face_light import FaceLight
from gauze.core.evaluate.light.group import GroupFaceLight

__all__ = ["BoxFaceLight", "CavityFaceLight", "FaceLight", "GroupFaceLight"]
