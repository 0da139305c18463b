"""A small roster for tests of the core, and a way to evaluate text against it."""

from __future__ import annotations

from datetime import date

from nevefield.core.checking.causes import iter_findings
from nevefield.core.codes import read_codes
from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Evaluation, Inputs, evaluate
from nevefield.core.snapshot import Snapshot
from nevefield.core.steps import read_step
from nevefield.core.tally import OUTCOMES

TODAY = date(2026, 9, 1)
CODES = read_codes(
    "list,code,label,parent\ndept,NAV,Navigation,\ndept,MEN,Engines,\nprog,DECK,Deck,NAV\nprog,ENGR,Engineer,MEN\n"
)
DOCUMENT = {
    "name": "crew",
    "title": "Crew",
    "primaryKey": "no",
    "uniqueKeys": ["mail"],
    "fields": [
        {"name": "no", "constraints": {"required": True, "unique": True}},
        {"name": "name", "constraints": {"required": True}, "nevefield": {"means": "family-name"}},
        {"name": "mail", "format": "email"},
        {"name": "dept", "nevefield": {"codeList": "dept"}},
        {"name": "prog", "nevefield": {"codeList": "prog", "parent": "dept"}},
        {"name": "born", "type": "date"},
        {"name": "from", "type": "date"},
        {"name": "to", "type": "date"},
        {"name": "guardian"},
        {"name": "port", "nevefield": {"several": ";"}},
        {"name": "credits", "type": "number"},
    ],
    "nevefield": {
        "keys": ["no", "mail"],
        "checks": [
            {"check": "order", "fields": ["from", "to"]},
            {
                "check": "required-when",
                "fields": ["guardian"],
                "when": {"field": "born", "under": 18, "on": "2026-09-01"},
            },
        ],
    },
}
CREW = read_definition(DOCUMENT)
ROSTER = [
    {
        "no": "1",
        "name": "Ines",
        "mail": "ines@q.example",
        "dept": "NAV",
        "prog": "DECK",
        "credits": "12.5",
    },
    {
        "no": "2",
        "name": "Tove",
        "mail": "tove@q.example",
        "dept": "MEN",
        "prog": "ENGR",
        "port": ["DNS", "SKV"],
    },
    {"no": "3", "name": "Una"},
]
SNAPSHOT = Snapshot.of_values(CREW, [11, 12, 13], ROSTER, 4)


def work_out(
    text: str,
    *steps: dict,
    snapshot: Snapshot = SNAPSHOT,
    definition=CREW,
    coverage: str = "listed",
) -> Evaluation:
    """Evaluate a file's text, `;` or `,` between the cells."""
    return evaluate(
        Inputs(
            text.encode(),
            [read_step(step) for step in steps],
            definition,
            CODES,
            snapshot,
            TODAY,
            coverage=coverage,
        )
    )


def outcomes(evaluation: Evaluation) -> dict[int, str]:
    """The outcome of each line."""
    return {
        int(line): OUTCOMES[one]
        for line, one in zip(evaluation.table.lines, evaluation.outcomes, strict=True)
    }


def findings(evaluation: Evaluation, *, notes: bool = False) -> set[tuple[int, str | None, str]]:
    """Line, field and check of each finding that stops or asks."""
    return {
        (finding.line, finding.field, finding.check)
        for cause in evaluation.causes
        for finding in iter_findings(cause, evaluation.facts)
        if notes or finding.weight != "note"
    }
