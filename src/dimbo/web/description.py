"""The API's description: what the framework writes, with who may ask, the header that changes carry, and what refusals look like."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from fastapi import FastAPI
from fastapi.dependencies.models import Dependant
from fastapi.openapi.utils import get_openapi
from fastapi.routing import APIRoute, iter_route_contexts

from .context import OWN_HEADER, SAFE, SIGN_IN, signed_in

ABOUT = """Everything that the pages do goes over HTTP. Sign in with `signIn`; its cookie goes with every later request. Every request
that changes something carries the header `x-dimbo: 1`, which pages of other origins cannot send. Every refusal is a `Problem`. Left and
right are always the client's own. Measurements describe photographs under stated conditions; they are no diagnosis."""
TAGS = {
    "own account": "the account of whoever is signed in",
    "clients": "lists of clients that are brought in",
    "desk": "who needs what, and why",
    "exercises": "the catalogue and a practice's own exercises",
    "intake": "what is known of a client, and what follows from it",
    "messages": "letters, reminders, notices and calendars",
    "people": "signing in, colleagues, invitations",
    "plans": "programs as they are given to clients",
    "practice": "a client's days",
    "programs": "programs, templates, and how a practice works",
    "records": "a client's whole record",
    "review": "weekly reviews, and tables",
    "results": "what came of it: a client's photographs, letters, what helped",
    "sittings": "photographs, points, readings, ratings",
    "health": "whether everything lives",
}
SECURITY = {
    "signedIn": {
        "type": "apiKey",
        "in": "cookie",
        "name": SIGN_IN,
        "description": f"set by signIn; its name is __Host-{SIGN_IN} where pages go over https",
    },
    "ownPages": {"type": "apiKey", "in": "header", "name": OWN_HEADER, "description": "1, with everything that changes something"},
}
REFUSALS = {
    "401": "Nobody is signed in",
    "403": "For another kind of account, or without the header",
    "404": "There is no such thing in this practice",
    "409": "Somebody else saved a newer one",
    "413": "More than can be taken in",
    "422": "Refused; the message says what to correct",
    "429": "Too many tries",
    "503": "The database does not answer, or cannot keep anything",
}


def _everything(needs: Dependant) -> Iterator[Dependant]:
    yield needs
    for inner in needs.dependencies:
        yield from _everything(inner)


def _refusals(needs: Dependant, method: str, *, signed: bool) -> list[str]:
    """Statuses that an operation may be refused with."""
    changes = method.upper() not in SAFE
    out = ["401"] if signed else []
    out += ["403"] if signed or changes else []
    out += ["404"]  # what an address, a body or a setting of the server names may not be there
    out += ["409"] if method in ("put", "post", "patch") else []
    out += ["413"] if needs.body_params else []
    return [*out, "422", "429", "503"]


def describe(app: FastAPI) -> dict[str, Any]:
    """The whole description (OpenAPI 3.1) of an application; made once and kept."""
    if app.openapi_schema:
        return app.openapi_schema
    found = get_openapi(title=app.title, version=app.version, routes=app.routes, description=ABOUT)
    found["tags"] = [{"name": n, "description": d} for n, d in TAGS.items()]
    found["servers"] = [{"url": "/", "description": "where the pages are"}]
    found["components"]["securitySchemes"] = SECURITY
    problem = {"content": {"application/json": {"schema": {"$ref": "#/components/schemas/Problem"}}}}
    for route in iter_route_contexts(app.routes):
        if not isinstance(route.original_route, APIRoute) or not route.include_in_schema:
            continue
        signed = any(d.call is signed_in for d in _everything(route.dependant))
        for method in (m.lower() for m in route.methods or ()):
            operation = found["paths"][route.path_format][method]
            said = {k: v for k, v in operation["responses"].items() if k != "4XX"}
            refused = _refusals(route.dependant, method, signed=signed)
            operation["responses"] = {s: {"description": REFUSALS[s], **problem} for s in refused} | said
            wanted: dict[str, list[str]] = {"signedIn": []} if signed else {}
            wanted |= {"ownPages": []} if method.upper() not in SAFE else {}
            operation["security"] = [wanted] if wanted else []
            _mark_files(operation)
    app.openapi_schema = found
    return found


def _mark_files(operation: dict[str, Any]) -> None:
    """What is no text is said to be bytes."""
    for answer in operation["responses"].values():
        for kind, content in answer.get("content", {}).items():
            if kind.startswith(("image/", "application/pdf", "application/zip", "application/vnd.")):
                content["schema"] = {"type": "string", "format": "binary"}
