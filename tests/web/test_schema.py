from pathlib import Path

from dimbo.web.openapi import schema_text


def test_the_published_schema_is_the_applications_own():
    kept = Path(__file__).parents[2] / "docs/formats/openapi.json"
    assert kept.read_text() == schema_text(), "run: python -m dimbo.web.openapi > docs/formats/openapi.json"
