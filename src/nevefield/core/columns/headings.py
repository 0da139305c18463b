"""Headings as words: abbreviations written out, other languages put into ours, so that two
spellings of one thing agree.

A heading becomes a set of plain words. "Tel. (Guardian)", "guardianPhone" and "GUARDIAN TELEPHONE
NO" become the same set.
"""

from __future__ import annotations

import re
import unicodedata
from functools import lru_cache
from typing import TYPE_CHECKING

import numpy as np
from rapidfuzz import fuzz, process
from rapidfuzz.distance import OSA

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping, Sequence

    from numpy.typing import NDArray

__all__ = [
    "MEANINGS",
    "base_of",
    "is_heading_word",
    "likeness",
    "likeness_table",
    "weigh",
    "words_of",
]

# What people write for one word: abbreviations, and the words of other languages that offices carry
# over from their forms.
_SPELLINGS = {
    "number": (
        "no nr num nbr numero nummer numer nro numéro id ident identifier identification ref"
        " reference lp číslo szám sorszám номер αριθμός numara código nº 番号 号 会員番号 学号 번호"
    ),
    "phone": (
        "tel telephone telefon telefone telephon teléfono fon ph mob mobile mobil handy cell"
        " cellphone gsm portable telefono telefoon puhelin tlf телефон τηλέφωνο 電話"
        " 電話番号 电话 전화"
    ),
    "mail": "email emails mails courriel correo epost sähköposti почта メール 이메일",
    "birth": (
        "bth geburt geb naissance nacimiento nascita urodzenia narození születési fødsel födelse"
        " geboorte nascimento doğum рождения γέννησης"
    ),
    "born": (
        "dob bday birthdate birthday geburtsdatum geboren bdate ddn née nato urodzony narozen"
        " született född født geboortedatum syntymäaika födelsedatum fødselsdato"
        " 生年月日 出生日期 생년월일"
    ),
    "family": (
        "fam surname lastname lname sname nachname familienname apellido apellidos cognome nom last"
        " nazwisko příjmení achternaam efternavn etternavn efternamn sobrenome soyadı sukunimi"
        " vezetéknév фамилия επώνυμο 姓 氏 성"
    ),
    "given": (
        "giv fname firstname forename forenames vorname vornamen prenom prénom prénoms prenoms"
        " nombre first christian imię imiona jméno voornaam fornavn förnamn keresztnév utónév adı"
        " etunimi имя όνομα 名 名前 이름"
    ),
    "name": "names nm naam namen név navn namn nimi isim",
    "date": "dt datum fecha data dato dátum tarih дата ημερομηνία",
    "department": (
        "dept dep dpt departement département abteilung div division faculty oddział wydział dział"
        " oddělení avdeling avdelning afdeling osztály bölüm отдел τμήμα osasto reparto servicio"
    ),
    "programme": "prog programm program course studiengang curriculum",
    "position": (
        "pos posn post rank function funktion poste stelle duty stanowisko pozice stilling"
        " befattning functie beosztás görev должность θέση"
    ),
    "from": (
        "since begin begins beginning von ab seit desde start starts started starting commences"
        " commencing commencement"
    ),
    "until": (
        "to till end ends ending bis hasta expiry expires expire exp ended finish finishes"
        " finishing valid validity through fin runs"
    ),
    "year": "yr yrs jahr année annee año stage",
    "guardian": "parent parents guard kin nok carer gdn grdn",
    "town": (
        "city ort stadt ville ciudad place miasto miejscowość město város città cidade kaupunki"
        " şehir город πόλη"
    ),
    "street": "str strasse straße rue calle road ulica utca straat rua sokak улица οδός katu",
    "postcode": "postal zip plz pcode psč",
    "sex": (
        "gender geschlecht sexe sexo płeć pohlaví kön kjønn geslacht cinsiyet пол φύλο sukupuoli"
    ),
    "medical": "med medic health cert certificate medicals",
    "resident": "res boarder boarding lives",
    "bursary": "bursaries grant grants scholarship scholarships stipend",
    "diet": "dietary diets meals meal food kost",
    "manager": "mgr supervisor boss manages line vorgesetzter superior",
    "contract": "contr vertrag contrat",
    "permit": "permits visa",
    "sign": "login logon signin username user",
    "joined": "join joining admitted admission entry entered beitritt member membership",
    "hired": (
        "hire hiring employed employment appointed appointment zatrudniony přijat ansatt anställd"
    ),
    "leave": (
        "leaves leaving left departure exit austritt termination terminated terminates resigned"
        " resignation"
    ),
    "paid": "pd pay bezahlt payé",
    "subscription": "subs sub dues",
    "credit": "credits cr crs",
    "grade": "level",
    "chapter": "chapters branch branches",
    "card": "badge karte carte",
    "facility": "fac site_code",
    "zone": "zones area areas access",
    "state": "status condition",
    "holder": "bearer owner",
    "home": "hm heimat",
    "port": "harbour harbor hafen",
    "room": "rm cabin berth bunk zimmer",
    "campus": "site",
    "term": "semester trimester",
    "intake": "cohort",
    "deposit": "dep_paid caution kaution",
    "mariner": "seafarer mar registry",
    "cadet": "cdt student",
    "staff": "employee emp payroll personnel employees personal",
    "fellow": "fellows alumni alumnus",
    "watch": "wtch",
}
# Two or more words that are one thing, before single words are looked at.
_PHRASES = [
    (("e", "mail"), ("mail",)),
    (("d", "o", "b"), ("born",)),
    (("date", "of", "birth"), ("born",)),
    (("fecha", "de", "birth"), ("born",)),
    (("date", "de", "birth"), ("born",)),
    (("birth", "date"), ("born",)),
    (("date", "birth"), ("born",)),
    (("birth", "day"), ("born",)),
    (("nom", "de", "family"), ("family", "name")),
    (("nom", "family"), ("family", "name")),
    (("next", "of", "guardian"), ("guardian",)),
    (("post", "code"), ("postcode",)),
    (("postal", "code"), ("postcode",)),
    (("sign", "in", "name"), ("sign",)),
    (("sign", "in"), ("sign",)),
    (("sign", "name"), ("sign",)),
    (("sign", "number"), ("sign",)),
    (("reports", "until"), ("manager",)),
    (("reports", "to"), ("manager",)),
    (("line", "manager"), ("manager",)),
    (("eng1",), ("medical",)),
    (("job", "title"), ("position",)),
    (("job",), ("position",)),
    (("cell", "phone"), ("phone",)),
    (("lives", "in"), ("resident",)),
    (("#",), ("number",)),
]
# Words that say nothing about which field is meant.
_EMPTY = frozenset(
    (
        *(
            "the",
            "of",
            "a",
            "an",
            "and",
            "or",
            "for",
            "in",
            "on",
            "at",
            "by",
            "per",
            "please",
            "see",
            "do",
        ),
        *("de", "des", "du", "la", "le", "el", "der", "die", "das", "fur", "da", "di"),
        *(
            "text",
            "format",
            "code",
            "codes",
            "cd",
            "current",
            "new",
            "full",
            "official",
            "list",
            "value",
            "field",
            "col",
            "column",
        ),
    )
)
# Words that say little: they stand in many headings.
_SOFT = {"date": 0.25, "day": 0.25, "number": 0.4, "name": 0.5}
LONGEST_WORD = 60  # letters by which one word may begin another
PART = 200  # words that are compared with all others together
NEAR = 0.8  # from which on two words may be the same with a slip of the pen
_UNKNOWN = 0.9  # weight of a word of the heading that no field has
# What fields that are about the same thing of a person are called, by the definition's `means`.
MEANINGS: Mapping[str, tuple[str, ...]] = {
    "family-name": ("family name",),
    "given-name": ("given name", "given names"),
    "birth-date": ("born",),
    "mail": ("mail", "mail address"),
    "phone": ("phone", "phone number"),
    "street": ("street", "street address"),
    "postcode": ("postcode",),
    "town": ("town",),
    "sex": ("sex",),
}
LONGEST = 200  # letters of a heading that are looked at
# what numbers a heading of a series
_ENDS = re.compile(r"(?<!\d)\d{1,2}$|(?<=[\s_-])[a-d]$", re.IGNORECASE)
_NOTE = re.compile(r"[(\[{<][^)\]}>]*[)\]}>]|\*|!")


def _plain(text: str) -> str:
    decomposed = unicodedata.normalize("NFKD", text)
    return "".join(letter for letter in decomposed if not unicodedata.combining(letter)).casefold()


_WORDS = {
    _plain(spelling): word
    for word, spellings in _SPELLINGS.items()
    for spelling in spellings.split()
}


_SPELLED = {
    word: tuple({_plain(text) for text in (word, *spellings.split())})
    for word, spellings in _SPELLINGS.items()
}


@lru_cache(4096)
def words_of(heading: str) -> frozenset[str]:
    """Break a heading into plain words; what stands in brackets (units, notes) counts only when
    nothing else is there.

    >>> sorted(words_of("guardianTel. (with +44)")), sorted(words_of("D.O.B."))
    (['guardian', 'phone'], ['born'])
    """
    heading = heading[:LONGEST]
    bare = _NOTE.sub(" ", heading)
    texts = _words(bare)
    return texts or _words(re.sub(r"[()\[\]{}<>*!]", " ", heading))


def is_heading_word(text: str) -> bool:
    """Tell whether a text is made of words that headings have, in any of the languages known here.

    >>> is_heading_word("Geburtsdatum"), is_heading_word("Ines Halloran")
    (True, False)
    """
    words = words_of(text)
    return bool(words) and len(words & _SPELLINGS.keys()) * 2 > len(words)


def _words(text: str) -> frozenset[str]:
    text = re.sub(r"(?<=[a-z\d])(?=[A-Z])", " ", text.replace("#", " # "))
    rough = [_plain(word) for word in re.split(r"[^\w#]+|_+", text) if word]
    words = [_canonical(word) for word in rough]
    for phrase, meant in _PHRASES:
        place = 0
        while place + len(phrase) <= len(words):
            if tuple(words[place : place + len(phrase)]) == phrase:
                words[place : place + len(phrase)] = meant
            place += 1
    if len(words) == 1 and words[0] in ("family", "given"):  # "Surname" alone is a name
        words.append("name")
    return frozenset(word for word in words if word not in _EMPTY)


def _canonical(word: str) -> str:
    if word in _WORDS:
        return _WORDS[word]
    if len(word) > 3 and word.endswith("s") and not word.endswith("ss"):
        single = word[:-1]
        return _WORDS.get(single, single)
    return word


def base_of(heading: str) -> str:
    """Take the number off a heading of a series: "Bursary 2", "bursary_b", "Diet (2)"; "" when it
    is none.

    >>> base_of("Bursary 2"), base_of("Bursary")
    ('Bursary', '')
    """
    text = heading[:LONGEST].rstrip().removesuffix(")").rstrip()
    matched = _ENDS.search(text)
    base = text[: matched.start()].strip(" _.(-") if matched else ""
    return base if any(letter.isalnum() for letter in base) else ""


def weigh(names: Iterable[frozenset[str]]) -> dict[str, float]:
    """Weigh words by how few fields have them: a word of one field alone decides, one of all
    decides nothing.

    Args:
        names: The words of each field, all its names together.
    """
    counts: dict[str, int] = {}
    for words in names:
        for word in words:
            counts[word] = counts.get(word, 0) + 1
    return {word: _SOFT.get(word, 1.0) / count**0.5 for word, count in counts.items()}


def likeness(heading: frozenset[str], name: frozenset[str], weights: Mapping[str, float]) -> float:
    """Score how alike two sets of words are, 0 to 1: the weight of the words they share over that
    of all.

    Words that differ by a slip of the pen count as nearly the same (see `NEAR`).
    """
    if not heading or not name:
        return 0.0
    shared = heading & name
    rest, other = heading - shared, set(name - shared)
    total = sum(weights.get(word, _UNKNOWN) for word in name)
    got = sum(weights.get(word, _UNKNOWN) for word in shared)
    for word in sorted(rest):
        alike = max(other, key=lambda text: (_slip(word, text), text), default="")
        near = _slip(word, alike) if alike else 0.0
        if near >= NEAR:
            other.discard(alike)
            got += near * 0.95 * weights.get(alike, _UNKNOWN)
        else:
            total += _alone(word, weights)
    return got / total if total else 0.0


def likeness_table(
    headings: Sequence[frozenset[str]],
    groups: Sequence[Sequence[frozenset[str]]],
    weights: Mapping[str, float],
) -> NDArray[np.float64]:
    """Score every heading against every group of names, by the likest name of the group.

    Args:
        headings: The words of each.
        groups: The words of each name, by group.
        weights: Of the words (see `weigh`).

    Returns:
        Headings × groups; what `likeness` says of each pair, found for all of a heading's at once.
    """
    names = [name for group in groups for name in group]
    table = np.zeros((len(headings), len(groups)))
    if not any(names):
        return table
    having: dict[str, list[int]] = {}
    for place, name in enumerate(names):
        for word in name:
            having.setdefault(word, []).append(place)
    where = {word: np.array(places) for word, places in having.items()}
    whole = np.array([sum(weights.get(word, _UNKNOWN) for word in name) for name in names])
    near = _near_words(sorted(frozenset().union(*headings)), sorted(where))
    starts = np.cumsum([0, *map(len, groups)])[:-1]
    is_there = np.array([bool(group) for group in groups])
    for row, heading in enumerate(headings):
        if not heading:
            continue
        got, rest = (
            np.zeros(len(names)),
            np.full(len(names), sum(_alone(word, weights) for word in heading)),
        )
        for word in heading & where.keys():
            got[where[word]] += weights.get(word, _UNKNOWN)
            rest[where[word]] -= _alone(word, weights)
        # words of names that stand for one of the heading's
        taken: dict[str, NDArray[np.bool_]] = {}
        for word in sorted(heading & near.keys()):
            done = np.zeros(len(names), bool)
            done[where.get(word, [])] = True
            for other, slip in near[word]:
                if other in heading:
                    continue
                used = taken.setdefault(other, np.zeros(len(names), bool))
                places = where[other][~(done | used)[where[other]]]
                got[places] += slip * 0.95 * weights.get(other, _UNKNOWN)
                rest[places] -= _alone(word, weights)
                done[places] = used[places] = True
        total = whole + rest
        scores = np.divide(got, total, out=np.zeros(len(names)), where=(total > 0) & (whole > 0))
        table[row] = np.where(is_there, np.maximum.reduceat(np.append(scores, 0.0), starts), 0.0)
    return table


def _near_words(words: Sequence[str], known: Sequence[str]) -> dict[str, list[tuple[str, float]]]:
    """List for each word the known ones that it may be with a slip of the pen, the nearest first,
    with how near they are.

    Which are worth a look is told for all at once; that is said by `_slip`.
    """
    forms = [(spelling, meant) for meant in known for spelling in _SPELLED.get(meant, (meant,))]
    spelled = [spelling for spelling, _ in forms]
    found: dict[str, set[str]] = {}
    beginnings: dict[str, set[str]] = {}
    for spelling, meant in forms:
        for size in range(3, min(len(spelling), LONGEST_WORD) + 1):
            beginnings.setdefault(spelling[:size], set()).add(meant)
    whole: dict[str, set[str]] = {}
    for spelling, meant in forms:
        whole.setdefault(spelling, set()).add(meant)
    for first in range(0, len(words), PART):
        part = words[first : first + PART]
        alike = process.cdist(
            part, spelled, scorer=fuzz.ratio, score_cutoff=100 * NEAR, dtype=np.uint8
        )
        slips = process.cdist(part, spelled, scorer=OSA.distance, score_cutoff=1, dtype=np.uint8)
        for word, form in zip(*((alike > 0) | (slips <= 1)).nonzero(), strict=True):
            found.setdefault(part[word], set()).add(forms[form][1])
    for word in words:
        begun = [whole.get(word[:size], set()) for size in range(3, min(len(word), LONGEST_WORD))]
        there = beginnings.get(word, set()).union(*begun)
        if there:
            found.setdefault(word, set()).update(there)
    near_words = {}
    for word, others in found.items():
        pairs = sorted(
            ((_slip(word, other), other) for other in others if other != word), reverse=True
        )
        if kept := [(other, slip) for slip, other in pairs if slip >= NEAR]:
            near_words[word] = kept
    return near_words


def _alone(word: str, weights: Mapping[str, float]) -> float:
    return weights.get(word, _SOFT.get(word, _UNKNOWN))


@lru_cache(20_000)
def _slip(word: str, meant: str) -> float:
    """Score how near a word is to one that was meant, in any of its spellings."""
    return max(_near(word, spelling) for spelling in _SPELLED.get(meant, (meant,)))


def _near(text: str, other: str) -> float:
    shorter = min(len(text), len(other))
    if shorter < 3:
        return 0.0
    if text.startswith(other) or other.startswith(text):
        return 0.85  # cut short: "enrol" for "enrolled"
    if shorter < 4:
        return 0.0
    # Two neighbours swapped are one slip (Damerau 1964), and most slips leave the first letter.
    swapped = OSA.distance(text, other) == 1 and text[0] == other[0]
    return max(float(fuzz.ratio(text, other)) / 100, 0.85 if swapped else 0.0)
