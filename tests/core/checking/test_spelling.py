"""Codes written otherwise than listed, of fields that take several values too."""

from __future__ import annotations

import copy

from nevefield.core.defining.reading import read_definition
from tests.core.world import DOCUMENT, SNAPSHOT, findings, outcomes, work_out

DOC = copy.deepcopy(DOCUMENT)
DOC["fields"][9]["nevefield"]["codeList"] = "dept"  # `port` takes several
DOC["nevefield"]["checks"] = [{"check": "spelling", "fields": ["port"]}]
SPELT = read_definition(DOC)


def test_each_of_several_is_looked_at():
    """One of several in another case is asked about; the remedy writes the cell anew with what
    the others are.
    """
    evaluation = work_out(
        "no;name;port\n2;Tove;MEN|nav\n3;Una;MEN\n", snapshot=SNAPSHOT, definition=SPELT
    )
    assert findings(evaluation) == {(2, "port", "spelling")}
    (cause,) = [one for one in evaluation.causes if one.hit.check == "spelling"]
    assert cause.hit.title == "“MEN|nav” is nearly “Engines, Navigation”"
    assert cause.remedies[0].value == "MEN|NAV"
    said = {
        "kind": "translate",
        "field": "port",
        "texts": ["MEN|nav"],
        "to": cause.remedies[0].value,
    }
    after = work_out(
        "no;name;port\n2;Tove;MEN|nav\n3;Una;MEN\n", said, snapshot=SNAPSHOT, definition=SPELT
    )
    assert (findings(after), outcomes(after)[2]) == (set(), "changed")
