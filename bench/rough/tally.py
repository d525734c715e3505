"""What a rough run counts and what went wrong in it."""

import traceback
from collections import Counter
from dataclasses import dataclass, field

_MOST_EXAMPLES = 3


@dataclass
class Tally:
    """Counts of what was done, and of faults by where they arose, each with a few examples."""

    done: Counter[str] = field(default_factory=Counter)
    faults: Counter[str] = field(default_factory=Counter)
    examples: dict[str, list[str]] = field(default_factory=dict)

    def fault(self, what: str, example: str) -> None:
        """Count a fault."""
        self.faults[what] += 1
        kept = self.examples.setdefault(what, [])
        if len(kept) < _MOST_EXAMPLES:
            kept.append(example)

    def error(self, error: BaseException, example: str) -> None:
        """Count an exception, by its kind and the line that raised it."""
        frames = traceback.extract_tb(error.__traceback__)
        place = f"{frames[-1].filename.rsplit('/', 1)[-1]}:{frames[-1].lineno}" if frames else "nowhere"
        self.fault(f"{type(error).__name__} at {place}", f"{str(error)[:120]}: {example}")

    def report(self, title: str) -> str:
        """Write it up."""
        lines = [title, "  " + ", ".join(f"{count} {what}" for what, count in self.done.most_common())]
        lines.append(f"  {sum(self.faults.values())} faults")
        for what, count in self.faults.most_common():
            lines.append(f"    {count} x {what}")
            lines += [f"        {example}" for example in self.examples[what]]
        return "\n".join(lines)
