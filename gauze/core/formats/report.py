"""Findings as text for a terminal, and as JSON for programs."""

from collections.abc import Sequence
from typing import Any

import msgspec

from gauze.core.design import Design
from gauze.core.evaluate import Finding

_MARKS = {"good": "ok  ", "note": "note", "watch": "look", "fails": "FAIL"}


def report_text(design: Design, findings: Sequence[Finding]) -> str:
    """One line for each finding, its working indented below."""
    lines = [design.name]
    for finding in findings:
        lines.append(f"  {_MARKS[finding.state.value]}  {finding.sentence}")
        for figure in finding.figures:
            source = f"  [{figure.source}]" if figure.source else ""
            how = f"  {figure.how}" if figure.how else ""
            lines.append(f"          {figure.name}: {figure.value}{how}{source}")
        lines += [f"          Caution: {caution.value}" for caution in finding.cautions]
    return "\n".join(lines)


def report_json(design: Design, findings: Sequence[Finding]) -> bytes:
    """Every finding with code, state, value, unit, limit, sentence, the figures behind it, and cautions."""
    body: dict[str, Any] = {
        "design": design.name,
        "findings": [
            {
                "code": finding.code,
                "place": finding.place,
                "state": finding.state.value,
                "value": finding.value,
                "unit": finding.unit,
                "limit": finding.limit,
                "sentence": finding.sentence,
                "figures": [
                    {"name": f.name, "value": f.value, "how": f.how, "source": f.source} for f in finding.figures
                ],
                "cautions": [caution.value for caution in finding.cautions],
            }
            for finding in findings
        ],
    }
    return msgspec.json.format(msgspec.json.encode(body), indent=2) + b"\n"
