"""The stand-in directory: a group that is changed by a few members is what it would be if it were
read and written as a whole, at once and after a restart.
"""

from __future__ import annotations

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from stand_ins.directory import app as directory

TOKEN = "of-the-directory"
WHO = ("u-1", 'q"uote', "ünder", "x y", "z")
PATCH = "urn:ietf:params:scim:api:messages:2.0:PatchOp"
GROUP = "urn:ietf:params:scim:schemas:core:2.0:Group"


def add(names: list[str]) -> dict:
    return {"op": "add", "path": "members", "value": [{"value": one} for one in names]}


def remove(name: str) -> dict:
    quoted = name.replace('"', '\\"')
    return {"op": "remove", "path": f'members[value eq "{quoted}"]'}


some = st.lists(st.sampled_from(WHO), max_size=3, unique=True)
operation = (
    st.builds(add, some)
    | st.builds(remove, st.sampled_from(WHO))
    | st.just({"op": "replace", "path": "displayName", "value": "Another"})
    | st.just({"op": "remove", "path": "members"})
    | st.just({"op": "add", "path": "members", "value": "nobody"})
    | st.just({"op": "turn", "path": "members"})
)


def groups_after(folder, changes: list[list[dict]]) -> tuple[list[int], dict, dict]:
    """What was refused of the changes (0: was not), and the group then and after a restart."""
    headers = {"Authorization": f"Bearer {TOKEN}"}
    client = directory.make_app(TOKEN, folder=folder).test_client()
    made = client.post(
        "/v2/Groups", json={"schemas": [GROUP], "displayName": "Wards"}, headers=headers
    )
    place = f"/v2/Groups/{made.json['id']}"
    answers = [
        client.patch(place, json={"schemas": [PATCH], "Operations": one}, headers=headers)
        for one in changes
    ]
    then = client.get(place, headers=headers).json
    again = directory.make_app(TOKEN, folder=folder).test_client().get(place, headers=headers).json
    return [one.status_code if one.status_code >= 300 else 0 for one in answers], then, again


def told(group: dict) -> dict:
    return {
        "name": group["displayName"],
        "members": sorted(one["value"] for one in group.get("members", [])),
    }


@settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(changes=st.lists(st.lists(operation, min_size=1, max_size=3), max_size=6))
def test_a_group_is_what_was_asked(tmp_path_factory, changes):
    """By the short way and by the long one."""
    short = groups_after(tmp_path_factory.mktemp("short"), changes)
    with pytest.MonkeyPatch.context() as patched:
        patched.setattr(directory, "_members", lambda name, asked: None)
        whole = groups_after(tmp_path_factory.mktemp("long"), changes)
    assert short[0] == whole[0]
    assert told(short[1]) == told(whole[1])
    assert short[1] == short[2]
    assert whole[1] == whole[2]
