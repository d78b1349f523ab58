"""The log of trials, beside the walkers: what was walked of which revision, and what that told."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any

import orjson
from pydantic import TypeAdapter, ValidationError
from sqlalchemy import Engine, func, select
from sqlalchemy.orm import Session

from bustle.core.trials.on_the_floor import logged
from bustle.core.trials.trial import Logged, Planned, Trial
from bustle.core.words.problems import refuse
from bustle.store.models import Revision, TrialRow, Walker
from bustle.store.repository import Missing, Store

# So many trials of a walker, and no more.
MOST = 2000

_PLANNED: TypeAdapter[Planned] = TypeAdapter(Planned)


@dataclass(frozen=True)
class Kept:
    """A trial in the log. withdrawn: it does not count."""

    logged: Logged
    created_at: datetime
    withdrawn: bool


class Log:
    """On one engine."""

    def __init__(self, store: Store):
        self.store = store
        self.engine: Engine = store.engine

    def trials(self, walker_id: int) -> list[Kept]:
        """The newest first. One that this version does not understand is left where it is, and out of the list."""
        query = (
            select(TrialRow, Revision.number)
            .join(Revision, Revision.id == TrialRow.revision_id)
            .where(TrialRow.walker_id == walker_id)
            .order_by(TrialRow.number.desc())
        )
        with Session(self.engine) as session:
            if session.get(Walker, walker_id) is None:
                raise Missing(f"There is no walker {walker_id} on this shelf.")
            found = [_kept(row, number) for row, number in session.execute(query)]
        return [kept for kept in found if kept is not None]

    def write(self, walker_id: int, revision: int, trial: Trial) -> Kept:
        """A trial of a revision. Raises Missing, and InputRefused as `logged` does or where the log is full."""
        project = self.store.get(walker_id, revision).project
        earlier = [k for k in self.trials(walker_id) if k.logged.trial.motion == trial.motion and not k.withdrawn]
        before = self.store.get(walker_id, earlier[0].logged.revision).project if earlier else None
        told = logged(1, trial, revision, project, before)
        with Session(self.engine) as session, session.begin():
            # One at a time, so that no number is given twice.
            session.execute(select(Walker.id).where(Walker.id == walker_id).with_for_update())
            last = session.execute(select(func.max(TrialRow.number)).where(TrialRow.walker_id == walker_id)).scalar()
            if (last or 0) >= MOST:
                raise refuse("trial", f"the log of a walker holds {MOST} trials; go on with a copy of it")
            row = TrialRow(
                walker_id=walker_id,
                revision_id=session.execute(
                    select(Revision.id).where(Revision.walker_id == walker_id, Revision.number == revision)
                ).scalar_one(),
                number=(last or 0) + 1,
                motion=trial.motion,
                document=trial.model_dump(mode="json"),
                told={"planned": asdict(told.planned), "changed": list(told.changed), "changes": told.changes},
            )
            session.add(row)
            session.flush()
            session.refresh(row)
            kept = _kept(row, revision)
            assert kept
            return kept

    def withdraw(self, walker_id: int, number: int, withdrawn: bool) -> None:
        """A trial counts no more, or again. Nothing is deleted."""
        query = select(TrialRow).where(TrialRow.walker_id == walker_id, TrialRow.number == number)
        with Session(self.engine) as session, session.begin():
            row = session.execute(query).scalar()
            if row is None:
                raise Missing(f"Walker {walker_id} has no trial {number}.")
            row.withdrawn_at = func.now() if withdrawn else None


def _kept(row: TrialRow, revision: int) -> Kept | None:
    told: dict[str, Any] = row.told
    try:
        trial = Trial.model_validate_json(orjson.dumps(row.document))
        planned = _PLANNED.validate_python(told["planned"])
    except (ValidationError, KeyError):
        return None
    log = Logged(row.number, revision, trial, planned, tuple(told["changed"]), told["changes"])
    return Kept(log, row.created_at, row.withdrawn_at is not None)
