"""Importing clients: columns matched, every row looked at, nothing before it is confirmed, nobody twice."""

import pytest

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
    def post(data=TABLE, **form):
        files = {"file": ("clients.csv", data, "text/csv")}
        return coach.post("/api/import/preview", data={"time_zone": "Europe/Lisbon", **form}, files=files)

    return post


@pytest.fixture
def run(coach):
    def post(expected, data=TABLE, columns="name,email,birth_year,minutes,concerns,note"):
        form = {"time_zone": "Europe/Lisbon", "columns": columns, "expected": str(expected)}
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
        ({"columns": "email,name,name,minutes,concerns,note"}, "Two columns"),
        ({"columns": "name"}, "6 columns"),
        ({"columns": "email,,,,,"}, "client's name"),
        ({"columns": "name,shoe,,,,"}, "no field “shoe”"),
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
