"""What clients say beyond what they are given to write: passed over, and said to them.

Many write a whole person of the standard, whatever `/Schemas` says. What the layout does not take
is left out before the protocol looks at the rest (RFC 7644, 3.3 and 3.5: a server may ignore what
it does not take).
"""

from __future__ import annotations

import json
import re
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from collections.abc import Mapping

    from scim2_models import ScimProvider

__all__ = ["Taken", "leave_out", "taken_of"]

COMMON = frozenset({"schemas", "id", "externalid", "meta"})
CORE = "urn:ietf:params:scim:schemas:core:2.0:user"
_NAME = re.compile(r"([A-Za-z$][\w$-]*)(?:\[[^\]]*\])?(?:\.([A-Za-z$][\w$-]*))?")
_PATH = re.compile(rf"(?:urn:[A-Za-z0-9:._-]+:)?{_NAME.pattern}|urn:[A-Za-z0-9:._-]+")
Document = dict[str, Any]


@dataclass(frozen=True)
class Taken:
    """What of a person is known here: parts by attribute, by schema; in small letters."""

    schemas: Mapping[str, Mapping[str, frozenset[str]]] = field(default_factory=dict)
    may_switch: bool = False  # whether they may say who is active

    def knows(self, path: str) -> bool:
        """Tell whether an attribute path is known.

        A path is `name`, `name.part`, `name[filter].part`, each with a schema's name before it.
        """
        small = path.casefold()
        for urn, attributes in self.schemas.items():
            if small == urn:
                return True
            rest = small.removeprefix(f"{urn}:") if small.startswith(f"{urn}:") else ""
            if not rest and urn == CORE and not small.startswith("urn:"):
                rest = small
            if found := _NAME.fullmatch(rest):
                name, part = found[1], found[2]
                if urn == CORE and name in COMMON:
                    return True
                return name in attributes and (not part or part in attributes[name])
        return False


def taken_of(provider: ScimProvider) -> Taken:
    """List what is known of people."""
    schemas = {
        str(schema.id).casefold(): {
            str(one.name).casefold(): frozenset(
                str(sub.name).casefold() for sub in one.sub_attributes or ()
            )
            for one in schema.attributes or ()
        }
        for schema in provider.schemas
        if not str(schema.id).endswith(":Group")
    }
    active = next(
        one
        for schema in provider.schemas
        if str(schema.id).casefold() == CORE
        for one in schema.attributes or ()
        if str(one.name).casefold() == "active"
    )
    return Taken(schemas, may_switch=str(active.mutability) != "readOnly")


def leave_out(body: bytes, taken: Taken) -> tuple[bytes, list[str]]:
    """Leave out of a person, or of what is to change of one, what is not known here; and that
    somebody is active, where nobody is held otherwise: that is so, and changes nothing.

    Returns:
        What is left, and what was left out; the same where it cannot be read, since the protocol
        says what is wrong with it.
    """
    try:
        document = json.loads(body)
    except (ValueError, RecursionError):
        return body, []
    if not isinstance(document, dict):
        return body, []
    left: list[str] = []
    if isinstance(document.get("Operations"), list):
        kept = [one for one in document["Operations"] if _keep_operation(one, taken, left)]
        document["Operations"] = kept
        # with nothing left the protocol would refuse what is no mistake: nothing is changed then
        return (json.dumps(document).encode() if kept else b""), left
    document = _person(document, taken, left)
    return json.dumps(document).encode(), left


def _keep_operation(one: Any, taken: Taken, left: list[str]) -> bool:
    if not isinstance(one, dict):
        return True
    path = one.get("path")
    if isinstance(path, str) and path:
        if path.casefold() == "active" and not taken.may_switch:
            return one.get("value") not in (True, "true", "True")
        if taken.knows(path) or not _PATH.fullmatch(path):
            return True  # of what is no path the protocol says so
        left.append(path)
        return False
    if isinstance(one.get("value"), dict):
        one["value"] = _person(one["value"], taken, left)
        if not taken.may_switch and one["value"].get("active") in (True, "true", "True"):
            del one["value"]["active"]
        return bool(one["value"])
    return True


def _person(document: Document, taken: Taken, left: list[str]) -> Document:
    found: Document = {}
    for name, value in document.items():
        if name.casefold() == "schemas" and isinstance(value, list):
            found[name] = [one for one in value if str(one).casefold() in taken.schemas]
        elif name.casefold() in taken.schemas and isinstance(value, dict):
            parts = {part: held for part, held in value.items() if taken.knows(f"{name}:{part}")}
            left += [f"{name}:{part}" for part in value if part not in parts]
            found[name] = parts
        elif not taken.knows(name):
            left.append(name)
        else:
            found[name] = _parts(name, value, taken, left)
    return found


def _parts(name: str, value: Any, taken: Taken, left: list[str]) -> Any:
    """Leave out the parts of a complex value that are not known."""
    if isinstance(value, list):
        return [_parts(name, one, taken, left) for one in value]
    if not isinstance(value, dict) or name.casefold() in COMMON:
        return value
    known = {part: held for part, held in value.items() if taken.knows(f"{name}.{part}")}
    left += [f"{name}.{part}" for part in value if part not in known]
    return known
