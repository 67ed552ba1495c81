"""A box by its class: a few answers make it a profile, marked as common practice, not as known.

Figures are common practice for the class; the profile says so, and what was read or measured goes over it. What no
answer tells (which numbered sockets are the fast ones, which returns sound) stays unknown: it is never guessed.
"""

from __future__ import annotations

from collections.abc import Mapping

from wavilex.core.errors import ProfileError
from wavilex.core.gear import (
    classes_adapters,
    classes_between,
    classes_old,
    classes_screens,
    classes_sound,
    classes_sources,
)
from wavilex.core.gear.class_parts import MOST_NUMBER, Question, Template
from wavilex.core.gear.profile import NOBODY, Profile, profile_from_data
from wavilex.core.gear.shapes import QuestionOut, TemplateOut

GROUPS = ("sources", "screens", "in between", "old machines", "sound")
TEMPLATES: tuple[Template, ...] = (
    *classes_sources.TEMPLATES, *classes_screens.TEMPLATES, *classes_between.TEMPLATES,
    *classes_adapters.TEMPLATES, *classes_old.TEMPLATES,
    *classes_sound.TEMPLATES,
)  # fmt: skip
assert {t.group for t in TEMPLATES} == set(GROUPS)
assert len({t.id for t in TEMPLATES}) == len(TEMPLATES)


def from_template(template_id: str, answers: Mapping[str, str], maker: str, model: str) -> Profile:
    """A profile of the answers. Raises ProfileError naming the question that lacks a proper answer.

    A question left out takes its usual answer; one without a usual answer stays not known, where it may.
    """
    template = next((t for t in TEMPLATES if t.id == template_id), None)
    if template is None:
        raise ProfileError(f"there is no class {template_id!r}; one of {', '.join(t.id for t in TEMPLATES)}")
    told: dict[str, str] = {}
    for q in template.questions:
        if q.asked(told):
            told[q.id] = _answer(q, answers.get(q.id, ""), told)
    strange = sorted(set(answers) - {q.id for q in template.questions})
    if strange:
        raise ProfileError(f"{template.title} has no question {strange[0]!r}", where=f"answers.{strange[0]}"[:60])
    data = template.build(told)
    slug = "".join(c if c.isascii() and c.isalnum() else "-" for c in f"{maker}-{model}".lower()).strip("-")[:40]
    return profile_from_data({
        "wavilex_profile": 1, "id": slug or template.id, "maker": maker or NOBODY, "model": model or template.title,
        "summary": f"{template.title}, by its class: common practice, nothing read or measured yet", **data,
    })  # fmt: skip


def _answer(q: Question, given: str, told: Mapping[str, str]) -> str:
    """An answer as it is used. Raises ProfileError with what the question takes."""
    text = given.strip() or q.usual
    if not text:
        if not q.optional:
            raise ProfileError(f"“{q.ask}” wants {_takes(q, told)}", where=f"answers.{q.id}")
        return ""
    if q.kind == "number":
        good = text.isascii() and text.isdigit() and 1 <= int(text) <= MOST_NUMBER
    elif q.kind in ("many", "sockets"):
        parts = [] if text == "none" else text.split(",")
        good = len(set(parts)) == len(parts) and set(parts) <= set(q.choices(told))
    else:
        good = text in q.choices(told)
    if not good:
        raise ProfileError(f"“{q.ask}” wants {_takes(q, told)}", where=f"answers.{q.id}")
    return text


def _takes(q: Question, told: Mapping[str, str]) -> str:
    if q.kind == "number":
        return f"a whole number from 1 to {MOST_NUMBER}"
    one = "some of" if q.kind in ("many", "sockets") else "one of"
    return f"{one} {', '.join(q.choices(told))}"


def templates_data() -> list[TemplateOut]:
    """The classes with their questions, as plain data."""
    return [
        {
            "id": t.id, "title": t.title, "group": t.group, "role": t.role,
            "questions": [_question(q) for q in t.questions],
        }
        for t in TEMPLATES
    ]  # fmt: skip


def _question(q: Question) -> QuestionOut:
    return {
        "id": q.id, "ask": q.ask, "kind": q.kind, "usual": q.usual, "optional": q.optional, "sockets_of": q.sockets_of,
        "answers": [{"id": a, "label": w} for a, w in q.answers],
        "when": {"question": q.when[0], "answers": list(q.when[1])} if q.when else None,
    }  # fmt: skip
