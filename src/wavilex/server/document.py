"""The API's document with the media types that are really sent: problem documents, and files as what they are."""

from __future__ import annotations

from typing import Any

from ninja import NinjaAPI

PROBLEM = "application/problem+json"
_SESSION = "wavilex_session"
_TEXT: dict[str, Any] = {"type": "string"}
_BYTES: dict[str, Any] = {"type": "string", "format": "binary"}
# operations that answer with a file, and the media types it may be of
FILES: dict[str, dict[str, dict[str, Any]]] = {
    "exportReadings": {"text/csv": _TEXT},
    "exportLight": {"text/csv": _TEXT},
    "handoverPdf": {"application/pdf": _BYTES},
    "handoverText": {"text/plain": _TEXT},
    "labelSheet": {"application/pdf": _BYTES},
    "labelLines": {"text/plain": _TEXT},
    "jobPack": {"application/zip": _BYTES},
    "runSheetPdf": {"application/pdf": _BYTES},
    "photograph": {"image/jpeg": _BYTES},
    "filmStill": {"image/jpeg": _BYTES},
    "filmStrip": {"image/png": _BYTES},
    "shelfPack": {"application/zip": _BYTES},
    "visit": {"text/calendar": _TEXT},
    "visitsCalendar": {"text/calendar": _TEXT},
    "compareStatesText": {"text/plain": _TEXT},
    "drawWiring": {"image/svg+xml": _TEXT, "text/vnd.graphviz": _TEXT, "text/csv": _TEXT},
    "deviceProfileFile": {"application/yaml": _TEXT},
}


class DocumentedAPI(NinjaAPI):
    """Every answer under the media type it is sent as."""

    def get_openapi_schema(self, **more: Any) -> Any:
        schema = super().get_openapi_schema(**more)
        for operations in schema["paths"].values():
            for operation in operations.values():
                for status, answer in operation["responses"].items():
                    _media(operation["operationId"], str(status), answer)
        for scheme in schema["components"]["securitySchemes"].values():
            scheme["name"] = _SESSION  # an installation adds a mark of its own: the document is the same for all
        return schema


def _media(operation: str, status: str, answer: dict[str, Any]) -> None:
    content = answer.get("content")
    if not content:
        return
    if "ProblemOut" in str(content):
        answer["content"] = {PROBLEM: next(iter(content.values()))}
    elif status.startswith("2") and operation in FILES:
        answer["content"] = {media: {"schema": schema} for media, schema in FILES[operation].items()}
