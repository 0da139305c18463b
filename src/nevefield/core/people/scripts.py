"""Names of other scripts in Latin letters, so that they are compared as Latin ones are, and with
these.

Source: for Cyrillic the letters of ISO 9 as passports have them (ICAO Doc 9303, part 3, table B);
for Greek ELOT 743. Letters of scripts that are not there stay as they are, and are compared as they
are.
"""

from __future__ import annotations

__all__ = ["to_latin"]

_CYRILLIC = (
    "а=a б=b в=v г=g ґ=g д=d ђ=dj е=e є=ie ж=zh з=z и=i і=i ї=i ј=j к=k л=l љ=lj м=m н=n њ=nj о=o"
    " п=p р=r с=s т=t ћ=c у=u ў=u ф=f х=kh ц=ts ч=ch џ=dz ш=sh щ=shch ъ= ы=y ь= э=e ю=iu я=ia ѓ=g"
    " ќ=k ѕ=dz ѣ=e"
)
_GREEK = (
    "α=a β=v γ=g δ=d ε=e ζ=z η=i θ=th ι=i κ=k λ=l μ=m ν=n ξ=x ο=o π=p ρ=r σ=s ς=s τ=t υ=y φ=f χ=ch"
    " ψ=ps ω=o"
)
_TABLE = str.maketrans(dict(pair.split("=") for pair in f"{_CYRILLIC} {_GREEK}".split()))


def to_latin(text: str) -> str:
    """Write small letters of Cyrillic and Greek in Latin ones.

    >>> to_latin("желязков"), to_latin("αθανασιου"), to_latin("zoe"), to_latin("王")
    ('zheliazkov', 'athanasioy', 'zoe', '王')
    """
    return text if text.isascii() else text.translate(_TABLE)
