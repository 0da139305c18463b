"""Who may do what."""

from nevefield.accounts.signing import (
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

__all__ = [
    "Level",
    "SignedIn",
    "Throttled",
    "WrongSignIn",
    "add_account",
    "end_others",
    "places_of",
    "sight_of",
    "sign_in",
    "sign_out",
    "who",
]
