"""The second step: codes of an app fit once and around now, recovery codes once; what is kept tells
nobody the secret; whoever lost both is helped.
"""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, timedelta

import pyotp
import pytest

from nevefield.accounts import CodeNeeded, Level, Throttled, add_account, second, who
from nevefield.accounts.errors import NoStepKey, NotBegun, WrongCode, WrongPassword
from nevefield.accounts.people import find_account
from nevefield.accounts.second import (
    begin_second,
    confirm,
    how_it_stands,
    new_codes,
    turn_off,
    turn_off_of,
)
from nevefield.context import Context

PASSWORD = "herring ladder quartz"
AT = "10.0.0.9"


@pytest.fixture
def keyed(bare) -> Context:
    return replace(bare, settings=replace(bare.settings, step_key="a key", attempts=20))


@pytest.fixture
def zoe(keyed):
    return find_account(keyed, add_account(keyed, "zoë", "Zoë Ωραίου", PASSWORD, Level.PREPARE))


def enter(context: Context, code: str = "", password: str = PASSWORD):
    return second.enter(context, "zoë", password, AT, code=code)


@pytest.fixture
def app(keyed, zoe):
    """An app with the secret, confirmed; and the recovery codes."""
    first = enter(keyed)
    begun = begin_second(keyed, zoe, "Χορωδία & Söhne")
    assert "issuer=%CE%A7" in begun.address
    assert begun.picture.startswith("<svg")
    otp = pyotp.TOTP(begun.secret)
    with pytest.raises(WrongCode):
        confirm(keyed, zoe, "000000", first.token)
    enter(keyed)  # until a code has fitted, the password is enough
    codes = confirm(keyed, zoe, now_of(keyed, otp), first.token)
    return otp, codes, first.token


def now_of(context: Context, otp: pyotp.TOTP, seconds: int = 0) -> str:
    return otp.at(context.now().replace(tzinfo=UTC) + timedelta(seconds=seconds))


def test_a_code_fits_once_and_around_now(keyed, app, clock):
    """The code of the half minute before and after fits too; none twice, none that is older than
    one that was used; spaces do not matter.
    """
    otp, _, _ = app
    with pytest.raises(CodeNeeded) as asked:
        enter(keyed)
    assert not asked.value.is_wrong
    with pytest.raises(CodeNeeded) as used:  # by which it was confirmed
        enter(keyed, now_of(keyed, otp))
    assert used.value.is_wrong
    ahead = now_of(keyed, otp, 30)
    enter(keyed, f"{ahead[:3]} {ahead[3:]}")
    for code in (
        ahead,
        now_of(keyed, otp),
        now_of(keyed, otp, 90),
        "12345",
        "abcdef",
        "１２３４５６",
    ):
        with pytest.raises(CodeNeeded):
            enter(keyed, code)
    clock.move(seconds=120)
    enter(keyed, now_of(keyed, otp, -30))


def test_a_recovery_code_fits_once(keyed, zoe, app):
    """Each of ten, however it is written, once; new ones put the old ones out of use."""
    _, codes, _ = app
    assert len(set(codes)) == 10
    enter(keyed, codes[0].upper().replace("-", " "))
    with pytest.raises(CodeNeeded):
        enter(keyed, codes[0])
    assert how_it_stands(keyed, zoe).codes_left == 9
    with pytest.raises(WrongPassword):
        new_codes(keyed, zoe, "not the password")
    fresh = new_codes(keyed, zoe, PASSWORD)
    with pytest.raises(CodeNeeded):
        enter(keyed, codes[1])
    enter(keyed, fresh[1])


def test_switching_it_on_ends_other_sessions(keyed, app):
    """Where one signed in before it was on, one is signed out; where it was switched on, not."""
    _, codes, token = app
    assert who(keyed, token) is not None
    with keyed.database.transaction() as connection:
        assert connection.row("SELECT COUNT(*) FROM session") == (1,)
    enter(keyed, codes[2])


def test_the_password_alone_is_not_enough(keyed, app):
    """A wrong password tells nothing of a second step; tries of codes make one wait like any."""
    with pytest.raises(Exception, match="do not fit together"):
        enter(keyed, "", "another password")
    few = replace(keyed, settings=replace(keyed.settings, attempts=3))
    with pytest.raises(Throttled):
        for _ in range(6):
            with pytest.raises(CodeNeeded):
                enter(few, "111111")


def test_what_is_kept_tells_nobody_the_secret(keyed, zoe, app):
    """Neither secret nor codes stand in the database; with another key nobody gets in by chance,
    and it is said why.
    """
    otp, codes, _ = app
    with keyed.database.transaction() as connection:
        kept = repr(connection.rows("SELECT account_id, secret FROM second_step"))
        kept += repr(connection.rows("SELECT digest FROM recovery_code"))
        kept += repr(connection.rows("SELECT subject, detail FROM audit"))
    assert otp.secret not in kept
    assert not any(code in kept or code.replace("-", "") in kept for code in codes)
    for key in ("another key", ""):
        other = replace(keyed, settings=replace(keyed.settings, step_key=key))
        with pytest.raises(NoStepKey):
            enter(other, now_of(keyed, otp, 30))
        assert how_it_stands(other, zoe).can_be == bool(key)


def test_taken_away(keyed, zoe, app):
    """By oneself with the password, or by who administers; and begun anew, with another secret."""
    otp, _, token = app
    with pytest.raises(NotBegun):
        begin_second(keyed, zoe, "")
    with pytest.raises(WrongPassword):
        turn_off(keyed, zoe, "not the password")
    turn_off(keyed, zoe, PASSWORD)
    enter(keyed)
    again = begin_second(keyed, zoe, "")
    assert again.secret != otp.secret
    confirm(keyed, zoe, now_of(keyed, pyotp.TOTP(again.secret)), token)
    assert turn_off_of(keyed, zoe, None)
    assert not turn_off_of(keyed, zoe, None)
    enter(keyed)
