"""Facts in words, for the timeline of everything that changed."""

from __future__ import annotations

from typing import Any

from dimbo.catalogue import shipped_intake
from dimbo.core.intake.conclusions import Tables
from dimbo.core.text import join_words, long_date
from dimbo.store.intake.facts import Fact

from .entering import day_from

_DAY_NAMES = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")


def rating_words(tables: Tables, concern: str, right: int, left: int) -> str:
    """A rating with the words of its level."""
    entry = tables.concerns[concern]

    def level(n: int) -> str:
        return f"{n}, {entry.levels[n - 1]}" if n else "0, none"

    return f"right {level(right)}; left {level(left)}" if entry.paired else level(right)


def profile_words(field: str, value: object) -> str:
    if field == "days" and isinstance(value, list):
        return ", ".join(_DAY_NAMES[d - 1] for d in value)
    if isinstance(value, list):
        return "; ".join(map(str, value))
    return "" if value is None else str(value)


def caution_words(value: dict[str, Any]) -> str:
    """An answer to a caution with its regions, day and note."""
    day = day_from(value.get("event_on"))
    parts = [value.get("answer", ""), join_words(sorted(value.get("regions") or [])), long_date(day) if day else "", value.get("note", "")]
    return "; ".join(p for p in parts if p)


def _clearance(value: dict[str, Any]) -> str:
    said = f"{value['by_name']}, {value['role']}, {value['given_on']}: {value['says']}"
    if value.get("regions"):
        said += f" For {join_words(sorted(value['regions']))}."
    if value.get("valid_from"):
        said += f" From {value['valid_from']}."
    return said + (f" Until {value['until']}." if value.get("until") else "")


def tell(fact: Fact, tables: Tables) -> str:
    """One sentence or so; an id that is no longer in the tables is named as it is."""
    v, key = fact.value, fact.key
    rules = {r.id: r.name for r in tables.cautions}
    if fact.kind == "rating":
        name = tables.concerns[key].name if key in tables.concerns else key
        return f"{name}: {rating_words(tables, key, v['right'], left=v['left']) if key in tables.concerns else v}"
    if fact.kind == "answer":
        concern, _, question = key.partition(".")
        entry = tables.reasoning.get(concern)
        asked = next((q.ask for q in entry.questions if q.id == question), question) if entry else question
        return f"{asked} {v['answer'] or 'taken back'}"
    if fact.kind == "cause":
        entry = tables.reasoning.get(key)
        name = next((c.name for c in entry.causes if c.id == v["cause"]), v["cause"]) if entry else v["cause"]
        concern = tables.concerns[key].name if key in tables.concerns else key
        return f"{concern}: cause {name or 'left to the answers'}"
    if fact.kind in ("test", "habit"):
        name = tables.tests[key].name if key in tables.tests else key
        if fact.kind == "test":
            return f"{name}: {v['answer'] or 'taken back'}"
        return f"{name}: habit task {'agreed' if v['agreed'] else 'dropped'}"
    if fact.kind == "caution":
        return f"{rules.get(key, key)}: {caution_words(v)}"
    if fact.kind == "clearance":
        return f"Clearance for {rules.get(key, key)}. {_clearance(v)}"
    if fact.kind == "asked":
        return f"Asked about {key}: {v['answer']}"
    if fact.kind in ("lock", "release"):
        return f"{'Locked' if fact.kind == 'lock' else 'Released'}: {v['reason']}"
    if fact.kind == "consent":
        text = shipped_intake().consents.get(key)
        who = f", {v['person']}" if v.get("person") else ""
        return f"{text.name if text else key}: {'agreed' if v['given'] else 'not agreed'}{who} (text {v['version']})"
    if fact.kind == "photographs":
        what = "1 photograph" if v["count"] == 1 else f"{v['count']} photographs"
        return f"{what} deleted with what was measured"
    if fact.kind == "profile":
        return f"{key.replace('_', ' ').capitalize()}: {profile_words(key, v['value']) or 'emptied'}"
    if fact.kind == "note":
        return str(v["text"])
    if key == "imported":
        return f"Imported from {v['file']}, line {v['line']}"
    return f"Intake {key}"
