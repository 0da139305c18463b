"""What the directory holds: users and groups, found by their names at once, kept in a journal."""

from __future__ import annotations

import hashlib
import hmac
import json
import os
import threading
import uuid
from collections.abc import Collection
from pathlib import Path
from typing import Any

__all__ = ["KINDS", "Kept", "Resource"]

COST = 2**12  # of scrypt: this is a stand-in
KINDS = {"Users": "userName", "Groups": "displayName"}
DIGEST = "digest"  # the kind of a line of the journal that has a password's digest
MOVED = "moved"  # the kind of one that has who came into a group, and who left
INDEXED = ("userName", "externalId", "displayName")
Resource = dict[str, Any]


class Kept:
    """Users and groups.

    Args:
        journal: A file with a line for each alteration; None to keep nothing.
    """

    def __init__(self, journal: Path | None = None) -> None:
        self.lock = threading.RLock()
        self._passwords: dict[str, str] = {}  # by user, salted and digested
        self._all: dict[str, dict[str, Resource]] = {kind: {} for kind in KINDS}
        self._by: dict[tuple[str, str], dict[str, set[str]]] = {}
        self._groups_of: dict[str, set[str]] = {}
        self._journal = journal
        if journal is not None and journal.exists():
            for line in journal.read_text("utf-8").splitlines():
                kind, name, resource = json.loads(line)
                if kind == DIGEST:
                    self._passwords[name] = resource
                elif kind == MOVED:
                    self._move(name, resource["add"], set(resource["drop"]))
                else:
                    self._set(kind, name, resource)

    def get(self, kind: str, name: str) -> Resource | None:
        """Give a resource as it stands, with the groups that a user is in."""
        found = self._all[kind].get(name)
        if found is None or kind != "Users":
            return found
        groups = sorted(self._groups_of.get(name, ()))
        shown = [
            {"value": group, "display": self._all["Groups"][group]["displayName"]}
            for group in groups
        ]
        return found | {"groups": shown} if shown else found

    def find(self, kind: str, attribute: str, value: str) -> list[str]:
        """Find resources by what one attribute is, without regard to case but for externalId."""
        if attribute in INDEXED:
            return sorted(self._by.get((kind, attribute), {}).get(_fold(attribute, value), ()))
        return [
            name
            for name, one in self._all[kind].items()
            if str(one.get(attribute, "")).casefold() == value.casefold()
        ]

    def list(self, kind: str) -> list[str]:
        """List all, in the order of their making."""
        return list(self._all[kind])

    def is_taken(self, kind: str, resource: Resource, name: str) -> bool:
        """Tell whether another has the name that must be unique."""
        attribute = KINDS[kind]
        return bool(set(self.find(kind, attribute, str(resource.get(attribute, "")))) - {name})

    def put(self, kind: str, name: str, resource: Resource) -> Resource:
        """Keep a resource under its name; "" for a new one."""
        name = name or uuid.uuid4().hex
        kept = {key: value for key, value in resource.items() if key not in ("meta", "groups")}
        kept["id"] = name
        _seal(kind, kept)
        self._set(kind, name, kept)
        self._note(kind, name, kept)
        return self.get(kind, name) or kept

    def move(self, name: str, add: list[Resource], drop: Collection[str]) -> Resource:
        """Let members into a group, and out of it."""
        self._note(MOVED, name, {"add": add, "drop": sorted(drop)})
        return self._move(name, add, drop)

    def _move(self, name: str, add: list[Resource], drop: Collection[str]) -> Resource:
        before = self._all["Groups"][name]
        members = {str(one.get("value")): one for one in before.get("members") or []}
        members = {who: one for who, one in members.items() if who not in drop}
        members |= {str(one["value"]): one for one in add}
        group = {key: value for key, value in before.items() if key not in ("meta", "members")}
        if members:
            group["members"] = list(members.values())
        _seal("Groups", group)
        self._all["Groups"][name] = group
        for who in drop:
            self._groups_of.get(who, set()).discard(name)
        for one in add:
            self._groups_of.setdefault(str(one["value"]), set()).add(name)
        return group

    def set_password(self, name: str, password: str) -> None:
        """Keep a user's password, so that nobody can read it."""
        salt = os.urandom(16)
        self._passwords[name] = f"{salt.hex()} {_digest(salt, password)}"
        self._note(DIGEST, name, self._passwords[name])

    def has_password(self, name: str) -> bool:
        """Tell whether a user has one."""
        return name in self._passwords

    def fits(self, name: str, password: str) -> bool:
        """Tell whether a password is a user's."""
        salt, _, digest = self._passwords.get(name, "").partition(" ")
        return bool(digest) and hmac.compare_digest(digest, _digest(bytes.fromhex(salt), password))

    def drop(self, kind: str, name: str) -> None:
        """Let a resource go, out of its groups too."""
        for group in list(self._groups_of.get(name, ())):
            whole = self._all["Groups"][group]
            members = [one for one in whole.get("members", []) if one.get("value") != name]
            self.put("Groups", group, whole | {"members": members})
        self._set(kind, name, None)
        self._note(kind, name, None)

    def _set(self, kind: str, name: str, resource: Resource | None) -> None:
        before = self._all[kind].pop(name, None) if resource is None else self._all[kind].get(name)
        for attribute in INDEXED:
            for one, add in ((before, False), (resource, True)):
                value = str((one or {}).get(attribute) or "")
                if value:
                    names = self._by.setdefault((kind, attribute), {}).setdefault(
                        _fold(attribute, value), set()
                    )
                    names.add(name) if add else names.discard(name)
        if kind == "Groups":
            for one in (before or {}).get("members") or []:
                self._groups_of.get(str(one.get("value")), set()).discard(name)
            for one in (resource or {}).get("members") or []:
                self._groups_of.setdefault(str(one.get("value")), set()).add(name)
        if resource is None:
            self._passwords.pop(name, None)
        else:
            self._all[kind][name] = resource

    def _note(self, kind: str, name: str, resource: Resource | str | None) -> None:
        if self._journal is not None:
            with self._journal.open("a", encoding="utf-8") as file:
                file.write(json.dumps([kind, name, resource], ensure_ascii=False) + "\n")


def _seal(kind: str, resource: Resource) -> None:
    """Give a resource the version that what it holds has."""
    text = json.dumps(resource, sort_keys=True, ensure_ascii=False)
    version = f'W/"{hashlib.blake2b(text.encode(), digest_size=8).hexdigest()}"'
    resource["meta"] = {"resourceType": kind[:-1], "version": version}


def _digest(salt: bytes, password: str) -> str:
    return hashlib.scrypt(password.encode(), salt=salt, n=COST, r=8, p=1).hex()


def _fold(attribute: str, value: str) -> str:
    return value if attribute == "externalId" else value.casefold()
