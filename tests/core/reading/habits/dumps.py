"""What old systems print: pages with heads and rulers, leading and closing records, tables drawn in letters."""

from __future__ import annotations

from .making import strange

FILES = [
    strange(
        "a printout in pages",
        "\f"
        "CITY HOSPITAL                PERSONNEL            PAGE   1\n"
        "RUN 12/08/26 06:00\n"
        "\n"
        "NUMBER  NAME                  GRADE  HIRED\n"
        "------  --------------------  -----  ----------\n"
        "100231  ADEBAYO OLU           N4     01/04/2011\n"
        "100232  BRENNAN SIOBHAN       N5     15/09/2003\n"
        "\f"
        "CITY HOSPITAL                PERSONNEL            PAGE   2\n"
        "RUN 12/08/26 06:00\n"
        "\n"
        "NUMBER  NAME                  GRADE  HIRED\n"
        "------  --------------------  -----  ----------\n"
        "100240  CHEN WEI              N4     01/02/2019\n"
        "100251  DUARTE MARISA         N6     20/11/1998\n"
        "\n"
        "*** 4 RECORDS LISTED ***\n",
        """
        NUMBER|NAME|GRADE|HIRED
        6: 100231|ADEBAYO OLU|N4|01/04/2011
        7: 100232|BRENNAN SIOBHAN|N5|15/09/2003
        13: 100240|CHEN WEI|N4|01/02/2019
        14: 100251|DUARTE MARISA|N6|20/11/1998
        """,
    ),
    strange(
        "a leading record and a closing one",
        """
        HDR;20260812;SIS;PUPILS;0003
        P;55101;Adair;Finn;2014-02-03
        P;55102;Boyle;Orla;2013-10-19
        P;55107;Casey;Niamh;2014-07-28
        TRL;20260812;SIS;PUPILS;0003
        """,
        """
        Column 1|Column 2|Column 3|Column 4|Column 5
        2: P|55101|Adair|Finn|2014-02-03
        3: P|55102|Boyle|Orla|2013-10-19
        4: P|55107|Casey|Niamh|2014-07-28
        """,
    ),
    strange(
        "a closing record whose count is not that of the rows",
        """
        H|EXPORT|20260812
        D|K100|Ahn Jae|19900101
        D|K101|Bae Ha|19910202
        D|K102|Cho Yu|19920303
        T|7
        """,
        """
        Column 1|Column 2|Column 3|Column 4
        2: D|K100|Ahn Jae|19900101
        3: D|K101|Bae Ha|19910202
        4: D|K102|Cho Yu|19920303
        """,
        remark="says 7",
    ),
    strange(
        "drawn with bars and a ruler",
        """
        | Number | Name        | Since      |
        |--------|-------------|------------|
        | 41     | Aune Berit  | 2019-08-01 |
        | 42     | Bakke Odd   | 2020-01-15 |
        """,
        """
        Number|Name|Since
        3: 41|Aune Berit|2019-08-01
        4: 42|Bakke Odd|2020-01-15
        """,
    ),
    strange(
        "drawn with a frame",
        """
        +------+---------------+-------+
        | id   | name          | ward  |
        +------+---------------+-------+
        | 7001 | Marek Vít     | A     |
        | 7002 | Nováková Jana | B     |
        +------+---------------+-------+
        2 rows in set (0.01 sec)
        """,
        """
        id|name|ward
        4: 7001|Marek Vít|A
        5: 7002|Nováková Jana|B
        """,
    ),
    strange(
        "drawn with a frame of lines",
        """
        ┌──────┬───────────┬──────┐
        │ Kort │ Namn      │ Zon  │
        ├──────┼───────────┼──────┤
        │ 91   │ Åberg Eva │ Norr │
        │ 92   │ Öman Ulf  │ Syd  │
        └──────┴───────────┴──────┘
        """,
        """
        Kort|Namn|Zon
        4: 91|Åberg Eva|Norr
        5: 92|Öman Ulf|Syd
        """,
    ),
    strange(
        "what a query prints",
        " empno |    name     | dept \n"
        "-------+-------------+------\n"
        "   101 | Gupta Asha  | IT\n"
        "   102 | Haas Bernd  | HR\n"
        "(2 rows)\n",
        """
        empno|name|dept
        3: 101|Gupta Asha|IT
        4: 102|Haas Bernd|HR
        """,
    ),
    strange(
        "fixed columns, a ruler that says where",
        """
        ID    SURNAME     INITIALS DOB
        ===== =========== ======== ==========
        00017 DE JONG     A.B.     1970-03-01
        00018 VAN DEN BERGC.       1985-12-24
        00021 SMIT        J.K.L.   1999-01-31
        """,
        """
        ID|SURNAME|INITIALS|DOB
        3: 00017|DE JONG|A.B.|1970-03-01
        4: 00018|VAN DEN BERG|C.|1985-12-24
        5: 00021|SMIT|J.K.L.|1999-01-31
        """,
    ),
    strange(
        "everything ends with a separator",
        """
        PERSNR;NAAM;FUNCTIE;
        4711;Jansen;kok;
        4712;Pietersen;matroos;
        4713;de Wit;kok;
        """,
        """
        PERSNR|NAAM|FUNCTIE|Column 4
        2: 4711|Jansen|kok|
        3: 4712|Pietersen|matroos|
        4: 4713|de Wit|kok|
        """,
    ),
]
