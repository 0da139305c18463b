"""Who may do what."""

from nevefield.accounts.signing import Level, Throttled, WrongSignIn, add_account, may, sign_in, sign_out, who

__all__ = ["Level", "Throttled", "WrongSignIn", "add_account", "may", "sign_in", "sign_out", "who"]
