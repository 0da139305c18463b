"""Who may do what."""

from nevefield.accounts.signing import Level, Throttled, WrongSignIn, add_account, sight_of, sign_in, sign_out, who

__all__ = ["Level", "Throttled", "WrongSignIn", "add_account", "sight_of", "sign_in", "sign_out", "who"]
