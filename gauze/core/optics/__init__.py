"""The light: emitters, the box that they light, the diffuser, what an eye sees of it, colour, the target.

Lengths in mm, flux in lm; illuminance leaves in lx and luminance in cd/m².
"""
