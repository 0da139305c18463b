"""Which schemas an outside system is given: of the standard's, the attributes of its layout; what
they may write of them, and what they propose.

Source: RFC 7643, 4.1 (User), 4.2 (Group), 4.3 (enterprise extension), 7 (schemas).
"""

from __future__ import annotations

from copy import deepcopy
from typing import TYPE_CHECKING, Any

from scim2_models import (
    AuthenticationScheme,
    Bulk,
    ChangePassword,
    EnterpriseUser,
    ETag,
    Filter,
    Group,
    Patch,
    ResourceType,
    Schema,
    ScimProvider,
    ServiceProviderConfig,
    Sort,
    User,
)

from nevefield.core.errors import WrongDestination
from nevefield.core.passing.incoming import is_writable
from nevefield.destinations.scim import parse_path
from nevefield.passing_on.urns import (
    ENTERPRISE,
    GROUP,
    MOST_BYTES,
    MOST_FOUND,
    MOST_OPERATIONS,
    PROPOSAL,
    USER,
)

if TYPE_CHECKING:
    from collections.abc import Iterable

    from nevefield.core.passing.destination import Destination

__all__ = ["check_way", "make_provider"]

Document = dict[str, Any]


def make_provider(destination: Destination, *, writes: bool) -> ScimProvider:
    """Describe what is given out of a destination.

    Args:
        destination: With its layouts.
        writes: Whether what they write is taken as a proposal.

    Raises:
        WrongDestination: The standard has no such attribute.
    """
    puts: dict[str, tuple[str, bool]] = {}
    for index, share in enumerate(destination.shares):
        for number, put in enumerate(share.puts):
            puts.setdefault(put.to, (f"shares.{index}.puts.{number}.to", False))
            if writes and is_writable(put):
                puts[put.to] = (puts[put.to][0], True)
    schemas = _user_schemas(puts)
    has_groups = any(share.groups for share in destination.shares)
    if has_groups:
        schemas[USER]["attributes"].append(_attribute(User, "groups"))
        schemas[GROUP] = _group_schema(writes=writes)
    if writes:
        schemas[PROPOSAL] = _proposal_schema()
    types = [
        _resource_type("User", "/Users", USER, [one for one in schemas if one not in (USER, GROUP)])
    ]
    if has_groups:
        types.append(_resource_type("Group", "/Groups", GROUP, [PROPOSAL] if writes else []))
    return ScimProvider.from_discovery(
        [Schema.model_validate(one) for one in schemas.values()], types, _config(writes=writes)
    )


def _user_schemas(puts: dict[str, tuple[str, bool]]) -> dict[str, Document]:
    """Make the schemas of people, by what they are called: core first."""
    schemas: dict[str, Document] = {USER: _schema(USER, "User")}
    schemas[USER]["attributes"].append(_attribute(User, "userName"))
    writes = {path.casefold(): can for path, (_, can) in puts.items()}
    if "active" not in writes:  # whoever is held is
        schemas[USER]["attributes"].append(
            (_attribute(User, "active") or {}) | {"mutability": "readOnly"}
        )
    if not writes.get("username"):
        schemas[USER]["attributes"][0]["mutability"] = "readOnly"
        schemas[USER]["attributes"][0]["required"] = False
    for path, (place, can) in puts.items():
        found = parse_path(path)
        if found is None:
            raise WrongDestination(place, f"“{path}” is no attribute path (RFC 7644, 3.10).")
        urn, name, part = found["urn"] or USER, found["name"], found["part"]
        if urn == USER and name.casefold() in ("username", "externalid", "id"):
            continue
        schema = schemas.setdefault(urn, _schema(urn, urn.rsplit(":", 1)[-1]))
        source = {USER: User, ENTERPRISE: EnterpriseUser}.get(urn)
        if source is None:
            known: Document | None = {**_PLAIN, "name": name}
        else:
            known = _attribute(source, name)
        if known is None or known["mutability"] == "readOnly" or name == "password":
            raise WrongDestination(place, f"the standard has no {name} that could be filled.")
        _put(
            schema, known, [part, found["by"]] if known["type"] == "complex" else [], place, can=can
        )
    return schemas


_PLAIN: Document = {
    "type": "string",
    "multiValued": False,
    "description": "As this institution has it.",
    "required": False,
    "caseExact": True,
    "mutability": "readWrite",
    "returned": "default",
    "uniqueness": "none",
}


def _put(
    schema: Document, known: Document, parts: Iterable[str | None], place: str, *, can: bool
) -> None:
    """Put an attribute into a schema, with those of its parts that are used."""
    own = next((one for one in schema["attributes"] if one["name"] == known["name"]), None)
    if own is None:
        own = deepcopy(known) | {"mutability": "readOnly", "subAttributes": []}
        if known["type"] != "complex":
            del own["subAttributes"]
        schema["attributes"].append(own)
    for part in parts:
        if part is None and known["multiValued"]:
            part = "value"
        if part is None:
            continue
        sub = next((one for one in known["subAttributes"] if one["name"] == part), None)
        if sub is None:
            raise WrongDestination(place, f"the standard has no {part} of {known['name']}.")
        held = next((one for one in own["subAttributes"] if one["name"] == part), None)
        if held is None:
            held = deepcopy(sub) | {"mutability": "readOnly"}
            own["subAttributes"].append(held)
        if can:
            held["mutability"] = "readWrite"
    if known["type"] == "complex" and not own["subAttributes"]:
        raise WrongDestination(place, f"say which part of {known['name']} is filled.")
    if can:
        own["mutability"] = "readWrite"


def _attribute(source: type[Any], name: str) -> Document | None:
    """Give an attribute as the standard has it."""
    schema = source.to_schema().model_dump(by_alias=True, mode="json")
    found = next(
        (one for one in schema["attributes"] if one["name"].casefold() == name.casefold()), None
    )
    return deepcopy(found) if found else None


def _schema(urn: str, name: str) -> Document:
    return {
        "schemas": ["urn:ietf:params:scim:schemas:core:2.0:Schema"],
        "id": urn,
        "name": name,
        "description": name,
        "attributes": [],
    }


def _group_schema(*, writes: bool) -> Document:
    schema: Document = Group.to_schema().model_dump(by_alias=True, mode="json")
    members = next(one for one in schema["attributes"] if one["name"] == "members")
    members["subAttributes"] = [
        one
        for one in members["subAttributes"]
        if one["name"] in ("value", "$ref", "type", "display")
    ]
    for one in members["subAttributes"]:
        if one["name"] == "$ref":
            one["referenceTypes"] = ["User"]
        if one["name"] == "type":
            one["canonicalValues"] = ["User"]
    if not writes:
        for one in (*schema["attributes"], *members["subAttributes"]):
            one["mutability"], one["required"] = "readOnly", False
    return schema


def _proposal_schema() -> Document:
    schema = _schema(PROPOSAL, "Proposal")
    schema["attributes"].append(
        {**_PLAIN, "name": "note", "description": "Words to whoever decides of it."}
    )
    words = {
        "state": "What became of it: waiting, or on the desk of whoever keeps the roster.",
        "intake": "The number of the intake in which it is looked at.",
    }
    for name, description in words.items():
        schema["attributes"].append(
            {
                **_PLAIN,
                "name": name,
                "description": description,
                "mutability": "readOnly",
                "returned": "request",
            }
        )
    return schema


def _resource_type(
    name: str, endpoint: str, schema: str, extensions: Iterable[str]
) -> ResourceType:
    return ResourceType.model_validate(
        {
            "schemas": ["urn:ietf:params:scim:schemas:core:2.0:ResourceType"],
            "id": name,
            "name": name,
            "endpoint": endpoint,
            "schema": schema,
            "schemaExtensions": [{"schema": one, "required": False} for one in extensions],
        }
    )


def _config(*, writes: bool) -> ServiceProviderConfig:
    return ServiceProviderConfig(
        patch=Patch(supported=writes),
        bulk=Bulk(
            supported=writes,
            max_operations=MOST_OPERATIONS if writes else 0,
            max_payload_size=MOST_BYTES if writes else 0,
        ),
        filter=Filter(supported=True, max_results=MOST_FOUND),
        change_password=ChangePassword(supported=False),
        sort=Sort(supported=True),
        etag=ETag(supported=True),
        authentication_schemes=[
            AuthenticationScheme(
                type=AuthenticationScheme.Type.oauthbearertoken,
                name="Token",
                description="The token that was made for this system, in the Authorization header.",
            )
        ],
    )


def check_way(destination: Destination) -> None:
    """See that the standard has every attribute that is filled.

    Raises:
        WrongDestination: With the place.
    """
    make_provider(destination, writes=True)
