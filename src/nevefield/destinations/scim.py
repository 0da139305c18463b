"""A client of the System for Cross-domain Identity Management 2.0.

Sources: RFC 7643 (schemas), RFC 7644 (protocol: 3.3 creating, 3.4.2 finding, 3.5 changing, 3.7
bulk, 3.14 versions).
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from contextlib import AbstractContextManager, nullcontext
from dataclasses import dataclass
from functools import lru_cache
from typing import TYPE_CHECKING, Any
from urllib.parse import quote

from nevefield.destinations.bundling import Bundle, read_offer
from nevefield.destinations.errors import Gone, Lost, Refused, Unintelligible, Unreachable

if TYPE_CHECKING:
    from nevefield.destinations.asking import Answer, Asking

__all__ = [
    "Done",
    "Held",
    "Scim",
    "entry_of",
    "parse_path",
    "read_held",
    "read_values",
    "shape_user",
]

USER = "urn:ietf:params:scim:schemas:core:2.0:User"
GROUP = "urn:ietf:params:scim:schemas:core:2.0:Group"
ENTERPRISE = "urn:ietf:params:scim:schemas:extension:enterprise:2.0:User"
PATCH = "urn:ietf:params:scim:api:messages:2.0:PatchOp"
MOVED = 412  # it is another version by now
PAGE = 200
LOST_PAUSES = (0.3, 1.5)  # seconds before it is looked whether something lost was done
MOST_PAGES = 100_000
# an attribute, of an extension or not; of several, the one that a filter names; a part of it
_PATH = re.compile(
    r"""(?:(?P<urn>urn:[^\s]+:[^\s:]+):)?
        (?P<name>[A-Za-z][\w-]*)
        (?:\[\s*(?P<by>[A-Za-z]\w*)\s+eq\s+"(?P<is>[^"]*)"\s*\])?
        (?:\.(?P<part>[A-Za-z]\w*))?""",
    re.VERBOSE,
)
# attributes that have several values with parts of their own (RFC 7643, 4.1.2)
SEVERAL = frozenset(
    {"emails", "phonenumbers", "ims", "photos", "addresses", "entitlements", "roles"}
)
BOOLEANS = frozenset({"active"})


@dataclass(frozen=True)
class Done:
    """What became of sending somebody."""

    ref: str
    answer: str  # in short
    ms: int
    was_there: bool = False  # found there although we had not put them there


@dataclass(frozen=True)
class Held:
    """Somebody whom they hold."""

    ref: str
    external: str
    is_there: bool
    resource: Mapping[str, Any]


class Scim:
    """One system, asked by its protocol.

    Args:
        asking: How it is asked.
        finds_by: Attributes by which somebody who is there already is found.
        takes_out: Whether who ends is taken out rather than switched off.
    """

    def __init__(self, asking: Asking, finds_by: Sequence[str], *, takes_out: bool) -> None:
        self._asking = asking
        self._writing: Asking | Bundle = asking
        self._finds_by = finds_by
        self._takes_out = takes_out
        self._said: Mapping[str, Any] | None = None  # what it offers

    def together(self, at_once: int) -> int:
        """Write together from now on what several threads write at one moment, where that is
        offered (RFC 7644, 3.7); tell how many threads may send then.

        Raises:
            DestinationError: It does not answer.
        """
        most, largest = read_offer(self._offers())
        if most < 2:
            return at_once
        self._writing = Bundle(self._asking, most, largest)
        return max(at_once, most)

    def part(self) -> AbstractContextManager[None]:
        """Take part, with all that a thread sends within, in what is written together."""
        return self._writing.part() if isinstance(self._writing, Bundle) else nullcontext()

    def put(self, ref: str, external: str, fields: Mapping[str, Sequence[str]]) -> Done:
        """Let them hold somebody as the fields say, and switched on.

        Args:
            ref: By which they know them; "" when that is not known.
            external: By which we know them.
            fields: Values by attribute path.

        Raises:
            DestinationError: It does not answer, or refuses.
        """
        wanted = build_user(external, fields)
        for pause in (*LOST_PAUSES, None):
            current = self._get("Users", ref) if ref else None
            found = current or self._find(external, wanted)
            if found is None:
                try:
                    return self._make(wanted)
                except Lost:
                    # it may have been made: it is looked for before it is made again
                    if pause is None:
                        raise
                    self._asking.rest(pause)
                    continue
            owner = str(found.body.get("externalId") or "")
            if not current and owner and owner != external:
                raise Refused(409, "uniqueness", f"It is the account of {owner} there.")
            ref = str(found.body.get("id", ""))
            try:
                answer = self._change("Users", ref, found, wanted)
            except Gone:
                ref = ""
                continue
            except Refused as error:
                if error.status != MOVED or pause is None:
                    raise
                continue  # it is otherwise by now: by us, where an answer was lost, or by others
            return Done(ref, str(answer.status), answer.ms, was_there=not current)
        raise Unreachable("it changes under our hands")

    def find_by(self, name: str, value: str) -> str:
        """Find by what they know whoever has a value of an attribute; "" for nobody, or several.

        Raises:
            DestinationError: It does not answer, or refuses.
        """
        query = {"filter": f'{name} eq "{_quote(value)}"', "count": "2"}
        found = _resources(self._asking.ask("GET", "/Users", query=query))
        return str(found[0].get("id", "")) if len(found) == 1 else ""

    def _make(self, wanted: Mapping[str, Any]) -> Done:
        answer = self._write("POST", "/Users", wanted)
        made = answer.body.get("id")
        if not isinstance(made, str) or not made:
            raise Unintelligible("it gave no id")
        return Done(made, str(answer.status), answer.ms)

    def end(self, ref: str) -> Done:
        """Switch somebody off, or take them out; who is gone already is that.

        Raises:
            DestinationError: It does not answer, or refuses.
        """
        for pause in (*LOST_PAUSES, None):
            try:
                if self._takes_out:
                    answer = self._write("DELETE", _path("Users", ref))
                    return Done("", str(answer.status), answer.ms)
                found = self._asking.ask("GET", _path("Users", ref))
                answer = self._change("Users", ref, found, {"active": False})
            except Gone:
                break
            except Refused as error:
                if error.status != MOVED or pause is None:
                    raise
                continue
            return Done(ref, str(answer.status), answer.ms)
        return Done("", "404", 0)

    def takes_passwords(self) -> bool:
        """Tell whether passwords may be set, as they say (RFC 7643, 5: changePassword).

        Raises:
            DestinationError: It does not answer.
        """
        try:
            config = self._asking.ask("GET", "/ServiceProviderConfig", patient=False).body
        except (Gone, Refused):
            return True  # it does not say: it is tried
        self._said = config
        return (config.get("changePassword") or {}).get("supported") is not False

    def set_password(self, ref: str, password: str) -> Done:
        """Set somebody's password, and nothing else; asked once, for somebody waits.

        Args:
            ref: By which they know them.
            password: Sent, and neither kept nor logged (RFC 7643, 4.1.1).

        Raises:
            DestinationError: It does not answer, or refuses; Gone where it does not know them.
        """
        if not self.takes_passwords():
            raise Refused(501, "changePassword", "It takes no passwords.")
        if self._has_patch():
            operation = {"op": "replace", "path": "password", "value": password}
            body: Mapping[str, Any] = {"schemas": [PATCH], "Operations": [operation]}
            answer = self._asking.ask("PATCH", _path("Users", ref), body, patient=False)
        else:
            found = self._asking.ask("GET", _path("Users", ref), patient=False)
            body = {**_writable(found.body), "password": password}
            answer = self._asking.ask(
                "PUT", _path("Users", ref), body, headers=_match(found), patient=False
            )
        return Done(ref, str(answer.status), answer.ms)

    def find_group(self, name: str) -> str:
        """Find a group by its name, or make it; give by what they know it.

        Raises:
            DestinationError: It does not answer, or refuses.
        """
        query = {"filter": f'displayName eq "{_quote(name)}"', "count": "2"}
        for pause in (*LOST_PAUSES, None):
            for one in _resources(self._asking.ask("GET", "/Groups", query=query)):
                if one.get("displayName") == name:
                    return str(one.get("id", ""))
            body = {"schemas": [GROUP], "displayName": name}
            try:
                answer = self._asking.ask("POST", "/Groups", body, once=True)
            except Lost:
                if pause is None:
                    raise
                self._asking.rest(pause)
                continue
            made = answer.body.get("id")
            if not isinstance(made, str) or not made:
                raise Unintelligible("it gave no id")
            return made
        raise Unreachable("its answers are lost")

    def move(self, group: str, add: Sequence[str], remove: Sequence[str]) -> None:
        """Let people into a group and out of it; who is in or out already stays.

        Raises:
            DestinationError: It does not answer, or refuses.
        """
        if self._has_patch():
            operations: list[dict[str, Any]] = [
                {"op": "remove", "path": f'members[value eq "{_quote(ref)}"]'} for ref in remove
            ]
            if add:
                members = [{"value": ref} for ref in add]
                operations.append({"op": "add", "path": "members", "value": members})
            try:
                body = {"schemas": [PATCH], "Operations": operations}
                self._write("PATCH", _path("Groups", group), body)
                return
            except Refused as error:
                if error.code != "noTarget":
                    raise
        for pause in (*LOST_PAUSES, None):
            found = self._asking.ask("GET", _path("Groups", group))
            there = [str(one.get("value")) for one in found.body.get("members") or []]
            members = [{"value": ref} for ref in dict.fromkeys((*there, *add)) if ref not in remove]
            whole = {**_writable(found.body), "members": members}
            try:
                self._write("PUT", _path("Groups", group), whole, headers=_match(found))
                return
            except Refused as error:
                if error.status != MOVED or pause is None:
                    raise

    def everybody(self) -> Iterator[Held]:
        """List everybody whom they hold, page by page.

        Raises:
            DestinationError: It does not answer, or says what cannot be understood.
        """
        start = 1
        for _ in range(MOST_PAGES):
            query = {"startIndex": str(start), "count": str(PAGE)}
            answer = self._asking.ask("GET", "/Users", query=query)
            page = _resources(answer)
            yield from map(read_held, page)
            start += len(page)
            if not page or start > int(answer.body.get("totalResults") or 0):
                return

    def members_of(self, group: str) -> set[str]:
        """List who is in a group there.

        Raises:
            DestinationError: It does not answer, or refuses.
        """
        found = self._asking.ask("GET", _path("Groups", group))
        return {str(one.get("value")) for one in found.body.get("members") or []}

    def groups_of(self, ref: str) -> list[str]:
        """List by what they know the groups that somebody is in; nothing where they do not say
        (RFC 7643, 4.1.2: groups are read only, and optional).

        Raises:
            DestinationError: It does not answer, or refuses.
        """
        found = self._get("Users", ref)
        groups = found.body.get("groups") if found is not None else None
        return [str(one.get("value")) for one in groups or [] if isinstance(one, dict)]

    def close(self) -> None:
        """Let go of the connections."""
        self._asking.close()

    def _get(self, kind: str, ref: str) -> Answer | None:
        try:
            return self._asking.ask("GET", _path(kind, ref))
        except Gone:
            return None

    def _find(self, external: str, wanted: Mapping[str, Any]) -> Answer | None:
        """Find somebody who is there already, by one attribute after another."""
        for name in self._finds_by:
            value = external if name == "externalId" else _first(wanted, name)
            if not value:
                continue
            query = {"filter": f'{name} eq "{_quote(value)}"', "count": "2"}
            try:
                answer = self._asking.ask("GET", "/Users", query=query)
            except Refused:
                continue  # it does not filter by this
            found = _resources(answer)
            if len(found) == 1:
                current = self._get("Users", str(found[0].get("id", "")))
                if current is not None:
                    return current
        return None

    def _change(self, kind: str, ref: str, found: Answer, wanted: Mapping[str, Any]) -> Answer:
        """Change what differs from what they hold, and nothing else."""
        merged = merge(found.body, wanted)
        changed = {
            name: value
            for name, value in merged.items()
            if name != "schemas" and found.body.get(name) != value
        }
        gone = [name for name in changed if changed[name] in (None, [], {})]
        if not changed:
            return found
        if self._has_patch():
            operations: list[dict[str, Any]] = [
                {"op": "replace", "path": name, "value": value}
                for name, value in changed.items()
                if name not in gone and not name.startswith("urn:")
            ]
            extensions = {
                name: value
                for name, value in changed.items()
                if name not in gone and name.startswith("urn:")
            }
            operations += [
                {"op": "replace", "path": f"{urn}:{part}", "value": value}
                for urn, parts in extensions.items()
                for part, value in parts.items()
                if (found.body.get(urn) or {}).get(part) != value
            ]
            operations += [{"op": "remove", "path": name} for name in gone if name in found.body]
            if not operations:
                return found
            body: Mapping[str, Any] = {"schemas": [PATCH], "Operations": operations}
            return self._write("PATCH", _path(kind, ref), body, headers=_match(found))
        whole = {name: value for name, value in _writable(merged).items() if name not in gone}
        return self._write("PUT", _path(kind, ref), whole, headers=_match(found))

    def _write(
        self, method: str, path: str, body: Any = None, headers: dict[str, str] | None = None
    ) -> Answer:
        if isinstance(self._writing, Bundle):
            return self._writing.ask(method, path, body, headers)
        return self._asking.ask(method, path, body, headers=headers, once=method == "POST")

    def _has_patch(self) -> bool:
        return bool((self._offers().get("patch") or {}).get("supported"))

    def _offers(self) -> Mapping[str, Any]:
        """Tell what it says that it offers (RFC 7643, 5); nothing where it says nothing."""
        if self._said is None:
            try:
                self._said = self._asking.ask("GET", "/ServiceProviderConfig").body
            except (Gone, Refused):
                self._said = {}
        return self._said


def read_held(resource: Mapping[str, Any]) -> Held:
    """Read somebody whom they hold."""
    return Held(
        str(resource.get("id", "")),
        str(resource.get("externalId") or ""),
        resource.get("active") is not False,
        resource,
    )


def read_values(resource: Mapping[str, Any], path: str) -> list[str]:
    """Read the values of an attribute path of somebody whom they hold.

    >>> read_values({"emails": [{"type": "work", "value": "a@b.example"}]}, 'emails[type eq "work"].value')
    ['a@b.example']
    """  # noqa: E501
    found = parse_path(path)
    if found is None:
        return []
    holder: Any = resource
    if found["urn"]:
        holder = entry_of(resource, found["urn"]) or {}
    value: Any = entry_of(holder, found["name"])
    if isinstance(value, list):
        entries = [one for one in value if isinstance(one, dict)]
        if found["by"]:
            entries = [one for one in entries if one.get(found["by"]) == found["is"]]
        values = [one.get(found["part"] or "value") for one in entries] or [
            one for one in value if not isinstance(one, dict)
        ]
    else:
        values = [value.get(found["part"]) if isinstance(value, dict) else value]
    return [
        str(one).lower() if isinstance(one, bool) else str(one)
        for one in values
        if one not in (None, "")
    ]


def entry_of(holder: Mapping[str, Any], name: str) -> Any:
    """Find an attribute without regard to case (RFC 7643, 2.1)."""
    if name in holder:
        return holder[name]
    return next((one for key, one in holder.items() if key.casefold() == name.casefold()), None)


def build_user(external: str, fields: Mapping[str, Sequence[str]]) -> dict[str, Any]:
    """Build a user from values by attribute path.

    >>> build_user("7", {"userName": ["a"], 'emails[type eq "work"].value': ["a@b.example"]})["emails"]
    [{'type': 'work', 'value': 'a@b.example'}]

    Raises:
        Refused: The protocol has no such user.
    """  # noqa: E501
    user = shape_user({"externalId": external, "active": True}, fields)
    _check(user)
    return user


def shape_user(begun: Mapping[str, Any], fields: Mapping[str, Sequence[str]]) -> dict[str, Any]:
    """Put values by attribute path over what is begun, unchecked.

    Raises:
        Refused: A path is none.
    """
    user: dict[str, Any] = {"schemas": [USER], **begun}
    for path, values in fields.items():
        found = parse_path(path)
        if found is None:
            raise Refused(400, "invalidPath", f"“{path}” is no attribute path.")
        holder = user
        if found["urn"]:
            holder = user.setdefault(found["urn"], {})
            if found["urn"] not in user["schemas"]:
                user["schemas"].append(found["urn"])
        _set(holder, found, list(values))
    return user


@lru_cache(1_000)
def parse_path(path: str) -> re.Match[str] | None:
    """Read an attribute path: urn, name, by and is of a filter, part; None for what is none."""
    return _PATH.fullmatch(path)


def _check(user: dict[str, Any]) -> None:
    """See that the protocol has such a user.

    Raises:
        Refused: It has none.
    """
    # a third of a second, for who tells a directory alone
    from scim2_models import EnterpriseUser, User

    try:
        User[EnterpriseUser].model_validate(user)
    except ValueError as error:
        raise Refused(400, "invalidValue", _say(error)) from error


def _set(holder: dict[str, Any], found: re.Match[str], values: list[str]) -> None:
    name, part = found["name"], found["part"]
    value: Any = values[0] if values else ""
    if name.casefold() in BOOLEANS:
        value = str(value).casefold() not in ("false", "no", "0", "n", "")
    if found["by"]:
        entries = holder.setdefault(name, [])
        entry = next((one for one in entries if one.get(found["by"]) == found["is"]), None)
        if entry is None:
            entry = {found["by"]: found["is"]}
            entries.append(entry)
        entry[part or "value"] = value
    elif name.casefold() in SEVERAL:
        holder[name] = [{part or "value": one} for one in values]
    elif part:
        holder.setdefault(name, {})[part] = value
    else:
        holder[name] = value


def merge(current: Mapping[str, Any], wanted: Mapping[str, Any]) -> dict[str, Any]:
    """Put what is wanted over what is held: parts that are not ours stay as they are."""
    merged = dict(current)
    for name, value in wanted.items():
        held = current.get(name)
        if name == "schemas":
            merged[name] = list(dict.fromkeys((*(held or []), *value)))
        elif isinstance(value, dict):
            merged[name] = {**(held if isinstance(held, dict) else {}), **value}
        elif isinstance(value, list) and all(isinstance(one, dict) for one in value):
            merged[name] = _merge_list(held if isinstance(held, list) else [], value)
        else:
            merged[name] = value
    return merged


def _merge_list(held: list[Any], wanted: list[dict[str, Any]]) -> list[Any]:
    types = {one.get("type") for one in wanted}
    if None in types:
        return wanted
    merged = []
    for one in wanted:
        before: dict[str, Any] = next(
            (each for each in held if each.get("type") == one["type"]), {}
        )
        merged.append({**before, **one})
    return [each for each in held if each.get("type") not in types] + merged


def _writable(resource: Mapping[str, Any]) -> dict[str, Any]:
    """Leave away what only they may write (RFC 7643, 3.1 and 4.1.2)."""
    return {name: one for name, one in resource.items() if name not in ("meta", "groups")}


def _match(found: Answer) -> dict[str, str]:
    version = found.etag or str((found.body.get("meta") or {}).get("version") or "")
    return {"If-Match": version} if version else {}


def _resources(answer: Answer) -> list[dict[str, Any]]:
    found = answer.body.get("Resources") or []
    if not isinstance(found, list) or not all(isinstance(one, dict) for one in found):
        raise Unintelligible("its list has no resources")
    return found


def _first(user: Mapping[str, Any], path: str) -> str:
    found = parse_path(path)
    if found is None:
        return ""
    value = user.get(found["name"])
    if isinstance(value, list):
        value = value[0] if value else None
    if isinstance(value, dict):
        value = value.get(found["part"] or "value")
    return str(value or "")


def _path(kind: str, ref: str) -> str:
    """Write the path of one resource; what they gave as its id is not trusted to be one step."""
    return f"/{kind}/{quote(ref, safe='')}"


def _quote(text: str) -> str:
    """Write a text into a filter (RFC 7644, 3.4.2.2: as in JSON)."""
    return text.replace("\\", "\\\\").replace('"', '\\"')


def _say(error: ValueError) -> str:
    return str(error).splitlines()[-1].strip()[:300]
