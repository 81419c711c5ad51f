"""Templates, practice settings, open formats, hand-outs and own exercises over the wire."""

import io
import json
from datetime import UTC, datetime, timedelta

import jsonschema
import pypdf
import pytest
from openpyxl import load_workbook

from dimbo.work.programs.exchange import schema
from tests.web.practising import todays


@pytest.fixture
def program(drafted):
    return drafted(flat_cheeks=(3, 2), jaw_tension=(1, 1))


def upload(coach, practice, data, tail="", **form):
    path = f"/api/clients/{practice.client_id}/programs/import{tail}"
    return coach.post(path, files={"file": ("program.json", data, "application/json")}, data=form)


def exported(coach, program):
    return coach.get(f"/api/programs/{program['id']}/program.json").text


# Templates


def test_the_shipped_templates_are_listed_and_open_on_the_sheet(coach):
    rows = coach.get("/api/templates").json()
    assert len(rows) >= 8 and not any(r["own"] for r in rows)
    assert {c["id"] for r in rows for c in r["concerns"]} >= {"low-brow", "jowls", "jaw-tension", "lip-lines", "under-eye-puffiness"}
    assert len({r["approach"] for r in rows}) == 4
    reference = coach.get("/api/templates/reference-20").json()
    sheet, document = reference["sheet"], reference["document"]
    assert (document["weeks"], len(document["lines"])) == (20, 32)
    assert document["sessions"] == [7] * 8 + [3.5] * 12
    assert [w["days"] for w in sheet["weeks"]] == ["daily"] * 8 + ["every other day"] * 12
    assert 28 * 60 <= sheet["weeks"][0]["seconds"] <= 32 * 60
    assert sheet["weeks"][19]["total_s"] == pytest.approx(sheet["weeks"][0]["total_s"] / 2, rel=0.01)


def test_a_program_kept_as_a_template_loses_the_client_and_keeps_the_rungs(coach, program, owner):
    made = coach.post("/api/templates", json={"program_id": program["id"], "title": "Cheeks, ours"}).json()["id"]
    stored = owner.execute("select document from templates").fetchone()[0]
    assert all(c == "" or c.startswith("rung ") for n in stored["lines"] for c in n["cells"])
    assert not any(n["why"] for n in stored["lines"])
    opened = coach.get(f"/api/templates/{made}").json()
    assert opened["own"] and opened["title"] == "Cheeks, ours"
    assert [n["cells"] for n in opened["document"]["lines"]] == [n["cells"] for n in program["document"]["lines"]]
    document = opened["document"] | {"minutes": 25}
    body = {"base_revision": 1, "title": "Cheeks, ours", "document": document}
    kept = coach.put(f"/api/templates/{made}", json=body).json()
    assert (kept["version"], kept["revision"]) == (2, 2) and kept["sheet"]["assignable"]
    assert coach.put(f"/api/templates/{made}", json=body).status_code == 409
    assert coach.delete(f"/api/templates/{made}").status_code == 204
    assert coach.get(f"/api/templates/{made}").status_code == 404
    assert coach.get(f"/api/programs/{program['id']}").status_code == 200


def test_a_shipped_template_is_copied_to_be_changed(coach):
    made = coach.post("/api/templates/quiet-jaw/copy").json()["id"]
    assert coach.get(f"/api/templates/{made}").json()["title"] == "Quiet jaw, own"
    assert coach.get("/api/templates").json()[0]["own"]


def test_a_template_is_made_to_fit_and_says_what_it_left_out(coach, practice):
    yes = {"id": "00000000-0000-4000-8000-00000000aaaa", "kind": "caution", "key": "jaw-joint", "value": {"answer": "yes"}}
    coach.post(f"/api/clients/{practice.client_id}/facts", json={"entries": [yes]})
    found = coach.post(f"/api/clients/{practice.client_id}/programs/draft", json={"source": "first-steps"}).json()
    left = {x["name"]: x["reason"] for x in found["left_out"]}
    assert (
        "locked: jaw-joint disorder"
        in left["Chewing-muscle circles" if "Chewing-muscle circles" in left else "Temple hold and slow opening"]
    )
    assert "temple-wide" not in [n["exercise"] for n in found["document"]["lines"]]
    assert not [n for n in found["sheet"]["notes"] if n["weight"] == "stop"]
    short = coach.post(f"/api/clients/{practice.client_id}/programs/draft", json={"source": "reference-20"}).json()
    assert max(w["seconds"] for w in short["sheet"]["weeks"]) <= 15 * 60
    assert any("did not fit the 15 minutes" in x["reason"] for x in short["left_out"])


# Practice settings


def values(coach, **changed):
    ways = coach.get("/api/settings/ways").json()
    return {"approach": ways["approach"], "values": {x["key"]: x["value"] for x in ways["limits"]} | changed}


def test_what_a_change_does_is_shown_before_it_is_kept(coach, program, owner):
    effect = coach.post("/api/settings/ways/preview", json=values(coach, change_over_s=30)).json()
    assert effect["looked_at"] == 1
    (told,) = effect["effects"]
    assert told["sentence"].startswith("Eyes (Client of harbour): the longest session from ")
    assert owner.execute("select change_over_s::float8 from practices").fetchone() == (8.0,)
    assert coach.put("/api/settings/ways", json=values(coach, change_over_s=30)).status_code == 204
    now = coach.get(f"/api/programs/{program['id']}").json()["sheet"]["weeks"][0]["seconds"]
    assert now > program["sheet"]["weeks"][0]["seconds"]


def test_untouched_settings_change_nothing(coach, program):
    assert coach.post("/api/settings/ways/preview", json=values(coach)).json()["effects"] == []
    coach.put("/api/settings/ways", json=values(coach))
    assert coach.get(f"/api/programs/{program['id']}").json()["sheet"] == program["sheet"]


@pytest.mark.parametrize(
    ("change", "field", "says"),
    [
        ({"pace_s": 3}, "pace_s", "Count pace must be 0.8 to 1.6 s, not 3"),
        ({"session_growth": 1}, "session_growth", "Rise of a session must be"),
        ({"speed": 1}, None, "no setting “speed”"),
    ],
)
def test_settings_out_of_bounds_are_refused_with_their_name(coach, change, field, says):
    answer = coach.put("/api/settings/ways", json=values(coach, **change))
    assert answer.status_code == 422 and answer.json()["field"] == field and says in answer.json()["message"]


def test_an_approach_shapes_what_is_drafted(coach, practice, client, drafted):
    body = values(coach) | {"approach": "drain-and-calm"}
    assert coach.put("/api/settings/ways", json=body).status_code == 204
    made = drafted(under_eye_puffiness=(2, 2))
    assert made["document"]["approach"] == "drain-and-calm" and set(made["document"]["sessions"]) == {7}
    assert coach.put("/api/settings/ways", json=body | {"approach": "acrobatics"}).json()["field"] == "approach"
    own = coach.put(f"/api/clients/{practice.client_id}/ways", json={"approach": "strength-first", "pace_s": 1.4})
    assert own.status_code == 204
    told = coach.get(f"/api/clients/{practice.client_id}/ways").json()
    assert (told["approach"], told["pace_s"], told["practice_approach"]) == ("strength-first", 1.4, "Drain and calm")
    mine = drafted(flat_cheeks=(2, 2))
    assert mine["document"]["approach"] == "strength-first" and mine["sheet"]["pace_s"] == 1.4
    assert coach.put(f"/api/clients/{practice.client_id}/ways", json={"pace_s": 9}).json()["field"] == "pace_s"
    assert client.put("/api/settings/ways", json=body).status_code in (403, 404)


def test_a_running_program_keeps_the_settings_it_was_assigned_with(coach, client, program):
    coach.post(f"/api/programs/{program['id']}/assignment", json={"start": program["client_today"]})
    before = todays(client)["session"]["seconds"]
    coach.put("/api/settings/ways", json=values(coach, change_over_s=40))
    assert todays(client)["session"]["seconds"] == before


# Open formats


def test_a_program_goes_out_and_comes_in_equal(coach, practice, program):
    text = exported(coach, program)
    jsonschema.validate(json.loads(text), schema())
    assert practice.client_email not in text and "Client of harbour" not in text
    looked = upload(coach, practice, text, "/preview").json()
    assert (looked["title"], looked["unknown"], looked["lines"]) == ("Eyes", [], len(program["document"]["lines"]))
    made = upload(coach, practice, text, choices="{}").json()["id"]
    assert made != program["id"]
    assert coach.get(f"/api/programs/{made}").json()["document"] == program["document"] | {"concern": None}
    assert coach.get("/api/program.schema.json").json() == schema() and schema()["$id"]


def test_a_circuit_of_rows_that_are_not_there_is_refused_and_never_dropped(coach, practice, program):
    told = json.loads(exported(coach, program))
    told["program"]["circuits"] = [{"lines": [told["program"]["lines"][0]["id"], "gone"], "rounds": 2}]
    answer = upload(coach, practice, json.dumps(told), "/preview")
    assert answer.status_code == 422 and "circuit 1 names the row “gone”" in answer.json()["message"]


def test_unknown_exercises_are_mapped_or_left_out_and_never_guessed(coach, practice, program):
    file = json.loads(exported(coach, program))
    row = next(n for n in file["program"]["lines"] if n["exercise"] == "oval-lift")
    row["exercise"] = "own-cheek-lift"
    next(e for e in file["exercises"] if e["id"] == "oval-lift").update(id="own-cheek-lift", name="Oval cheek lift")
    text = json.dumps(file)
    (unknown,) = upload(coach, practice, text, "/preview").json()["unknown"]
    assert unknown["name"] == "Oval cheek lift" and unknown["like"][0]["id"] == "oval-lift"
    refused = upload(coach, practice, text, choices="{}")
    assert refused.status_code == 422 and refused.json()["field"] == "choices"
    mapped = upload(coach, practice, text, choices='{"own-cheek-lift": "oval-lift"}').json()["id"]
    assert "oval-lift" in [n["exercise"] for n in coach.get(f"/api/programs/{mapped}").json()["document"]["lines"]]
    left = upload(coach, practice, text, choices='{"own-cheek-lift": ""}').json()["id"]
    assert len(coach.get(f"/api/programs/{left}").json()["document"]["lines"]) == len(file["program"]["lines"]) - 1
    assert upload(coach, practice, text, choices="[1]").json()["field"] == "choices"


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"{", "broken at line 1"),
        (b"\xff\xfe\x00", "not text in UTF-8"),
        (b"[]", "no program"),
        (b'{"format": "dimbo-program", "version": 9}', "version 9; this installation reads version 1"),
        (b'{"format": "dimbo-program", "version": 1, "title": "x", "program": {"weeks": 2, "sessions": [3]}}', "2 weeks need 2"),
        (b"[" * 100_000, "nested too deep"),
        (b" " * 2_000_001, "larger than 2 MB"),
    ],
)
def test_files_that_are_no_program_are_refused_and_nothing_is_kept(coach, practice, owner, data, says):
    for tail in ("/preview", ""):
        answer = upload(coach, practice, data, tail, choices="{}")
        assert answer.status_code == 422 and answer.json()["field"] == "file", answer.text
        assert says in answer.json()["message"]
    assert owner.execute("select count(*) from programs").fetchone() == (0,)


def test_a_file_of_fifty_megabytes_is_refused_quickly(coach, practice):
    answer = upload(coach, practice, b"x" * 50_000_000, "/preview")
    assert answer.status_code == 413 and "at most 3 MB" in answer.json()["message"]
    answer = upload(coach, practice, b"x" * 2_500_000, "/preview")
    assert answer.status_code == 422 and "larger than 2 MB" in answer.json()["message"]


def test_the_sheet_goes_out_as_csv_that_no_spreadsheet_runs(coach, program):
    document = program["document"]
    document["lines"][0]["cells"][0] = "=1+1"
    coach.put(f"/api/programs/{program['id']}", json={"base_revision": 1, "title": "Eyes", "document": document})
    answer = coach.get(f"/api/programs/{program['id']}/program.csv")
    rows = answer.text.splitlines()
    assert rows[0] == "stage,exercise,family,when,week 1,week 2,week 3,week 4"
    assert len(rows) == 2 + len(document["lines"])
    assert "'=1+1" in answer.text and ",=1+1" not in answer.text
    sheet = load_workbook(io.BytesIO(coach.get(f"/api/programs/{program['id']}/program.xlsx").content)).active
    assert [c.value for c in sheet[1]] == rows[0].split(",") and sheet.max_row == len(rows)
    assert (sheet["E3"].value, sheet["E3"].data_type) == ("=1+1", "s")


# Paper


def read_pdf(data, tmp_path):
    (tmp_path / "week.pdf").write_bytes(data)
    pages = pypdf.PdfReader(tmp_path / "week.pdf").pages
    return pages, " ".join("\n".join(p.extract_text() for p in pages).split())


def test_the_hand_out_says_everything_in_order(coach, practice, program, tmp_path):
    path = f"/api/programs/{program['id']}/handout.pdf"
    answer = coach.get(path, params={"week": 2})
    assert answer.headers["content-type"] == "application/pdf"
    told = pypdf.PdfReader(io.BytesIO(answer.content))
    assert abs(told.metadata.creation_date - datetime.now(UTC)) < timedelta(minutes=5)
    assert told.xmp_metadata.dc_title["x-default"] == "Eyes, week 2" and told.root_object["/ViewerPreferences"]["/DisplayDocTitle"]
    assert told.root_object["/Lang"].startswith("en")
    pages, text = read_pdf(answer.content, tmp_path)
    assert round(float(pages[0].mediabox.width)) == 595
    fonts = [f.get_object() for page in pages for f in page["/Resources"]["/Font"].get_object().values()]
    names = {f["/BaseFont"].split("+")[1].rsplit("-Identity", 1)[0] for f in fonts}
    assert names and all(n.startswith(("DimboPaper", "Bricolage")) for n in names), "a font of the typesetter's own slipped in"
    for font in fonts:
        described = font["/DescendantFonts"][0].get_object()["/FontDescriptor"].get_object()
        assert {"/FontFile2", "/FontFile3"} & set(described), "a font is not in the file"
    assert round(float(read_pdf(coach.get(path, params={"week": 2, "paper": "letter"}).content, tmp_path)[0][0].mediabox.width)) == 612
    assert "Client of harbour, week 2 of 4" in text and "Pain means stop" in text
    places = [text.index(f"{n['name']}") for n in program["sheet"]["lines"] if n["stage"] != "through the day"]
    assert places == sorted(places)
    assert "hold" in text and "The oval widens into a grin?" in text
    assert coach.get(path, params={"week": 9}).json()["field"] == "week"


def outline(tree):
    """Kinds and texts of a tagged document's parts, in the order in which they are read out."""
    out, parts = [], [tree]
    while parts:
        part = parts.pop(0)
        part = part.get_object() if hasattr(part, "get_object") else part
        if isinstance(part, pypdf.generic.DictionaryObject):
            if "/S" in part:
                out.append((part["/S"], str(part.get("/Alt", ""))))
            kids = part.get("/K", [])
            parts = [*(kids if isinstance(kids, list) else [kids]), *parts]
    return out


def test_the_hand_out_is_tagged_for_those_who_have_it_read_out(coach, program):
    told = pypdf.PdfReader(io.BytesIO(coach.get(f"/api/programs/{program['id']}/handout.pdf", params={"week": 2}).content))
    assert told.root_object["/MarkInfo"]["/Marked"] and "pdfuaid" in told.root_object["/Metadata"].get_object().get_data().decode()
    parts = outline(told.root_object["/StructTreeRoot"])
    kinds = [kind for kind, _ in parts]
    lines = [n for n in program["sheet"]["lines"] if n["stage"] != "through the day"]
    assert kinds.count("/H1") == 1 and kinds.count("/H3") == kinds.count("/L") >= len(lines)
    drawn = [alt for kind, alt in parts if kind == "/Figure"]
    begins, ends, done, trains = (
        sum(alt.startswith(word) for alt in drawn)
        for word in ("How it begins, ", "How it ends, ", "How it is done, ", "Its course in time: ")
    )
    assert begins == ends > 0 and ends + done == trains == kinds.count("/H3") and begins + ends + done + trains == len(drawn)


def test_large_print_is_larger_and_a_page_to_tick_has_every_session_and_habit(coach, program, tmp_path):
    def made(**how):
        return read_pdf(coach.get(f"/api/programs/{program['id']}/handout.pdf", params={"week": 1, **how}).content, tmp_path)

    plain, large, ticked = (len(made(**how)[0]) for how in ({}, {"large": True}, {"tick": True}))
    assert large > plain and ticked == plain + 1
    text = made(tick=True)[1].split("To tick, week 1 of 4")[1]
    habits = [n["name"] for n in program["sheet"]["lines"] if n["stage"] == "through the day"]
    assert "Day 7" in text and "Session" in text and all(h in text for h in habits)


def test_chosen_exercises_alone_are_printed(coach, program, tmp_path):
    lines = program["sheet"]["lines"]
    one, habit = (next(n for n in lines if (n["stage"] == "through the day") is day) for day in (False, True))
    other = next(n for n in lines if n["id"] not in (one["id"], habit["id"]) and n["stage"] != "through the day")
    path = f"/api/programs/{program['id']}/handout.pdf"
    _, text = read_pdf(coach.get(path, params={"week": 1, "only": [one["id"]], "tick": True}).content, tmp_path)
    assert one["name"] in text and other["name"] not in text and habit["name"] not in text
    _, text = read_pdf(coach.get(path, params={"week": 1, "only": [habit["id"]], "tick": True}).content, tmp_path)
    assert habit["name"] in text and one["name"] not in text and "Session" not in text


def test_what_is_locked_is_not_printed_and_what_is_eased_says_so(coach, practice, program, tmp_path):
    def caution(key):
        fact = {"id": f"00000000-0000-4000-8000-0000000000{len(key):02d}", "kind": "caution", "key": key, "value": {"answer": "yes"}}
        return coach.post(f"/api/clients/{practice.client_id}/facts", json={"entries": [fact]})

    caution("jaw-tender")
    _, text = read_pdf(coach.get(f"/api/programs/{program['id']}/handout.pdf", params={"week": 1}).content, tmp_path)
    assert "Eased for you (tender jaw)" in text
    caution("facial-palsy")
    _, text = read_pdf(coach.get(f"/api/programs/{program['id']}/handout.pdf", params={"week": 1}).content, tmp_path)
    assert "Long oval cheek lift" not in text and "After a palsy" in text


def test_the_whole_program_draws_every_exercise_once_and_tells_its_doses_week_by_week(coach, program, tmp_path):
    path = f"/api/programs/{program['id']}/handout.pdf"
    _, text = read_pdf(coach.get(path, params={"week": 1, "whole": True}).content, tmp_path)
    drawn, told = text.split("Week by week")
    lines = [n for n in program["sheet"]["lines"] if n["stage"] != "through the day"]
    for line in lines:
        begins = [w for w, cell in enumerate(line["cells"], start=1) if cell["text"]]
        if begins:
            assert f"{line['name']} " in drawn and line["name"] in told
    assert "week 1 of" not in drawn and f"{program['document']['weeks']} weeks" in drawn
    assert "Weeks 1 and 2" in told or "Week 1 " in told or "Weeks 1 to" in told
