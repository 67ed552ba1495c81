"""Light in words."""

from __future__ import annotations


def cd(light: float) -> str:
    """cd/m² as people say it: whole from 100 on, three figures below."""
    return f"{light:.0f}" if light >= 100 else f"{light:.3g}"
