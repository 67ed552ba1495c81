"""Plain data from anybody: what no field can hold is refused at its place, before any rule sees it."""

from __future__ import annotations

import json
import unicodedata

import pytest
from hypothesis import given
from hypothesis import strategies as st

from wavilex.core.plain import MOST_DEEP, PlainError, check, read_json

DEEP: object = "x"
for _ in range(60):
    DEEP = [DEEP]


@pytest.mark.parametrize(
    ("text", "words", "where"),
    [
        ('{"a": "x\\u0000y"}', "control sign (U+0000)", "a"), ('{"a": ["\\ud800"]}', "(U+D800)", "a.0"),
        ('{"a": {"b\\u0007": 1}}', "(U+0007)", "a"), ('["\\uffff"]', "(U+FFFF)", "0"),
        ('{"a": NaN}', "NaN is no number", ""), ("[Infinity]", "Infinity", ""), ("[1e999]", "beyond", ""),
        ("[9007199254740993]", "beyond", ""), ("[" + "9" * 5000 + "]", "beyond", ""),
        ("[" * 100_000, "", ""), ("[" * 500 + "]" * 500, "levels deep", "0.0.0.0"),
        ("{", "not readable as JSON", "line 1"),
        ("{\n\n'a'", "not readable", "line 3"),
    ],
)  # fmt: skip
def test_what_no_field_can_hold_is_refused_at_its_place(text: str, words: str, where: str) -> None:
    with pytest.raises(PlainError) as refused:
        read_json(text)
    assert words in refused.value.message
    assert refused.value.where == where or not where


def test_bytes_that_are_no_text() -> None:
    with pytest.raises(PlainError, match="UTF-8"):
        read_json(b'{"a": "\xff"}')
    with pytest.raises(PlainError, match=f"more than {MOST_DEEP} levels"):
        check(DEEP)


@given(
    st.recursive(
        st.none() | st.booleans() | st.integers(-(2**53), 2**53) | st.text(st.characters(codec="utf-8")),
        lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=4), inner, max_size=4),
        max_leaves=12,
    )
)
def test_everything_else_comes_through_as_it_is(data: object) -> None:
    """Reference: the standard library's own reader; the characters Unicode calls control signs, by unicodedata."""
    text = json.dumps(data)
    said = "".join(texts(data))
    control = [c for c in said if unicodedata.category(c) in ("Cc", "Cs") and c not in "\t\n\r" and ord(c) < 0x80]
    if control or "\ufffe" in said or "\uffff" in said:
        with pytest.raises(PlainError, match="control sign"):
            read_json(text)
    else:
        assert read_json(text) == json.loads(text)


def texts(data: object) -> list[str]:
    """All its texts."""
    if isinstance(data, str):
        return [data]
    inner = [*data, *data.values()] if isinstance(data, dict) else data if isinstance(data, list) else []
    return [text for part in inner for text in texts(part)]
