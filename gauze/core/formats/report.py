"""Findings as text for a terminal, and as JSON for programs."""

from collections.abc import Sequence
from typing import Any

import msgspec

from gauze.core.design import Design
from gauze.core.design.design import LONGEST_NAME
from gauze.core.evaluate import Finding, verdict_of
from gauze.core.printable import printable
from gauze.core.words import ENGLISH, Reader, say

_MARKS = {"good": "ok  ", "note": "note", "watch": "check", "fails": "FAIL"}


def report_text(design: Design, findings: Sequence[Finding], reader: Reader = ENGLISH) -> str:
    """The verdict, and one line for each finding, its working indented below."""
    read = reader.read
    lines = [f"{printable(design.name, LONGEST_NAME)}: {read(verdict_of(findings).sentence)}"]
    for finding in findings:
        lines.append(f"  {_MARKS[finding.state.value]}  {_line(read(finding.sentence))}")
        for figure in finding.figures:
            source = f"  [{read(figure.source)}]" if figure.source else ""
            how = f"  {read(figure.how)}" if figure.how else ""
            lines.append(_line(f"          {read(figure.name)}: {read(figure.value)}{how}{source}"))
        lines += ["          " + read(say("Caution: {text}", text=say(one.value))) for one in finding.cautions]
    return "\n".join(lines)


def _line(text: str) -> str:
    """A line of the report: names of own sheets in it may hold anything."""
    return printable(text, most=len(text))


def report_json(design: Design, findings: Sequence[Finding], reader: Reader = ENGLISH) -> bytes:
    """The verdict, and every finding: code, state, value, unit, limit, spread, sentence, the figures behind it, cautions."""
    read, verdict = reader.read, verdict_of(findings)
    body: dict[str, Any] = {
        "design": design.name,
        "verdict": {"state": verdict.state.value, "sentence": read(verdict.sentence)},
        "findings": [
            {
                "code": finding.code,
                "place": finding.place,
                "state": finding.state.value,
                "value": finding.value,
                "unit": finding.unit,
                "limit": finding.limit,
                "spread": finding.spread,
                "sentence": read(finding.sentence),
                "figures": [
                    {"name": read(f.name), "value": read(f.value), "how": read(f.how), "source": read(f.source)}
                    for f in finding.figures
                ],
                "cautions": [read(say(caution.value)) for caution in finding.cautions],
            }
            for finding in findings
        ],
    }
    return msgspec.json.format(msgspec.json.encode(body), indent=2) + b"\n"
