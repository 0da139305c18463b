"""Words that stand for values, in the languages in which headings are read: yes and no, months."""

from __future__ import annotations

import unicodedata

__all__ = ["NO", "YES", "month_of"]

YES = frozenset(
    (
        *(
            "true",
            "yes",
            "y",
            "1",
            "t",
            "x",
            "ja",
            "j",
            "oui",
            "vrai",
            "wahr",
            "sí",
            "si",
            "sim",
            "verdadero",
            "tak",
            "prawda",
        ),
        *(
            "ano",
            "áno",
            "igen",
            "evet",
            "doğru",
            "kyllä",
            "tosi",
            "да",
            "ναι",
            "sì",
            "vero",
            "jah",
            "jā",
            "taip",
        ),
    )
)
NO = frozenset(
    (
        *(
            "false",
            "no",
            "n",
            "0",
            "f",
            "nein",
            "non",
            "faux",
            "falsch",
            "não",
            "nao",
            "falso",
            "nie",
            "fałsz",
            "ne",
            "nem",
        ),
        *(
            "hayır",
            "yanlış",
            "ei",
            "epätosi",
            "нет",
            "όχι",
            "οχι",
            "hayir",
            "nej",
            "nei",
            "nee",
            "nē",
        ),
    )
)

# Of each month its names; what begins like those of one month only stands for it, from three
# letters on.
_MONTHS = (
    "january januar janvier enero janeiro gennaio januari styczeń stycznia leden ledna január ocak",
    (
        "february februar février febrero fevereiro febbraio februari luty lutego únor února"
        " február şubat"
    ),
    "march märz mrz mars marzo março maart marzec marca březen března mrt március mart",
    "april avril abril aprile kwiecień kwietnia duben dubna április nisan",
    "may mai mayo maio maggio mei maj maja květen května május mayıs",
    "june juni juin junio junho giugno czerwiec czerwca červen června június haziran",
    "july juli juillet julio julho luglio lipiec lipca červenec července július temmuz",
    "august août agosto augustus augusti sierpień sierpnia srpen srpna augusztus ağustos",
    (
        "september sept septembre septiembre setembro settembre wrzesień września září szeptember"
        " eylül"
    ),
    (
        "october oktober octobre octubre outubro ottobre październik października říjen října"
        " október ekim"
    ),
    "november novembre noviembre novembro listopad listopada listopadu kasım",
    (
        "december dezember décembre diciembre dezembro dicembre desember grudzień grudnia prosinec"
        " prosince"
    ),
)
# These begin like others of another month: only whole they stand for theirs.
_WHOLE = (
    *("tammikuu", "helmikuu", "maaliskuu", "huhtikuu", "toukokuu", "kesäkuu"),
    *("heinäkuu", "elokuu", "syyskuu", "lokakuu", "marraskuu", "joulukuu"),
)


def _plain(text: str) -> str:
    return "".join(
        letter
        for letter in unicodedata.normalize("NFKD", text.casefold())
        if not unicodedata.combining(letter)
    )


_NAMES = [
    (_plain(name), number) for number, names in enumerate(_MONTHS, 1) for name in names.split()
]
_EXACT = {_plain(name): number for number, name in enumerate(_WHOLE, 1)} | dict(_NAMES)


def month_of(text: str) -> int | None:
    """Return the month that a word stands for, 1 to 12; None where it stands for none, or for
    several.

    >>> month_of("Okt"), month_of("września"), month_of("červen"), month_of("ma")
    (10, 9, 6, None)
    """
    word = _plain(text.rstrip("."))
    if word in _EXACT:
        return _EXACT[word]
    numbers = (
        {number for name, number in _NAMES if name.startswith(word)} if len(word) >= 3 else set()
    )
    return numbers.pop() if len(numbers) == 1 else None
