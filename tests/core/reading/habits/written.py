"""Encodings of Europe, of its east and of old machines; one broken byte among good ones."""

from __future__ import annotations

from .making import Strange, strange

POLISH = (
    """
    Nr;Nazwisko;Imię;Miejscowość
    1;Wiśniewska;Małgorzata;Łódź
    2;Żółkiewski;Stanisław;Kraków
    3;Błaszczyk;Józef;Gdańsk
    4;Święcicka;Grażyna;Wąchock
    """,
    """
    Nr|Nazwisko|Imię|Miejscowość
    2: 1|Wiśniewska|Małgorzata|Łódź
    3: 2|Żółkiewski|Stanisław|Kraków
    4: 3|Błaszczyk|Józef|Gdańsk
    5: 4|Święcicka|Grażyna|Wąchock
    """,
)
CZECH = (
    """
    Číslo;Příjmení;Jméno;Město
    10;Dvořák;Jiří;Plzeň
    11;Růžičková;Božena;Děčín
    12;Šťastný;Ondřej;Žďár
    """,
    """
    Číslo|Příjmení|Jméno|Město
    2: 10|Dvořák|Jiří|Plzeň
    3: 11|Růžičková|Božena|Děčín
    4: 12|Šťastný|Ondřej|Žďár
    """,
)
GERMAN = (
    """
    Nummer;Name;Straße;Gehalt in €
    1;Müller, Jörg;Große Straße 5;1200
    2;Weiß, Käthe;Am Brühl 7;900
    """,
    """
    Nummer|Name|Straße|Gehalt in €
    2: 1|Müller, Jörg|Große Straße 5|1200
    3: 2|Weiß, Käthe|Am Brühl 7|900
    """,
)
PLAIN_GERMAN = tuple(text.replace(" in €", "") for text in GERMAN)
NORDIC = (
    """
    Nr;Navn;By
    1;Bjørnstad Åse;Tromsø
    2;Sjøgren Pål;Ålesund
    3;Kjær Søren;Ærøskøbing
    """,
    """
    Nr|Navn|By
    2: 1|Bjørnstad Åse|Tromsø
    3: 2|Sjøgren Pål|Ålesund
    4: 3|Kjær Søren|Ærøskøbing
    """,
)
FRENCH = (
    """
    N;Nom;Prénom;Ville
    1;Lefèvre;Hélène;Nîmes
    2;Garçon;François;Besançon
    3;Noël;Zoé;Orléans
    """,
    """
    N|Nom|Prénom|Ville
    2: 1|Lefèvre|Hélène|Nîmes
    3: 2|Garçon|François|Besançon
    4: 3|Noël|Zoé|Orléans
    """,
)
SPANISH = (
    """
    Código;Apellidos;Nombre
    1;Muñoz Ibáñez;Íñigo
    2;Núñez Peña;Begoña
    """,
    """
    Código|Apellidos|Nombre
    2: 1|Muñoz Ibáñez|Íñigo
    3: 2|Núñez Peña|Begoña
    """,
)
HUNGARIAN = (
    """
    Szám;Név;Város
    1;Kőszegi Sándor;Győr
    2;Szűcs Erzsébet;Pécs
    3;Fülöp Zoltán;Debrecen
    """,
    """
    Szám|Név|Város
    2: 1|Kőszegi Sándor|Győr
    3: 2|Szűcs Erzsébet|Pécs
    4: 3|Fülöp Zoltán|Debrecen
    """,
)
RUSSIAN = (
    """
    Номер;Фамилия;Имя;Город
    1;Иванова;Ольга;Мурманск
    2;Щербаков;Юрий;Ярославль
    3;Жуков;Семён;Псков
    """,
    """
    Номер|Фамилия|Имя|Город
    2: 1|Иванова|Ольга|Мурманск
    3: 2|Щербаков|Юрий|Ярославль
    4: 3|Жуков|Семён|Псков
    """,
)
GREEK = (
    """
    Αρ;Επώνυμο;Όνομα
    1;Παπαδόπουλος;Γιώργος
    2;Βασιλείου;Ελένη
    3;Χατζής;Θεόδωρος
    """,
    """
    Αρ|Επώνυμο|Όνομα
    2: 1|Παπαδόπουλος|Γιώργος
    3: 2|Βασιλείου|Ελένη
    4: 3|Χατζής|Θεόδωρος
    """,
)
TURKISH = (
    """
    No;Soyadı;Adı;Şehir
    1;Yıldız;Ayşe;İstanbul
    2;Çağlar;Oğuz;Eskişehir
    3;Şahin;Işıl;Muğla
    """,
    """
    No|Soyadı|Adı|Şehir
    2: 1|Yıldız|Ayşe|İstanbul
    3: 2|Çağlar|Oğuz|Eskişehir
    4: 3|Şahin|Işıl|Muğla
    """,
)
LITHUANIAN = (
    """
    Nr;Pavardė;Vardas;Miestas
    1;Žukauskaitė;Živilė;Šiauliai
    2;Čepulis;Mindaugas;Panevėžys
    3;Jankūnas;Ąžuolas;Kėdainiai
    """,
    """
    Nr|Pavardė|Vardas|Miestas
    2: 1|Žukauskaitė|Živilė|Šiauliai
    3: 2|Čepulis|Mindaugas|Panevėžys
    4: 3|Jankūnas|Ąžuolas|Kėdainiai
    """,
)


def _in(tongue: str, texts: tuple[str, ...], *encodings: str) -> list[Strange]:
    return [strange(f"{tongue} in {one}", texts[0], texts[1], encoding=one) for one in encodings]


def _one_row(text: str, encoding: str, table: str, name: str) -> Strange:
    return strange(name, text, table, encoding=encoding)


FILES = [
    *_in("Polish", POLISH, "cp1250", "iso8859-2", "cp852", "utf-16"),
    *_in("Czech", CZECH, "cp1250", "iso8859-2", "cp852"),
    *_in("German", GERMAN, "cp1252", "iso8859-15"),
    *_in("German", PLAIN_GERMAN, "cp850", "mac-roman"),
    *_in("Nordic", NORDIC, "cp1252", "cp850", "cp865"),
    *_in("French", FRENCH, "cp1252", "mac-roman", "cp850"),
    *_in("Spanish", SPANISH, "cp1252", "cp850", "iso8859-1"),
    *_in("Hungarian", HUNGARIAN, "cp1250", "iso8859-2"),
    *_in("Russian", RUSSIAN, "cp1251", "koi8-r", "cp866", "utf-16-le"),
    *_in("Greek", GREEK, "cp1253", "iso8859-7"),
    *_in("Turkish", TURKISH, "cp1254"),
    *_in("Lithuanian", LITHUANIAN, "cp1257"),
    _one_row(
        "Nr;Nazwisko\n1;Wiśniewska\n",
        "cp1250",
        "Nr|Nazwisko\n2: 1|Wiśniewska",
        "one Polish row in cp1250",
    ),
    _one_row("Nr;Name\n1;Müller\n", "cp1252", "Nr|Name\n2: 1|Müller", "one German row in cp1252"),
    _one_row(
        "No,Name\n1,Siân O\u2019Neill\n",
        "cp1252",
        "No|Name\n2: 1|Siân O\u2019Neill",
        "one Welsh row with a curly apostrophe",
    ),
    strange(
        "one broken byte among good ones",
        "Nr;Navn;By\n1;Bjørn;Tromsø\n2;".encode() + b"S\xf8ren" + ";Ålesund\n3;Pål;Bodø\n".encode(),
        "Nr|Navn|By\n2: 1|Bjørn|Tromsø\n3: 2|S\ufffdren|Ålesund\n4: 3|Pål|Bodø",
        remark="line 3",
    ),
]
