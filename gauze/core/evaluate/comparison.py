"""Two versions of a design compared by their findings."""

from collections.abc import Sequence
from dataclasses import dataclass

from gauze.core.evaluate.finding import Finding


@dataclass(frozen=True)
class FindingChange:
    """A finding that came, went, or says something else."""

    code: str
    before: Finding | None
    after: Finding | None

    @property
    def state_changed(self) -> bool:
        """Whether its state is another one, or it came or went."""
        return self.before is None or self.after is None or self.before.state is not self.after.state


def changed_findings(before: Sequence[Finding], after: Sequence[Finding]) -> list[FindingChange]:
    """Return what changed, those of another state first, then in the order of the later version."""
    old = {finding.code: finding for finding in before}
    new = {finding.code: finding for finding in after}
    codes = [*new, *(code for code in old if code not in new)]
    changes = [
        FindingChange(code, old.get(code), new.get(code))
        for code in codes
        if code not in old
        or code not in new
        or str(old[code].sentence) != str(new[code].sentence)
        or old[code].state is not new[code].state
    ]
    return sorted(changes, key=lambda change: not change.state_changed)
