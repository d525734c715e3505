"""Versions of a design: kept beside it in the same file, restored, forgotten."""

import re
from typing import Any

import msgspec

from gauze.core.design import Design
from gauze.core.design.design import KeptVersion
from gauze.session.edits import with_used_own_only

_NUMBER = re.compile(
    "[0-9]{1,6}"
)  # other digits than these are no numbers of ours, and longer ones no count of versions


def keep_version(design: Design) -> Design:
    """Keep the design as it stands as the next version; it goes on being edited as the one after."""
    return msgspec.structs.replace(design, kept=(*design.kept, _kept(design, next_name(design))))


def with_version_of(design: Design, other: Design, name: str) -> Design:
    """Keep another design, such as what its file holds now, as a version of this one."""
    return msgspec.structs.replace(design, kept=(*design.kept, _kept(other, name)))


def next_name(design: Design) -> str:
    """Return the name of the next version that is kept: its number is above those that there are."""
    ends = [one.name.rsplit(" ", 1)[-1] for one in design.kept]
    number = 1 + max((int(end) for end in ends if _NUMBER.fullmatch(end)), default=0)
    return f"Version {number}"


def take_up(design: Design, index: int) -> Design:
    """Change places with a kept version: it is edited from now on, and what was edited is kept under its name."""
    taken = design.kept[index]
    kept = (*design.kept[:index], _kept(design, taken.name), *design.kept[index + 1 :])
    return msgspec.structs.replace(design, **_sections(taken), kept=kept)


def forget(design: Design, index: int) -> Design:
    """Forget a kept version."""
    return msgspec.structs.replace(design, kept=(*design.kept[:index], *design.kept[index + 1 :]))


def design_of(design: Design, index: int) -> Design:
    """Return a kept version as a design of its own."""
    taken = design.kept[index]
    return Design(name=taken.name, **_sections(taken))


def _kept(design: Design, name: str) -> KeptVersion:
    return KeptVersion(name=name, **_sections(with_used_own_only(design)))


def _sections(of: Design | KeptVersion) -> dict[str, Any]:
    """All that a version holds of a design, besides its name."""
    return {name: getattr(of, name) for name in KeptVersion.__struct_fields__ if name != "name"}
