"""Documents that hold a table: pages of the web called .xls, XML, JSON whose rows lie deeper."""

from __future__ import annotations

from .making import strange

FILES = [
    strange(
        "a page of the web that is called a workbook",
        """
        <html xmlns:x="urn:x"><head><meta charset="utf-8"><style>td {mso: x}</style></head><body>
        <h1>Members &amp; friends</h1>
        <table border=1>
        <tr><th>No</th><th>Name</th><th>Joined</th></tr>
        <tr><td>0071</td><td>M&uuml;ller &amp; Sohn</td><td>2019-05-01</td></tr>
        <tr><td>0072</td><td>Larsen<br>Anne</td><td></td></tr>
        <tr><td>0073</td><td>O&#39;Dea Pat</td><td>2020-01-01</td></tr>
        </table></body></html>
        """,
        """
        No|Name|Joined
        5: 0071|Müller & Sohn|2019-05-01
        6: 0072|Larsen␤Anne|
        7: 0073|O'Dea Pat|2020-01-01
        """,
    ),
    strange(
        "a page with a menu in a table of its own",
        """
        <!DOCTYPE html>
        <html><body><table><tr><td><a href="/">Home</a></td><td>Help</td></tr></table>
        <script>var rows = "<table><tr><td>no</td></tr></table>"</script>
        <table id=people><thead><tr><th>Badge<th>Holder<th>Zone</thead>
        <tbody><tr><td>11<td>Ada Roe<td>North<tr><td>12<td>Bo Lie<td>South<tr><td>15<td>Cy Moe<td>North</tbody></table></body></html>
        """,
        """
        Badge|Holder|Zone
        2: 11|Ada Roe|North
        3: 12|Bo Lie|South
        4: 15|Cy Moe|North
        """,
    ),
    strange(
        "a page without a table",
        "<!doctype html><html><body><p>Please sign in.</p></body></html>",
        refused="This is a web page",
    ),
    strange(
        "a workbook written as XML",
        """
        <?xml version="1.0"?>
        <Workbook xmlns="urn:schemas-microsoft-com:office:spreadsheet" xmlns:ss="urn:schemas-microsoft-com:office:spreadsheet">
        <Worksheet ss:Name="Staff"><Table>
        <Row><Cell><Data ss:Type="String">Code</Data></Cell><Cell><Data ss:Type="String">Name</Data></Cell><Cell><Data ss:Type="String">Born</Data></Cell></Row>
        <Row><Cell><Data ss:Type="Number">12</Data></Cell><Cell><Data ss:Type="String">Elm &amp; Ash</Data></Cell><Cell><Data ss:Type="DateTime">1990-02-03T00:00:00.000</Data></Cell></Row>
        <Row ss:Index="4"><Cell><Data ss:Type="Number">13</Data></Cell><Cell ss:Index="3"><Data ss:Type="DateTime">1991-04-05T00:00:00.000</Data></Cell></Row>
        </Table></Worksheet></Workbook>
        """,
        """
        Code|Name|Born
        2: 12|Elm & Ash|1990-02-03
        4: 13||1991-04-05
        """,
    ),
    strange(
        "records as XML",
        """
        <?xml version="1.0" encoding="UTF-8"?>
        <export made="2026-08-12"><school>Northgate</school>
        <pupils>
        <pupil id="501"><name><family>Adair</family><given>Finn</given></name><born>2014-02-03</born></pupil>
        <pupil id="502"><name><family>Boyle</family><given>Órla</given></name><born>2013-10-19</born><club>chess</club><club>rowing</club></pupil>
        </pupils></export>
        """,
        """
        id|name.family|name.given|born|club
        4: 501|Adair|Finn|2014-02-03|
        5: 502|Boyle|Órla|2013-10-19|chess;rowing
        """,
    ),
    strange(
        "JSON whose rows lie deeper",
        """
        {"meta": {"count": 2, "made": "2026-08-12"},
         "data": {"people": [
           {"id": "17", "name": "Ana Luz"},
           {"id": "18", "name": "Leo Sol", "mail": "leo@x.example"}]}}
        """,
        """
        id|name|mail
        3: 17|Ana Luz|
        4: 18|Leo Sol|leo@x.example
        """,
    ),
    strange(
        "JSON as lists with their header first",
        """
        [["id", "name", "born"],
         [17, "Ana Luz", "1990-01-01"],
         [18, "Leo Sol", null]]
        """,
        """
        id|name|born
        2: 17|Ana Luz|1990-01-01
        3: 18|Leo Sol|
        """,
    ),
    strange(
        "JSON with columns and rows apart",
        """
        {"columns": ["id", "name"],
         "rows": [
          ["0017", "Ana Luz"],
          ["0018", "Leo Sol"]]}
        """,
        """
        id|name
        3: 0017|Ana Luz
        4: 0018|Leo Sol
        """,
    ),
    strange(
        "JSON with people by their number",
        """
        {
         "1017": {"name": "Ana Luz", "unit": "A"},
         "1018": {"name": "Leo Sol", "unit": "B"},
         "1019": {"name": "Mia Eck", "unit": "A"}
        }
        """,
        """
        key|name|unit
        2: 1017|Ana Luz|A
        3: 1018|Leo Sol|B
        4: 1019|Mia Eck|A
        """,
    ),
    strange(
        "JSON with parts within people",
        """
        [{"id": 1, "name": {"family": "Luz", "given": "Ana"}, "phones": ["1", "2"]},
         {"id": 2, "name": {"family": "Sol", "given": "Leo"}, "phones": []}]
        """,
        """
        id|name|phones
        1: 1|{"family": "Luz", "given": "Ana"}|1;2
        2: 2|{"family": "Sol", "given": "Leo"}|
        """,
    ),
    strange(
        "blank lines in JSON lines",
        b'\n{"id": 1, "n": "a"}\n\n\n{"id": 2, "n": "b"}\n\n',
        "id|n\n2: 1|a\n5: 2|b",
    ),
    strange(
        "a list in JSON that is cut off",
        '[{"id": 1, "n": "a"},\n{"id": 2, "n": "b"},\n',
        refused="The list is cut off",
    ),
    strange(
        "a list in JSON that is cut off behind a row",
        '[{"id": 1, "n": "a"},\n{"id": 2, "n": "b"}\n',
        refused="The list is cut off",
    ),
    strange(
        "a deeper list in JSON that is cut off",
        '{"people": [{"id": 1, "n": "a"},\n{"id": 2, "n": "b"}',
        refused="The list is cut off",
    ),
]
