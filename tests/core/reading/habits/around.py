"""What stands above a table and below it: notes, what a program prints on, questions, filters, signatures."""

from __future__ import annotations

from .making import strange

FILES = [
    strange(
        "a note with as many commas as the table",
        """
        Ward list, cardiology, printed, 12 August
        Nr,Nazwisko,Imię,Ur.
        K-1001,Wiśniewska,Zofia,1961-02-11
        K-1002,Lis,Adam,1990-12-01
        K-1003,Mazur,Ewa,1975-06-30
        """,
        """
        Nr|Nazwisko|Imię|Ur.
        3: K-1001|Wiśniewska|Zofia|1961-02-11
        4: K-1002|Lis|Adam|1990-12-01
        5: K-1003|Mazur|Ewa|1975-06-30
        """,
    ),
    strange(
        "more notes with commas than rows with semicolons",
        """
        To whom it may concern, please find below, as agreed, the members, by voice.
        Names are as in the passport, not as they are called, with all accents.
        Days are day, month, year, and nothing else, also where the year is a guess.
        Who sings two parts, or sings in the second choir, stands twice, once each.
        Questions, wishes, and complaints, go to the office, as ever, before noon.
        Member;Voice;Since
        Halvorsen, Ida;alto;03.09.2014
        Ødegård, Per;bass;01.02.2019
        """,
        """
        Member|Voice|Since
        7: Halvorsen, Ida|alto|03.09.2014
        8: Ødegård, Per|bass|01.02.2019
        """,
    ),
    strange(
        "printed on above, in pairs",
        """
        Institution;Szpital św. Wojciecha;;;
        Department;HR;;;
        Printed by;M. Kos;on;2026-08-12;
        ;;;;
        Badge;Family name;Given name;Contract;Ends
        0012;Zając;Olga;UOP;2027-12-31
        0044;Sikora;Jan;UZ;
        0051;Duda;Piotr;UOP;
        """,
        """
        Badge|Family name|Given name|Contract|Ends
        6: 0012|Zając|Olga|UOP|2027-12-31
        7: 0044|Sikora|Jan|UZ|
        8: 0051|Duda|Piotr|UOP|
        """,
    ),
    strange(
        "numbered sentences above",
        """
        1. Do not add, remove or rename columns.
        2. One person, one line.
        3. Days as in 31/12/2026, please, and no others.
        4. Return this to the office by Friday.
        Pupil,Form,Day of birth,House
        Abiodun Oke,7B,14/03/2014,Red
        Rhys Llewellyn,7A,02/11/2013,Blue
        Yuki Tanaka,8C,28/01/2013,Red
        """,
        """
        Pupil|Form|Day of birth|House
        6: Abiodun Oke|7B|14/03/2014|Red
        7: Rhys Llewellyn|7A|02/11/2013|Blue
        8: Yuki Tanaka|8C|28/01/2013|Red
        """,
    ),
    strange(
        "quoted sentences above",
        """
        "Attention: this list, as all lists, is confidential."
        "Whoever finds it ""by chance"", returns it."

        "Card","Holder","Valid to"
        "7719","Bergström, Åsa","2027-01-31"
        "7720","Nyman, Leo","2026-12-31"
        """,
        """
        Card|Holder|Valid to
        5: 7719|Bergström, Åsa|2027-01-31
        6: 7720|Nyman, Leo|2026-12-31
        """,
    ),
    strange(
        "tabs, and notes without one",
        "Export of memberships\nall branches, active and resting\nrun 4471\n\nMember\tBranch\tPaid\n"
        "M-1\tNorth, upper\t120,50\nM-2\tSouth\t80\n",
        """
        Member|Branch|Paid
        6: M-1|North, upper|120,50
        7: M-2|South|80
        """,
    ),
    strange(
        "the separator is said on a line of its own",
        """
        sep=;
        Number;Name;Share, percent
        17;Aalto;12,5
        18;Berg;87,5
        """,
        """
        Number|Name|Share, percent
        3: 17|Aalto|12,5
        4: 18|Berg|87,5
        """,
    ),
    strange(
        "a ruler below the header",
        """
        Staff no|Name|Grade
        --------|----|-----
        90112|Okafor Chidi|G4
        90113|Silva Inês|G5
        90120|Novák Jan|G4
        """.replace("|", ";"),
        """
        Staff no|Name|Grade
        3: 90112|Okafor Chidi|G4
        4: 90113|Silva Inês|G5
        5: 90120|Novák Jan|G4
        """,
    ),
    strange(
        "filters between header and rows",
        """
        Employee;Unit;Role;Hired
        (all);(all);(all);(all)
        E100;Finance;clerk;2019-04-01
        E101;Finance;lead;2012-09-15
        E205;Stores;clerk;2021-01-10
        """,
        """
        Employee|Unit|Role|Hired
        3: E100|Finance|clerk|2019-04-01
        4: E101|Finance|lead|2012-09-15
        5: E205|Stores|clerk|2021-01-10
        """,
        header=1,
    ),
    strange(
        "questions between header and rows",
        """
        q1,q2,q3,q4
        "What is your membership number?","What is your full name?","When were you born?","May we write to you?"
        80-114,Moana Rangi,1988-02-29,yes
        80-115,Tama Ngata,1979-10-05,no
        80-120,Aroha Kingi,2001-07-19,yes
        """,
        """
        q1|q2|q3|q4
        3: 80-114|Moana Rangi|1988-02-29|yes
        4: 80-115|Tama Ngata|1979-10-05|no
        5: 80-120|Aroha Kingi|2001-07-19|yes
        """,
        header=1,
    ),
    strange(
        "types between header and rows",
        """
        CODE,NAME,DOB,HOURS
        char(6),varchar(40),date,"decimal(4,1)"
        A00017,Ferrari Luca,1991-05-05,37.5
        A00018,Conti Sara,1994-08-21,20.0
        """,
        """
        CODE|NAME|DOB|HOURS
        3: A00017|Ferrari Luca|1991-05-05|37.5
        4: A00018|Conti Sara|1994-08-21|20.0
        """,
        header=1,
    ),
    strange(
        "footnotes and a signature below",
        """
        Nr;Namn;Född;Avgift
        201;Lindgren Astrid;1990-11-14;450*
        202;Ek Nils;1985-03-02;450
        203;Dahl Kerstin;2001-01-30;0**
        * paid in two parts
        ** honorary member, pays nothing
        Stockholm, 12 August 2026

        ____________________ (chair)
        """,
        """
        Nr|Namn|Född|Avgift
        2: 201|Lindgren Astrid|1990-11-14|450*
        3: 202|Ek Nils|1985-03-02|450
        4: 203|Dahl Kerstin|2001-01-30|0**
        """,
    ),
    strange(
        "footnotes with as many commas as the table",
        """
        Id,Name,Town
        7,Fischer Anna,Graz
        8,Huber Karl,Linz
        9,Moser Eva,Wels
        Legend: blue is new, red is gone
        Questions to the registry, room 12, ground floor
        """,
        """
        Id|Name|Town
        2: 7|Fischer Anna|Graz
        3: 8|Huber Karl|Linz
        4: 9|Moser Eva|Wels
        """,
    ),
    strange(
        "totals in another tongue below",
        """
        Lp.;Pracownik;Etat
        1;Nowak Anna;1,00
        2;Kowal Piotr;0,50
        3;Wrona Ewa;0,75
        Razem: 3;;2,25
        """,
        """
        Lp.|Pracownik|Etat
        2: 1|Nowak Anna|1,00
        3: 2|Kowal Piotr|0,50
        4: 3|Wrona Ewa|0,75
        """,
    ),
    strange(
        "a title in the middle, and the day at the right",
        """
        ,,Roll of fellows,,
        ,,,,as of 1 September 2026
        ,,,,
        Fellow,Elected,Field,Chair,Emeritus
        Grant D. P.,1998,Geology,yes,no
        Adeyemi F.,2011,Botany,no,no
        Sørensen K.,1979,History,no,yes
        """,
        """
        Fellow|Elected|Field|Chair|Emeritus
        5: Grant D. P.|1998|Geology|yes|no
        6: Adeyemi F.|2011|Botany|no|no
        7: Sørensen K.|1979|History|no|yes
        """,
    ),
    strange(
        "a header over three lines",
        """
        Person,,,Contract,,
        Name,,Born,Period,,Kind
        family,given,,from,to,
        Petrov,Ivan,1980-01-02,2020-01-01,2026-12-31,full
        Ilieva,Mila,1992-06-17,2024-03-01,,part
        Georgiev,Asen,1975-12-12,2011-10-01,,full
        """,
        """
        Person Name family|Person Name given|Person Born|Contract Period from|Contract Period to|Contract Kind
        4: Petrov|Ivan|1980-01-02|2020-01-01|2026-12-31|full
        5: Ilieva|Mila|1992-06-17|2024-03-01||part
        6: Georgiev|Asen|1975-12-12|2011-10-01||full
        """,
        header=3,
    ),
    strange(
        "headings that are years",
        """
        Member;2023;2024;2025;2026
        Aas Kari;120;120;130;
        Bø Lars;120;;130;130
        Dahle Siv;;120;130;130
        """,
        """
        Member|2023|2024|2025|2026
        2: Aas Kari|120|120|130|
        3: Bø Lars|120||130|130
        4: Dahle Siv||120|130|130
        """,
        header=1,
    ),
    strange(
        "headings that are numbers",
        """
        Name,1,2,3,4,5
        Costa Rui,present,present,ill,present,away
        Dias Ana,present,ill,ill,present,present
        Faria Zé,away,present,present,away,present
        """,
        """
        Name|1|2|3|4|5
        2: Costa Rui|present|present|ill|present|away
        3: Dias Ana|present|ill|ill|present|present
        4: Faria Zé|away|present|present|away|present
        """,
        header=1,
    ),
    strange(
        "headings that stand twice",
        """
        Code,Name,Code,Name,Share
        D1,Cardiology,E7,Kim Ji-woo,0.5
        D1,Cardiology,E9,Park Min,1.0
        D2,Surgery,E7,Kim Ji-woo,0.5
        """,
        """
        Code|Name|Code (2)|Name (2)|Share
        2: D1|Cardiology|E7|Kim Ji-woo|0.5
        3: D1|Cardiology|E9|Park Min|1.0
        4: D2|Surgery|E7|Kim Ji-woo|0.5
        """,
        header=1,
    ),
    strange(
        "headings that stand twice by mistake, one below the other",
        """
        Ident,Surname,Forename
        Ident,Surname,Forename
        44,Iversen,Bo
        45,Juul,Tine
        """,
        """
        Ident|Surname|Forename
        3: 44|Iversen|Bo
        4: 45|Juul|Tine
        """,
    ),
    strange(
        "one row only, below a header",
        """
        Payroll no;Surname;Forename;Start
        5512;Brandt;Ole;2026-09-01
        """,
        """
        Payroll no|Surname|Forename|Start
        2: 5512|Brandt|Ole|2026-09-01
        """,
        header=1,
    ),
    strange(
        "one row only, all words",
        """
        Surname;Forename;House
        Brandt;Ole;Red
        """,
        """
        Surname|Forename|House
        2: Brandt|Ole|Red
        """,
        header=1,
    ),
    strange(
        "a header in Greek over words alone",
        """
        Επώνυμο;Όνομα;Τμήμα
        Παπαδόπουλος;Γιώργος;Ναυτικό
        Νικολάου;Ελένη;Ναυτικό
        Γεωργίου;Μαρία;Μηχανές
        """,
        """
        Επώνυμο|Όνομα|Τμήμα
        2: Παπαδόπουλος|Γιώργος|Ναυτικό
        3: Νικολάου|Ελένη|Ναυτικό
        4: Γεωργίου|Μαρία|Μηχανές
        """,
        header=1,
    ),
    strange(
        "no header, and words alone that repeat",
        """
        Halle;Peters;A
        Halle;Kunze;B
        Jena;Adler;A
        Jena;Vogt;A
        Halle;Brandt;B
        """,
        """
        Column 1|Column 2|Column 3
        1: Halle|Peters|A
        2: Halle|Kunze|B
        3: Jena|Adler|A
        4: Jena|Vogt|A
        5: Halle|Brandt|B
        """,
    ),
    strange(
        "no header below a title",
        """
        Mailing list of the society
        anna@skole.example;Anna Moe
        jens@skole.example;Jens Lie
        tor@skole.example;Tor Vik
        """,
        """
        Column 1|Column 2
        2: anna@skole.example|Anna Moe
        3: jens@skole.example|Jens Lie
        4: tor@skole.example|Tor Vik
        """,
    ),
    strange(
        "the first person has a title's habits",
        """
        Staff,Remarks,Since
        Dr. Anna-Maria von der Heide-Lindenberg (Chair),on leave until the end of the academic year,2001
        Ito,,2019
        Ono,,2020
        """,
        """
        Staff|Remarks|Since
        2: Dr. Anna-Maria von der Heide-Lindenberg (Chair)|on leave until the end of the academic year|2001
        3: Ito||2019
        4: Ono||2020
        """,
        header=1,
    ),
    strange(
        "a note under the header that is a sentence",
        """
        Kortnummer;Innehavare;Giltigt till
        Fyll i ett kort per rad, tack.;;
        881;Hedda Ros;2027-06-30
        882;Ivar Sten;2027-06-30
        """,
        """
        Kortnummer|Innehavare|Giltigt till
        3: 881|Hedda Ros|2027-06-30
        4: 882|Ivar Sten|2027-06-30
        """,
        header=1,
    ),
    strange(
        "known fields decide against the look",
        """
        Alpha,Beta,Gamma
        reg,fam,giv
        X1,Bell,Ann
        X2,Dell,Bob
        """,
        """
        reg|fam|giv
        3: X1|Bell|Ann
        4: X2|Dell|Bob
        """,
        known="reg|fam|giv",
        header=2,
    ),
]
