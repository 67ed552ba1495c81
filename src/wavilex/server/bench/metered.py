"""Readings that a meter sends: each in the take it belongs to, however late it comes."""

from __future__ import annotations

from typing import Literal

from django.db import transaction

from wavilex.core.lag.plan import Cell
from wavilex.server.bench.models import LagSession, Take
from wavilex.server.bench.services import add_reading, keep_reading
from wavilex.server.config import limits

SETTLING = "settling"
NOT_PLACED = "not placed"
MeteredAs = Literal["own", "another", "known", "not placed"]


def note_take(*, session: LagSession, mark: str, cell: Cell, asked: int, settling: bool) -> Take:
    """Write down what a meter is asked for, before it is asked."""
    return Take.objects.create(
        mark=mark, session=session, condition=cell.condition, signal=cell.signal, input=cell.input,
        position=cell.position, asked=asked, settling=settling,
    )  # fmt: skip


def settled(take: Take) -> None:
    """From now on readings of this take count."""
    take.settling = False
    take.save(update_fields=["settling"])


@transaction.atomic
def keep_metered(*, take: Take, own: bool, mark: str, ref: str, lag_us: int, settling: bool) -> MeteredAs:
    """Keep a reading that a meter sent, in the take it belongs to. The same ref again is known.

    own: it belongs to this take; else the take of its mark, however long ago; else it is not placed: kept in the
    session with that as the reason it does not count, and of very many only the first.
    """
    of = take if own else Take.objects.select_related("session__job").filter(mark=mark).first() if mark else None
    session = of.session if of else take.session
    if session.readings.filter(meter_ref=ref).exists():
        return "known"
    if of is None:
        held = session.readings.filter(discard=NOT_PLACED).count()
        if held < limits.READINGS_NOT_PLACED:
            add_reading(
                session, Cell(condition=NOT_PLACED), lag_us=lag_us, method="meter", meter_ref=ref, discard=NOT_PLACED
            )
        return "not placed"
    discard = SETTLING if (settling if own else of.settling) else ""
    keep_reading(session=session, cell=of.cell, lag_us=lag_us, method="meter", meter_ref=ref, discard=discard)
    return "own" if own else "another"
