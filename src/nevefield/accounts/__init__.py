"""Who may do what."""

from nevefield.accounts.keys import Keys, WrongKeys, choose_keys, keys_of
from nevefield.accounts.signing import (
    CodeNeeded,
    Level,
    SignedIn,
    Throttled,
    WrongSignIn,
    add_account,
    end_others,
    places_of,
    sight_of,
    sign_in,
    sign_out,
    who,
)
from nevefield.store.accounts import Account, Person, Session
from nevefield.store.door import DEVICE_DAYS
from nevefield.store.sight import Sight

__all__ = [
    "DEVICE_DAYS",
    "Account",
    "CodeNeeded",
    "Keys",
    "Level",
    "Person",
    "Session",
    "Sight",
    "SignedIn",
    "Throttled",
    "WrongKeys",
    "WrongSignIn",
    "add_account",
    "choose_keys",
    "end_others",
    "keys_of",
    "places_of",
    "sight_of",
    "sign_in",
    "sign_out",
    "who",
]
