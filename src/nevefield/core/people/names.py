"""Names: what they sound like, and which stand for each other."""

from __future__ import annotations

from functools import lru_cache

__all__ = ["NICKNAMES", "nickname_groups", "soundex"]

_SOUNDS = {
    **dict.fromkeys("bfpv", "1"),
    **dict.fromkeys("cgjkqsxz", "2"),
    **dict.fromkeys("dt", "3"),
    "l": "4",
    **dict.fromkeys("mn", "5"),
    "r": "6",
}


@lru_cache(200_000)
def soundex(name: str) -> str:
    """Write what a name sounds like: Soundex, as the National Archives of the United States describe it for the census.

    Args:
        name: In small plain letters; of several words all are taken as one.

    >>> soundex("tymczak"), soundex("pfister"), soundex("honeyman"), soundex("ashcraft")
    ('t522', 'p236', 'h555', 'a261')
    """
    letters = name.replace(" ", "")
    if not letters or not letters.isascii():  # of other letters the census says nothing
        return ""
    out, last = letters[0], _SOUNDS.get(letters[0], "")
    for letter in letters[1:]:
        sound = _SOUNDS.get(letter, "")
        if sound and sound != last:
            out += sound
        if letter not in "hw":  # they do not part equal sounds; vowels do
            last = sound
        if len(out) == 4:
            break
    return out.ljust(4, "0")


# Given names that stand for each other, as people use them: a line a name, the one on the birth certificate first.
NICKNAMES = """
alexander alex alec sandy xander sasha lex
alexandra alex sandra sasha lexie alexa
andrew andy drew
anthony tony
benjamin ben benny benji
catherine katherine kathryn kate katie cathy kathy kat kitty cath
charles charlie chuck chas
charlotte charlie lottie
christopher chris kit topher
christine christina chris tina chrissie
daniel dan danny
david dave davy
deborah debbie deb
edward ed eddie ted teddy ned
eleanor ellie nell nora
elizabeth liz lizzie beth betty eliza libby elsie bess lisa
emily em emmy millie
florence flo florrie
francis frank frankie
frances fran frankie fanny
frederick fred freddie
gabriel gabe
gabriella gabrielle gabby ella
george georgie
gerald gerry jerry
gregory greg
harold harry hal
henry harry hal hank
isabella isabel isobel bella izzy
jacob jake
jacqueline jackie
james jim jimmy jamie
jennifer jen jenny
jessica jess jessie
john jack johnny jon
jonathan jon johnny
joseph joe joey
josephine jo josie
joshua josh
joanna jo joanne
katarina katja katya kat
kenneth ken kenny
lawrence laurence larry laurie
leonard len lenny leo
louis lou
louise lou
lucas luke
lucy lucinda
margaret maggie meg peggy madge greta rita
maria mary marie mia
martin marty
matthew matt
matilda tilly mattie
maximilian max
michael mike mick mickey
mohammed muhammad mohamed mohammad mo
natalie nat
nathaniel nathan nat nate
nicholas nick nicky nico
nicola nicky nikki
olivia liv livvy
oliver ollie
pamela pam
patricia pat patsy tricia trish
patrick pat paddy
peter pete
philip phillip phil pip
rachel rach
raymond ray
rebecca becky becca
richard rick dick richie ricky
robert rob bob bobby robbie bert
ronald ron ronnie
rosemary rose rosie
samantha sam sammy
samuel sam sammy
sarah sally sadie
simon si
sophia sophie
stephen steven steve stevie
stephanie steph
susan sue susie suzanne
terence terry
theodore theo ted
theresa teresa tess terry
thomas tom tommy
timothy tim
valentina tina
victoria vicky tori
vincent vince vinny
william will bill billy willy liam
zachary zach zac
"""
_GROUPS: dict[str, int] = {}
for _number, _line in enumerate(NICKNAMES.split("\n")[1:-1]):
    for _name in _line.split():
        _GROUPS[_name] = _GROUPS.get(_name, 0) | 1 << (_number % 62)  # two groups may share a bit: rare, and only near


def nickname_groups(name: str) -> int:
    """Tell which groups of names that stand for each other a name's first word is in, as bits of a number.

    >>> bool(nickname_groups("bill") & nickname_groups("william henry")), nickname_groups("zennor")
    (True, 0)
    """
    return _GROUPS.get(name.split(" ")[0], 0)
