"""Twenty-two offices that keep lists of people, each in its own language and habit, and the truth
about each column: what is right is what was made.
"""

from __future__ import annotations

from tests.data.openings.making import (
    ALNUM,
    FAMILY,
    Maker,
    Office,
    as_book,
    as_lines,
    as_text,
    damm,
    ean,
    isbn,
    luhn,
    mod11_2,
    mod37_36,
    mod97_10,
)

# --- the offices ---------------------------------------------------------------------------------


def choir() -> Office:
    made = Maker(310, 1)
    made.numbers(
        "Member no.", lambda _: (lambda b: b + luhn(b))(made.digits(6)), 3, check="luhn", length=7
    )
    made.names("Surname", "First")
    born = made.days("DOB", 1938, 2014, "%d/%m/%Y")
    made.codes(
        "Site",
        ["Holm Sands", "Kelder Ridge", "Orrest Moor", "Tarn End", "Fell Side"],
        {"holm sands": "Holm Sands", "Kelder R.": "Kelder Ridge", "Orest Moor": "Orrest Moor"},
        odd=("??",),
    )
    made.several("Sections", ["Alto", "Bass", "Descant", "Tenor"], ";")
    made.mails("E-mail")
    made.span(("Start", "End"), 2015, 2024, "%d/%m/%Y", 2)
    made.each("Fee paid", "boolean", lambda: made.random.choice(("yes", "no")))
    made.each(
        "Fee",
        "number",
        lambda: f"{made.random.randrange(20, 90)}.{made.random.choice(('00', '50'))}",
    )
    made.spoil(born, "31/02/2001")
    return Office(
        "choir", as_text(made, ","), "choir.csv", made.columns, "Member no.", (("Start", "End"),)
    )


def music_school() -> Office:
    made = Maker(220, 2, "de")
    made.numbers("Schülernummer", lambda _: "S" + made.digits(5), length=6, prefix="S")
    made.names("Nachname", "Vorname")
    made.days("Geburtsdatum", 1999, 2018, "%d.%m.%Y")
    made.codes(
        "Instrument",
        ["Geige", "Klavier", "Querflöte", "Posaune", "Schlagzeug"],
        {"klavier": "Klavier", "Geige ": "Geige", "Quer-Flöte": "Querflöte"},
    )
    made.under(
        "Fach",
        {
            "Streicher": ["Violine", "Cello", "Bratsche"],
            "Bläser": ["Oboe", "Horn"],
            "Tasten": ["Orgel", "Cembalo"],
        },
        "Fachbereich",
        2,
    )
    made.span(("Vertragsbeginn", "Vertragsende"), 2018, 2024, "%d.%m.%Y")
    made.each(
        "Beitrag",
        "number",
        lambda: f"{made.random.randrange(30, 120)},{made.random.choice(('00', '50'))}",
    )
    made.each("Ermäßigung", "boolean", lambda: made.random.choice(("ja", "nein")))
    mail = made.mails("E-Mail", 0.3)
    made.each("PLZ", "text", lambda: "0" + made.digits(4))
    made.spoil(mail, "kein mail@")
    return Office(
        "music school",
        as_text(made, ";", "cp1252", ("Stand: 1. September", "")),
        "schueler.csv",
        made.columns,
        "Schülernummer",
        (("Vertragsbeginn", "Vertragsende"),),
    )


def alpine_club() -> Office:
    made = Maker(180, 3, "fr")
    made.numbers("N° d'adhérent", lambda _: "AD-" + made.digits(4), length=7, prefix="AD-")
    made.names("Nom", "Prénom")
    made.days("Date de naissance", 1950, 2012, "%d/%m/%Y")
    made.codes(
        "Section",
        ["Escalade", "Randonnée", "Ski de fond", "Spéléologie"],
        {"escalade": "Escalade", "randonnee": "Randonnée"},
        odd=("?",),
    )
    made.each("Téléphone", "phone", lambda: "+33 6 " + " ".join(made.digits(2) for _ in range(4)))
    made.each("À jour", "boolean", lambda: made.random.choice(("oui", "non")))
    made.days("Inscrit", 2015, 2025, "%d/%m/%Y")
    made.each("Cotisation", "integer", lambda: str(made.random.choice((45, 60, 85))))
    return Office(
        "alpine club", as_text(made, ";", "latin-1"), "adhérents.txt", made.columns, "N° d'adhérent"
    )


def hospital_staff() -> Office:
    made = Maker(400, 4)
    keys = made.numbers("Employee ID", lambda place: str(100200 + 7 * place), length=6)
    made.names("Last name", "First name")
    made.days("Hire date", 2001, 2025, "%m/%d/%Y")
    made.codes(
        "Job title",
        ["Nurse", "Porter", "Registrar", "Radiographer", "Dietitian", "Cleaner"],
        {"NURSE": "Nurse", "Radiograper": "Radiographer"},
    )
    made.codes("Ward", ["W1", "W2", "W3", "ICU", "OPD"])
    boss = keys.texts[:9]
    up = made.add("Manager", [made.random.choice(boss) for _ in range(400)], "identifier")
    for row in range(9):
        up.texts[row] = ""
    made.spoil(up, "999999")
    made.each("Salary", "integer", lambda: str(made.random.randrange(24000, 68000)))
    made.mails("Work e-mail", 0.0, 0.0)
    made.each("Hours", "number", lambda: made.random.choice(("37.5", "30", "22.5", "15")))
    return Office(
        "hospital staff",
        as_book(made, ("Staff extract", "Confidential")),
        "staff.xlsx",
        made.columns,
        "Employee ID",
        (),
        ("Manager", "Employee ID"),
    )


def polish_office() -> Office:
    made = Maker(150, 5, "pl")
    made.numbers(
        "Nr pracownika",
        lambda _: (lambda b: b + mod11_2(b))(made.digits(7)),
        2,
        check="iso7064-mod11-2",
        length=8,
    )
    made.names("Nazwisko", "Imię")
    made.codes(
        "Dział",
        ["Kadry", "Księgowość", "Magazyn", "Sprzedaż"],
        {"kadry": "Kadry", "Ksiegowość": "Księgowość"},
    )
    made.span(("Zatrudniony od", "Do"), 2010, 2024, "%Y-%m-%d")
    made.columns[-2].heading = "Zatrudniony od"
    made.each("Etat", "number", lambda: made.random.choice(("1,0", "0,5", "0,75")))
    made.each("Kierownik", "boolean", lambda: made.random.choice(("tak", "nie")))
    return Office(
        "polish office",
        as_text(made, "\t", "cp1250"),
        "pracownicy.txt",
        made.columns,
        "Nr pracownika",
    )


def greek_club() -> Office:
    made = Maker(130, 6, "el")
    made.numbers("Αριθμός μέλους", lambda _: made.digits(5), length=5)
    made.names("Επώνυμο", "Όνομα")
    made.codes("Τμήμα", ["Χορός", "Θέατρο", "Μουσική"], {"ΧΟΡΟΣ": "Χορός", "θέατρο": "Θέατρο"})
    made.days("Ημερομηνία γέννησης", 1960, 2010, "%d/%m/%Y")
    made.each("Ενεργό", "boolean", lambda: made.random.choice(("ναι", "όχι")))
    return Office("greek club", as_text(made, ","), "meli.csv", made.columns, "Αριθμός μέλους")


def russian_school() -> Office:
    made = Maker(200, 7, "ru")
    made.numbers("Номер", lambda _: made.digits(6), length=6)
    made.names("Фамилия", "Имя")
    made.codes("Класс", ["5А", "5Б", "6А", "6Б", "7А"])
    made.days("Дата рождения", 2008, 2015, "%d.%m.%Y")
    made.each(
        "Телефон",
        "phone",
        lambda: "+7 9" + made.digits(2) + " " + made.digits(3) + "-" + made.digits(4),
    )
    return Office(
        "russian school", as_text(made, ";", "cp1251"), "ucheniki.csv", made.columns, "Номер"
    )


def swimmers() -> Office:
    made = Maker(90, 8, "sv")
    made.numbers(
        "Medlemsnummer",
        lambda _: (lambda b: b + damm(b))("4" + made.digits(4)),
        1,
        check="damm",
        length=6,
    )
    made.names("Efternamn", "Förnamn")
    made.days("Född", 1970, 2016, "%Y-%m-%d")
    made.codes("Grupp", ["Guld", "Silver", "Brons"], {"guld": "Guld"})
    made.codes("Kön", ["M", "K"])
    made.each("Betalt", "boolean", lambda: made.random.choice(("x", "")))
    made.each("År", "year", lambda: str(made.random.randrange(2012, 2026)))
    return Office("swimmers", as_lines(made), "medlemmar.jsonl", made.columns, "Medlemsnummer")


def library_cards() -> Office:
    made = Maker(500, 9)
    made.numbers(
        "Card",
        lambda _: (lambda b: b + ean(b))("29" + made.digits(10)),
        4,
        check="weighted",
        length=13,
    )
    made.columns[-1].heading = "Card number"
    made.add(
        "Name",
        [f"{made.random.choice(FAMILY['en'].split())}, Ada {place}" for place in range(500)],
        "text",
    )
    made.codes(
        "Branch",
        ["Central", "Eastgate", "Mill Road", "Quayside"],
        {"CENTRAL": "Central", "Mill Rd": "Mill Road", "quay side": "Quayside"},
    )
    made.days("Expires", 2026, 2029, "%d %b %Y")
    made.each("Fines", "number", lambda: f"£{made.random.randrange(0, 9)}.{made.digits(1)}0")
    made.add("PIN", [made.digits(4) for _ in range(500)], "secret")
    return Office("library cards", as_text(made, ","), "cards.csv", made.columns, "Card number")


def authors() -> Office:
    made = Maker(120, 10)
    made.numbers(
        "Ref no", lambda _: (lambda b: b + isbn(b))(made.digits(9)), 1, check="weighted", length=10
    )
    made.names("Family name", "Given names")
    made.several("Genres", ["crime", "essay", "poetry", "drama"], ", ")
    made.days("Elected", 1990, 2025, "%d-%m-%Y")
    made.mails("Mail", 0.2, 0.0)
    return Office("authors", as_text(made, "|"), "authors.psv", made.columns, "Ref no")


def lab_passes() -> Office:
    made = Maker(260, 11)
    made.numbers(
        "Pass ID",
        lambda _: (lambda b: "LP" + b + mod37_36(b))(
            "".join(made.random.choice(ALNUM) for _ in range(5))
        ),
        0,
        check="iso7064-mod37-36",
        length=8,
        prefix="LP",
    )
    made.names("Surname", "Forename")
    made.several("Zones", ["A", "B", "C", "ROOF"], "+", 0.0)
    made.span(("Valid from", "Valid to"), 2022, 2025, "%Y-%m-%d", 1)
    made.codes("Status", ["active", "blocked", "returned"], {"Active": "active"})
    made.each(
        "Last seen",
        "datetime",
        lambda: (
            f"2026-0{made.random.randrange(1, 9)}-1{made.digits(1)}"
            f" 0{made.digits(1)}:{made.random.randrange(10, 59)}:00"
        ),
        0.2,
    )
    return Office(
        "lab passes",
        as_text(made, ","),
        "passes.csv",
        made.columns,
        "Pass ID",
        (("Valid from", "Valid to"),),
    )


def accounts_office() -> Office:
    made = Maker(140, 12)
    made.numbers(
        "Account no",
        lambda _: (lambda b: b + mod97_10(b))(made.digits(8)),
        1,
        check="iso7064-mod97-10",
        length=10,
    )
    made.names("Surname", "First name")
    made.codes("Currency", ["EUR", "GBP", "USD"])
    made.each(
        "Balance",
        "number",
        lambda: f"{made.random.randrange(1, 9)},{made.digits(3)}.{made.digits(2)}",
    )
    made.each(
        "Remark",
        "text",
        lambda: f"see letter of {made.random.randrange(1, 28)} May {made.digits(4)}",
        0.6,
    )
    return Office("accounts office", as_text(made, ","), "accounts.csv", made.columns, "Account no")


def primary_school() -> Office:
    made = Maker(210, 13)
    made.add("No", [str(place + 1) for place in range(210)], "integer")
    made.numbers("Pupil number", lambda _: "B" + made.digits(6), length=7, prefix="B")
    made.names("Surname", "Forename")
    made.codes("Sex", ["F", "M"], {"f": "F"})
    made.days("Date of birth (dd/mm/yy)", 2014, 2020, "%d/%m/%y")
    made.codes("Class", ["1A", "1B", "2A", "2B", "3A"])
    made.each("Guardian phone", "phone", lambda: "07" + made.digits(3) + " " + made.digits(6))
    made.each("Siblings", "integer", lambda: made.random.choice("0012"))
    made.codes("Meals", ["Hot", "Packed", "None"], {"hot": "Hot"}, empty=0.1)
    return Office(
        "primary school",
        as_book(made, ("Pupils, autumn term",)),
        "pupils.xlsx",
        made.columns,
        "Pupil number",
    )


def turkish_union() -> Office:
    made = Maker(170, 14, "tr")
    made.numbers("Üye no", lambda _: "U" + made.digits(4), length=5, prefix="U")
    made.names("Soyadı", "Adı")
    made.codes("Bölüm", ["Üretim", "Depo", "Sevkiyat"], {"depo": "Depo"})
    made.days("Doğum tarihi", 1960, 2004, "%d.%m.%Y")
    made.each("Aktif", "boolean", lambda: made.random.choice(("evet", "hayır")))
    return Office(
        "turkish union", as_text(made, ";", "cp1254"), "uyeler.csv", made.columns, "Üye no"
    )


def czech_fire() -> Office:
    made = Maker(95, 15, "cs")
    made.numbers("Číslo člena", lambda _: made.digits(4), length=4)
    made.names("Příjmení", "Jméno")
    made.codes("Hodnost", ["Hasič", "Strojník", "Velitel"], {"hasič": "Hasič"})
    made.days("Narozen", 1960, 2006, "%d. %m. %Y")
    made.several("Kurzy", ["V40", "S40", "Z-M"], "/", 0.1)
    return Office(
        "czech fire", as_text(made, ";", "utf-8-sig"), "clenove.csv", made.columns, "Číslo člena"
    )


def spanish_club() -> Office:
    made = Maker(160, 16, "es")
    made.numbers("Nº socio", lambda _: made.digits(5), length=5)
    made.names("Apellidos", "Nombre")
    made.codes(
        "Categoría",
        ["Alevín", "Infantil", "Cadete", "Sénior"],
        {"alevin": "Alevín", "SENIOR": "Sénior"},
    )
    made.days("Fecha de nacimiento", 1990, 2016, "%d/%m/%Y")
    made.each(
        "Móvil", "phone", lambda: "6" + made.digits(2) + " " + made.digits(3) + " " + made.digits(3)
    )
    made.columns[-1].heading = "Teléfono móvil"
    made.each("Federado", "boolean", lambda: made.random.choice(("sí", "no")))
    return Office("spanish club", as_text(made, ";"), "socios.csv", made.columns, "Nº socio")


def japanese_society() -> Office:
    made = Maker(110, 17, "ja")
    made.numbers("ID", lambda _: "K" + made.digits(4), length=5, prefix="K")
    made.names("姓", "名")
    made.codes("支部", ["東京", "大阪", "札幌"])
    made.days("生年月日", 1960, 2004, "%Y/%m/%d")
    made.mails("メール", 0.1, 0.0)
    return Office("japanese society", as_text(made, ","), "members.csv", made.columns, "ID")


def rowing() -> Office:
    """Nothing numbers its people."""
    made = Maker(60, 18)
    made.names("Surname", "First name")
    made.days("Born", 1980, 2010, "%d/%m/%Y")
    made.codes("Boat", ["Heron", "Kestrel", "Plover"], {"heron": "Heron"})
    made.each("Phone", "phone", lambda: "+44 7700 9" + made.digits(5), 0.3)
    return Office("rowing", as_text(made, ","), "crew.csv", made.columns)


def memberships() -> Office:
    """One row for each membership: its people stand several times."""
    made = Maker(300, 19)
    people = [f"P{made.digits(5)}" for _ in range(90)]
    made.add("Person no", [made.random.choice(people) for _ in range(300)], "identifier")
    made.codes("Committee", ["Finance", "Events", "Grounds"], {"EVENTS": "Events"})
    made.codes("Part", ["Chair", "Member"], {"chair": "Chair"})
    made.span(("From", "Until"), 2018, 2024, "%d.%m.%Y")
    return Office(
        "memberships", as_text(made, ";"), "committees.csv", made.columns, "", (("From", "Until"),)
    )


def observers() -> Office:
    """Dashes for nothing, numbers with a dash inside."""
    made = Maker(240, 20)
    made.numbers(
        "Observer no",
        lambda place: f"OB-{made.random.randrange(2001, 2026)}-{made.digits(3)}",
        length=11,
        prefix="OB-",
    )
    made.names("Surname", "First name(s)")
    made.codes("Region", ["North", "South", "Isles", "-", "-"], {"north": "North"})
    made.columns[-1].groups.pop("-")
    made.each(
        "Telescope (mm)", "integer", lambda: str(made.random.choice((80, 102, 150, 203))), 0.2
    )
    made.days("Joined*", 2001, 2025, "%d %B %Y")
    made.each(
        "Notes",
        "text",
        lambda: f"lent {made.digits(3)}, back in {made.random.randrange(2, 9)} weeks",
        0.5,
    )
    return Office("observers", as_text(made, ","), "observers.csv", made.columns, "Observer no")


def volunteers() -> Office:
    """Sequential numbers, a Luhn digit in nothing, money with thousands."""
    made = Maker(130, 21)
    made.numbers("Volunteer ID", lambda place: str(4001 + place), length=4)
    made.names("Last Name", "First Name")
    made.codes("First choice", ["Tea room", "Gardens", "Archive", "Shop"], {"Tearoom": "Tea room"})
    made.codes("Second choice", ["Tea room", "Gardens", "Archive", "Shop"], {"gardens": "Gardens"})
    made.each("Hours 2025", "integer", lambda: str(made.random.randrange(0, 400)))
    made.days("Start date", 2012, 2025, "%m/%d/%Y")
    return Office("volunteers", as_text(made, ","), "volunteers.csv", made.columns, "Volunteer ID")


def night_school() -> Office:
    made = Maker(190, 22, "de")
    made.numbers("Matrikelnummer", lambda _: made.digits(7), length=7)
    made.names("Familienname", "Vorname")
    made.codes(
        "Kurs",
        ["Deutsch A1", "Deutsch A2", "Deutsch B1", "Englisch A1"],
        {"deutsch a1": "Deutsch A1", "Deutsch-B1": "Deutsch B1"},
    )
    made.each("Jahrgang", "year", lambda: str(made.random.randrange(1955, 2006)))
    made.each("Zahlt bar", "boolean", lambda: made.random.choice(("J", "N")))
    made.each(
        "Ort", "text", lambda: f"{made.random.choice(('Neu', 'Alt', 'Klein'))}dorf {made.digits(3)}"
    )
    return Office("night school", as_text(made, "\t"), "kurse.tsv", made.columns, "Matrikelnummer")


OFFICES = (
    choir,
    music_school,
    alpine_club,
    hospital_staff,
    polish_office,
    greek_club,
    russian_school,
    swimmers,
    library_cards,
    authors,
    lab_passes,
    accounts_office,
    primary_school,
    turkish_union,
    czech_fire,
    spanish_club,
    japanese_society,
    rowing,
    memberships,
    observers,
    volunteers,
    night_school,
)


def sailing_club(*, later: bool = False) -> Office:
    """Four hundred members with zeros at the front of their numbers, a harbour written in several
    ways, several boats in a cell and days with dots; a term later some have moved, joined, left.
    """
    made = Maker(400, 40, "de")
    numbers = [f"{place * 7 + 11:06}" for place in range(400)]
    made.add("Mitgl.-Nr.", numbers, "identifier", length=6)
    made.names("Nachname", "Vorname")
    made.days("Geburtsdatum", 1950, 2012, "%d.%m.%Y")
    ways = {"nordhafen": "Nordhafen", "Nord-Hafen": "Nordhafen", "Südmohle": "Südmole"}
    made.codes("Hafen", ["Nordhafen", "Südmole", "Werft"], ways)
    made.several("Boote", ["Jolle", "Kutter", "Yacht"], "; ")
    made.days("Eintritt", 2001, 2025, "%d.%m.%Y")
    mail = made.each("E-Mail", "mail", lambda: f"m{made.digits(6)}@example.org")
    for text in ("kein", "a@b"):
        made.spoil(mail, text)
    data = made.grid()
    if later:
        harbour = [column.heading for column in made.columns].index("Hafen")
        for row in data[20:50]:
            row[harbour] = "Werft" if row[harbour] != "Werft" else "Südmole"
        fresh = [
            [
                f"9{place:05}",
                "Neu",
                "Anna",
                "01.02.2000",
                "Werft",
                "Jolle",
                "01.03.2026",
                f"n{place}@example.org",
            ]
            for place in range(12)
        ]
        data = data[8:] + fresh
    lines = [";".join(column.heading for column in made.columns)]
    lines += [";".join(f'"{cell}"' if ";" in cell else cell for cell in row) for row in data]
    name = "mitglieder-herbst.csv" if later else "mitglieder-2026.csv"
    return Office(
        "sailing club", "\r\n".join(lines).encode("cp1252"), name, made.columns, "Mitgl.-Nr."
    )
