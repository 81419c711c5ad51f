"""Writes the API's schema: python -m dimbo.web.openapi > docs/formats/openapi.json"""

from __future__ import annotations

import json

from dimbo.ops.settings import Settings

from .app import build_app


def schema_text() -> str:
    return json.dumps(build_app(Settings()).openapi(), indent=1, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    print(schema_text(), end="")
