"""Bars and mitred frames of channel: the record of the family."""

from gauze.core.design.channel_bar import ChannelBar, check_channel_bar
from gauze.core.design.surroundings import Surroundings
from gauze.core.families.editing import path
from gauze.core.families.family import Family
from gauze.core.layout.families.channel_bar import lay_out_channel_bar
from gauze.core.parts.families.channel_bar import channel_bar_parts

CHANNEL_BAR = Family(
    build=ChannelBar,
    check=check_channel_bar,
    lay_out=lay_out_channel_bar,
    parts=channel_bar_parts,
    counts={"build.corners_mm": path.with_corner_count},
    item_edits=path.corner_edits,
    move_item=path.with_corner_moved,
    body_kind="one_piece",
    usual_surroundings=Surroundings(back="aluminium", back_mm=1.2),
)
