"""What is said of other people's work is what the lock files hold."""

from dimbo.ops import third_party


def test_the_page_is_as_the_lock_files_have_it():
    assert (third_party.ROOT / "THIRD-PARTY.md").read_text() == third_party.page(), "run: python -m dimbo.ops.third_party"


def test_what_runs_is_there_and_what_only_develops_is_not():
    names = set(third_party.running())
    assert {"fastapi", "psycopg-binary", "openpyxl", "et-xmlfile", "numpy"} <= names
    assert not names & {"pytest", "mypy", "ruff", "selenium", "playwright"}
    assert all(said and "License ::" not in said for said in map(third_party.licence, third_party.running().values()))
