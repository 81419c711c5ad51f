"""Importing clients: columns matched, every row looked at, nothing before it is confirmed, nobody twice."""

import io
import json
from datetime import date

import pytest
from openpyxl import Workbook

TABLE = b"""Client;Mail;Born;Minutes;Focus;Remarks
Wendeline Stroop;wendeline@mail.example;1971;15 min;crow's feet, double chin;by word of mouth
Ulf Brandqvist;ulf at mail;1960;20;tight jaw;
;nobody@mail.example;1980;10;;
Ottmar Feld;;2031;10;;
Zuleika Amari;zuleika@mail.example;03.04.1985;12;something odd;
Zuleika Amari;ZULEIKA@mail.example;1985;12;;
"""


@pytest.fixture
def preview(coach):
    def post(data=TABLE, time_zone="Europe/Lisbon", **choices):
        files = {"file": ("clients.csv", data, "text/csv")}
        return coach.post("/api/import/preview", data={"time_zone": time_zone, "choices": json.dumps(choices)}, files=files)

    return post


@pytest.fixture
def run(coach):
    def post(expected, data=TABLE, columns="name,email,birth_year,minutes,concerns,note", **choices):
        told = json.dumps({"columns": columns.split(",") if columns else None, **choices})
        form = {"time_zone": "Europe/Lisbon", "choices": told, "expected": str(expected)}
        return coach.post("/api/import", data=form, files={"file": ("clients.csv", data, "text/csv")})

    return post


def names(coach):
    return sorted(c["name"] for c in coach.get("/api/clients").json())


def test_columns_are_guessed_and_rows_told_apart_without_importing(preview, coach):
    before = names(coach)
    found = preview().json()
    assert [c["field"] for c in found["columns"]] == ["name", "email", "birth_year", "minutes", "concerns", "note"]
    assert found["delimiter"] == "semicolon" and found["encoding"] == "UTF-8"
    assert (found["new"], found["here"], found["wrong"]) == (2, 0, 4)
    wrong = {e["line"]: e["message"] for e in found["errors"]}
    assert set(wrong) == {3, 4, 5, 7}
    assert "e-mail" in wrong[3] and "no name" in wrong[4] and "2031" in wrong[5] and "line 6" in wrong[7]
    assert names(coach) == before


def test_an_import_keeps_values_concerns_and_notes(run, coach):
    assert run(2).status_code == 201
    people = {c["name"]: c for c in coach.get("/api/clients").json()}
    assert people["Wendeline Stroop"]["concerns"] == ["Crow’s feet", "Fullness under the chin"]
    told = [t["text"] for t in coach.get(f"/api/clients/{people['Zuleika Amari']['id']}/timeline").json()]
    assert "Concerns: something odd" in told and "Imported from clients.csv, line 6" in told
    intake = coach.get(f"/api/clients/{people['Wendeline Stroop']['id']}/intake").json()["profile"]
    assert (intake["email"], intake["birth_year"], intake["minutes"]) == ("wendeline@mail.example", 1971, 15)


def test_running_it_twice_adds_nobody_twice(run, preview, coach):
    run(2)
    once = names(coach)
    again = preview().json()
    assert (again["new"], again["here"]) == (0, 3)
    refused = run(2)
    assert refused.status_code == 409 and "Look at the preview again" in refused.json()["message"]
    assert run(0).status_code == 201
    assert names(coach) == once


@pytest.mark.parametrize(
    ("form", "says"),
    [
        ({"columns": ["email", "name", "name", "minutes", "concerns", "note"]}, "Two columns"),
        ({"columns": ["name"]}, "6 columns"),
        ({"columns": ["email", "", "", "", "", ""]}, "client's name"),
        ({"columns": ["name", "shoe", "", "", "", ""]}, "no field “shoe”"),
        ({"time_zone": "Mars/Olympus"}, "Mars/Olympus"),
    ],
)
def test_a_matching_that_cannot_be_is_refused(preview, form, says):
    answer = preview(**form)
    assert answer.status_code == 422 and says in answer.json()["message"]


def test_another_encoding_and_no_table(preview):
    western = preview(data="Name\nÅsa Brännström\n".encode("cp1252")).json()
    assert western["encoding"].startswith("Western European") and western["rows"][0]["values"]["name"] == "Åsa Brännström"
    assert "not a text file" in preview(data=b"PK\0\0").json()["message"]
    assert "empty" in preview(data=b" ").json()["message"]


def test_ten_thousand_rows_are_taken_whole(run, preview, coach):
    data = "name,email\n" + "".join(f"Person {n},p{n}@mail.example\n" for n in range(10_000))
    found = preview(data=data.encode()).json()
    assert found["new"] == 10_000 and len(found["rows"]) < 100
    assert run(10_000, data=data.encode(), columns="name,email").status_code == 201
    assert preview(data=data.encode()).json()["here"] == 10_000


def test_lists_as_coaches_keep_them_lose_nothing_and_make_nobody_up(preview, run, coach):
    """A title above, first and last name apart, German headings, headings between, a total, a bad phone, other columns."""
    data = (
        "Kundenliste Studio;;;;;;\n;;;;;;\n"
        "Vorname;Nachname;Geburtsdatum;Handy;E-Mail;Zeitstempel;Minuten am Tag\n"
        "Montagsgruppe;;;;;;\n"
        "Änne;Größer-Weiß;03.04.71;0171 / 555 01;aenne@mail.example;12:03;15 min\n"
        "Bo;Lind;1980-05-06;ruft an;bo@mail.example;12:04;20\n"
        "Vorname;Nachname;Geburtsdatum;Handy;E-Mail;Zeitstempel;Minuten am Tag\n"
        "Summe;2;;;;;35\n"
    ).encode()
    found = preview(data=data).json()
    assert [c["field"] for c in found["columns"]] == ["first_name", "last_name", "birth_year", "phone", "email", "", "minutes"]
    assert {r["line"]: r["fate"] for r in found["rows"]} == {4: "ask", 5: "new", 6: "new", 7: "none", 8: "none"}
    columns = ",".join(c["field"] for c in found["columns"])
    undecided = run(2, data=data, columns=columns)
    assert undecided.status_code == 422 and undecided.json()["field"] == "rows"
    assert run(2, data=data, columns=columns, rest=True, rows=[{"line": 4, "says": "leave"}]).status_code == 201
    people = {c["name"]: c["id"] for c in coach.get("/api/clients").json()}
    assert {"Änne Größer-Weiß", "Bo Lind"} <= set(people) and not {"Montagsgruppe", "Summe", "Vorname"} & set(people)
    profile = coach.get(f"/api/clients/{people['Änne Größer-Weiß']}/intake").json()["profile"]
    assert (profile["birth_year"], profile["phone"], profile["minutes"]) == (1971, "0171 / 555 01", 15)
    told = "\n".join(t["text"] for t in coach.get(f"/api/clients/{people['Bo Lind']}/timeline").json())
    assert "Handy: ruft an" in told and "Zeitstempel: 12:04" in told


def test_likely_doubles_are_asked_and_not_guessed(preview, run):
    data = b"name,birth year,email\nZo\xc3\xab  Fjell,1980,\nzoe fjell,,zoe@mail.example\nZoe Fjell,1991,z2@mail.example\n"
    found = preview(data=data).json()
    assert [(r["fate"], r["remark"]) for r in found["rows"]] == [
        ("new", ""),
        ("ask", "may be Zo\u00eb  Fjell, born 1980, line 2"),
        ("new", ""),
    ]
    one = preview(data=data, rows=[{"line": 3, "says": "client"}]).json()["rows"]
    assert (one[2]["fate"], one[2]["remark"]) == ("ask", "may be zoe fjell, line 3"), "nobody knows when that one was born"
    said = [{"line": n, "says": "client"} for n in (3, 4)]
    assert [r["fate"] for r in preview(data=data, rows=said).json()["rows"]] == ["new", "new", "new"]
    assert run(3, data=data, columns="name,birth_year,email", rows=said).status_code == 201
    again = preview(data=data).json()
    assert [r["fate"] for r in again["rows"]] == ["here", "here", "here"]


def test_cells_that_cannot_be_read_are_left_out_one_by_one_or_all_and_stand_in_a_note(preview, run, coach):
    data = b"name,minutes,zone,status\nAda,a while,Lissabon,aktiv\nBea,20,Porto,vielleicht\nCleo,15,Europe/Oslo,Paused\n"
    found = preview(data=data).json()
    assert (found["wrong"], [c["unreadable"] for c in found["columns"]]) == (2, [0, 1, 2, 1])
    partly = preview(data=data, left_out=[{"line": 2, "column": 1}]).json()
    assert {(e["line"], e["place"]) for e in partly["errors"]} == {(2, 2), (3, 2), (3, 3)}
    choices = {"left_out": [{"line": 2, "column": 1}], "left_out_columns": [2, 3]}
    assert run(3, data=data, columns="name,minutes,time_zone,status", **choices).status_code == 201
    people = {c["name"]: c["id"] for c in coach.get("/api/clients").json()}
    ada, bea, cleo = (coach.get(f"/api/clients/{people[n]}/intake").json()["profile"] for n in ("Ada", "Bea", "Cleo"))
    assert (ada["minutes"], ada["time_zone"], ada["status"]) == (None, "Europe/Lisbon", "active")
    assert (bea["time_zone"], bea["status"], cleo["status"], cleo["time_zone"]) == ("Europe/Lisbon", "active", "paused", "Europe/Oslo")
    told = "\n".join(t["text"] for t in coach.get(f"/api/clients/{people['Ada']}/timeline").json())
    assert "minutes: a while" in told and "zone: Lissabon" in told


def test_short_dates_are_asked_about_once(preview):
    data = b"name,born\nAda,71-04-05\nBea,04-05-09\n"
    found = preview(data=data).json()
    assert found["asks_order"] and [r["fate"] for r in found["rows"]] == ["new", "wrong"]
    years = [preview(data=data, year_first=first).json()["rows"][1]["values"]["birth_year"] for first in (False, True)]
    assert years == ["2009", "2004"] and not preview(data=data, year_first=True).json()["asks_order"]


def test_a_workbook_is_read_as_it_is(preview, run, coach):
    book = Workbook()
    book.active.title = "empty"
    sheet = book.create_sheet("clients")
    for row in (["My clients"], [], ["Name", "Born", "Minutes", "Mail"], ["Ada Brandt", date(1971, 4, 3), 15.0, "ada@mail.example"]):
        sheet.append(row)
    out = io.BytesIO()
    book.save(out)
    found = preview(data=out.getvalue()).json()
    assert (found["encoding"], found["new"], [c["field"] for c in found["columns"]]) == (
        "a workbook",
        1,
        ["name", "birth_year", "minutes", "email"],
    )
    assert found["rows"][0]["line"] == 4 and found["rows"][0]["values"]["birth_year"] == "1971"
    assert run(1, data=out.getvalue(), columns="name,birth_year,minutes,email").status_code == 201
    broken = preview(data=out.getvalue()[:900] + b"[Content_Types].xml")
    assert broken.status_code == 422 and "save it again" in broken.json()["message"]


def test_people_who_share_an_address_or_a_name_are_asked_about(preview, run, coach):
    data = b"name,email\nAda Fjell,home@mail.example\nBo Fjell,home@mail.example\nAnna Lund,\nAnna Lund,\nADA  fjell,HOME@mail.example\n"
    rows = {r["line"]: (r["fate"], r["remark"]) for r in preview(data=data).json()["rows"]}
    assert rows[3] == ("ask", "has the same e-mail as Ada Fjell, line 2") and rows[5] == ("ask", "may be Anna Lund, line 4")
    assert (rows[2][0], rows[4][0], rows[6][0]) == ("new", "new", "wrong")
    said = [{"line": n, "says": "client"} for n in (3, 5)]
    assert run(4, data=data, columns="name,email", rows=said).status_code == 201
    assert [r["fate"] for r in preview(data=data).json()["rows"]] == ["here"] * 5


def test_what_has_no_heading_and_a_name_too_long_lose_nothing(preview, run, coach):
    long = "x" * 100
    data = f"first name,last name\nAda,Fjell,left-handed\n{long},{long}\n".encode()
    found = preview(data=data, rest=True).json()
    assert [c["header"] for c in found["columns"]] == ["first name", "last name", ""]
    assert [r["fate"] for r in found["rows"]] == ["new", "wrong"] and "120 letters" in found["errors"][0]["message"]
    assert run(1, data=data, columns="first_name,last_name,", rest=True).status_code == 201
    people = {c["name"]: c["id"] for c in coach.get("/api/clients").json()}
    assert "left-handed" in "".join(t["text"] for t in coach.get(f"/api/clients/{people['Ada Fjell']}/timeline").json())
