"""What stands between the rows: pages, repeated headers, subtotals, titles of groups; and separators that few use."""

from __future__ import annotations

from .making import strange

FILES = [
    strange(
        "pages with their numbers and headers again",
        """
        Staff list;;;
        page 1 of 3;;;
        No;Surname;Forename;Desk
        11;Abe;Ken;4
        12;Baba;Mai;5
        page 2 of 3;;;
        No;Surname;Forename;Desk
        13;Chiba;Rin;6
        14;Doi;Sho;7
        page 3 of 3;;;
        No;Surname;Forename;Desk
        15;Endo;Yui;8
        """,
        """
        No|Surname|Forename|Desk
        4: 11|Abe|Ken|4
        5: 12|Baba|Mai|5
        8: 13|Chiba|Rin|6
        9: 14|Doi|Sho|7
        12: 15|Endo|Yui|8
        """,
    ),
    strange(
        "the header again in another case and with spaces",
        """
        Code,Family,Given
        1,Rey,Ana
        CODE , FAMILY , GIVEN
        2,Sol,Luz
        """,
        """
        Code|Family|Given
        2: 1|Rey|Ana
        4: 2|Sol|Luz
        """,
    ),
    strange(
        "subtotals after groups",
        """
        Branch,Member,Fee
        North,Aksoy Deniz,50
        North,Bulut Ece,50
        Subtotal North,2,100
        South,Celik Can,50
        South,Demir Ali,25
        Subtotal South,2,75
        Grand total,4,175
        """,
        """
        Branch|Member|Fee
        2: North|Aksoy Deniz|50
        3: North|Bulut Ece|50
        5: South|Celik Can|50
        6: South|Demir Ali|25
        """,
    ),
    strange(
        "subtotals in German, the word behind",
        """
        Abteilung;Personalnr;Name;Stunden
        Küche;4001;Adler, Uwe;38,5
        Küche;4002;Busch, Ina;20
        Küche Summe;;;58,5
        Lager;4010;Clement, Jo;38,5
        Lager Summe;;;38,5
        Gesamtsumme;;;97
        """,
        """
        Abteilung|Personalnr|Name|Stunden
        2: Küche|4001|Adler, Uwe|38,5
        3: Küche|4002|Busch, Ina|20
        5: Lager|4010|Clement, Jo|38,5
        """,
    ),
    strange(
        "titles of groups between the rows",
        """
        Number,Name,Born
        Watch one,,
        4401,Hale Tom,2008-01-14
        4402,Ibsen Liv,2008-05-30
        Watch two,,
        4407,Jansen Ada,2007-12-24
        4411,Kruse Max,2008-02-02
        """,
        """
        Number|Name|Born
        3: 4401|Hale Tom|2008-01-14
        4: 4402|Ibsen Liv|2008-05-30
        6: 4407|Jansen Ada|2007-12-24
        7: 4411|Kruse Max|2008-02-02
        """,
    ),
    strange(
        "people of whom only a number is known stay",
        """
        Number,Name,Born
        4401,Hale Tom,2008-01-14
        4402,,
        4407,,
        4411,Kruse Max,2008-02-02
        4412,,
        """,
        """
        Number|Name|Born
        2: 4401|Hale Tom|2008-01-14
        3: 4402||
        4: 4407||
        5: 4411|Kruse Max|2008-02-02
        6: 4412||
        """,
    ),
    strange(
        "people of whom only the name is known stay",
        """
        Name,Number,Born
        Hale Tom,4401,2008-01-14
        Ibsen Liv,,
        Totland Per,,
        Page Ellen,,
        End Marta,4408,2007-01-01
        Summer Joy,,
        """,
        """
        Name|Number|Born
        2: Hale Tom|4401|2008-01-14
        3: Ibsen Liv||
        4: Totland Per||
        5: Page Ellen||
        6: End Marta|4408|2007-01-01
        7: Summer Joy||
        """,
    ),
    strange(
        "rulers between the rows",
        """
        Nr;Naam;Afdeling
        ====;====;====
        101;de Vries, Piet;Haven
        ----;----;----
        102;Bakker, Noor;Haven
        ----;----;----
        103;Visser, Sem;Werf
        ====;====;====
        """,
        """
        Nr|Naam|Afdeling
        3: 101|de Vries, Piet|Haven
        5: 102|Bakker, Noor|Haven
        7: 103|Visser, Sem|Werf
        """,
    ),
    strange(
        "short rows and long ones",
        """
        A,B,C,D
        1,Ann,Rye
        2,Bob,Ash,x
        3,Cy
        4,Dee,Elm,y,z
        """,
        """
        A|B|C|D|Column 5
        2: 1|Ann|Rye||
        3: 2|Bob|Ash|x|
        4: 3|Cy|||
        5: 4|Dee|Elm|y|z
        """,
    ),
    strange(
        "separated by carets",
        "EMPNO^NAME^UNIT\n1^Öz, Ayşe^ICU\n2^Ak, Can^ER\n3^Er, Efe^ICU\n",
        """
        EMPNO|NAME|UNIT
        2: 1|Öz, Ayşe|ICU
        3: 2|Ak, Can|ER
        4: 3|Er, Efe|ICU
        """,
    ),
    strange(
        "separated by tildes, days with colons in them",
        "id~name~seen\n9~Bo Ek~2026-01-01 10:00:00\n10~Ia Al~2026-01-02 11:30:00\n",
        """
        id|name|seen
        2: 9|Bo Ek|2026-01-01 10:00:00
        3: 10|Ia Al|2026-01-02 11:30:00
        """,
    ),
    strange(
        "separated by colons",
        "login:number:full name:room\nhga:1001:Hanna Gall:B 12\nuwi:1002:Uli Wirth:B 14\nmso:1003:Mia Sommer:C 1\n",
        """
        login|number|full name|room
        2: hga|1001|Hanna Gall|B 12
        3: uwi|1002|Uli Wirth|B 14
        4: mso|1003|Mia Sommer|C 1
        """,
    ),
    strange(
        "one column of names with commas",
        """
        Members
        "Tait, Rob"
        "Unwin, Sal"
        "Voss, Kim"
        """,
        """
        Members
        2: Tait, Rob
        3: Unwin, Sal
        4: Voss, Kim
        """,
    ),
    strange(
        "decimal commas in a table of semicolons, more of those than of these",
        """
        Nr;Werte
        1;1,5 2,5 3,5 4,5
        2;1,0 2,0 3,0 4,0
        3;0,5 0,5 0,5 0,5
        """,
        """
        Nr|Werte
        2: 1|1,5 2,5 3,5 4,5
        3: 2|1,0 2,0 3,0 4,0
        4: 3|0,5 0,5 0,5 0,5
        """,
    ),
    strange(
        "addresses with semicolons in a table of commas",
        """
        ref,mails,active
        1,"a@x.example;b@x.example;c@x.example",1
        2,"d@x.example;e@x.example",0
        3,f@x.example,1
        """,
        """
        ref|mails|active
        2: 1|a@x.example;b@x.example;c@x.example|1
        3: 2|d@x.example;e@x.example|0
        4: 3|f@x.example|1
        """,
    ),
    strange(
        "an address over three lines in a cell",
        'No,Name,Address\n1,Ek,"Box 4\nByn\nNorge"\n2,Al,"Gata 1"\n',
        "No|Name|Address\n2: 1|Ek|Box 4␤Byn␤Norge\n5: 2|Al|Gata 1",
    ),
    strange(
        "columns without anything at the left",
        """
        ;;Number;Name;Born
        ;;1;Ana Luz;1990-01-01
        ;;2;Eva Mar;1991-02-02
        ;;3;Leo Sol;1992-03-03
        """,
        """
        Number|Name|Born
        2: 1|Ana Luz|1990-01-01
        3: 2|Eva Mar|1991-02-02
        4: 3|Leo Sol|1992-03-03
        """,
    ),
]
