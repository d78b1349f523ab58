"""The log of trials, beside the walkers: what was walked of which revision, and what that told."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any

import orjson
from pydantic import TypeAdapter, ValidationError
from sqlalchemy import Engine, exists, func, select
from sqlalchemy.orm import Session

from bustle.core.evaluate import evaluate
from bustle.core.trials.on_the_floor import logged
from bustle.core.trials.trial import Logged, Planned, Trial
from bustle.core.walk.reading import Reading
from bustle.core.words.problems import InputRefused, refuse
from bustle.store.models import Revision, TraceRow, TrialRow, Walker
from bustle.store.repository import Missing, Store

# So many trials of a walker, and no more.
MOST = 2000
# And so many traces, of up to 2 MB each.
MOST_TRACES = 400

_PLANNED: TypeAdapter[Planned] = TypeAdapter(Planned)


@dataclass(frozen=True)
class Kept:
    """A trial in the log. withdrawn: it does not count. traced: its machine's sensors told of it."""

    logged: Logged
    created_at: datetime
    withdrawn: bool
    traced: bool = False


class Log:
    """On one engine."""

    def __init__(self, store: Store):
        self.store = store
        self.engine: Engine = store.engine

    def trials(self, walker_id: int) -> list[Kept]:
        """The newest first. One that this version does not understand is left where it is, and out of the list."""
        query = (
            select(TrialRow, Revision.number, exists().where(TraceRow.trial_id == TrialRow.id))
            .join(Revision, Revision.id == TrialRow.revision_id)
            .where(TrialRow.walker_id == walker_id)
            .order_by(TrialRow.number.desc())
        )
        with Session(self.engine) as session:
            if session.get(Walker, walker_id) is None:
                raise Missing(f"There is no walker {walker_id} on this shelf.")
            found = [_kept(row, number, traced) for row, number, traced in session.execute(query)]
        return [kept for kept in found if kept is not None]

    def write(self, walker_id: int, revision: int, trial: Trial) -> Kept:
        """A trial of a revision. Raises Missing, and InputRefused as `logged` does or where the log is full."""
        (kept,) = self.write_all(walker_id, revision, [trial])
        return kept

    def write_all(self, walker_id: int, revision: int, trials: Sequence[Trial]) -> list[Kept]:
        """All of them or none, the oldest first; what is refused of several is told by which it is."""
        told = self._told(walker_id, revision, trials)
        with Session(self.engine) as session, session.begin():
            # One at a time, so that no number is given twice.
            session.execute(select(Walker.id).where(Walker.id == walker_id).with_for_update())
            query = select(func.max(TrialRow.number)).where(TrialRow.walker_id == walker_id)
            last = session.execute(query).scalar() or 0
            if last + len(trials) > MOST:
                raise refuse("trial", f"the log of a walker holds {MOST} trials; go on with a copy of it")
            own = select(Revision.id).where(Revision.walker_id == walker_id, Revision.number == revision)
            revision_id = session.execute(own).scalar_one()
            rows = [
                TrialRow(
                    walker_id=walker_id,
                    revision_id=revision_id,
                    number=number,
                    motion=each.trial.motion,
                    document=each.trial.model_dump(mode="json"),
                    told={"planned": asdict(each.planned), "changed": list(each.changed), "changes": each.changes},
                )
                for number, each in enumerate(told, last + 1)
            ]
            session.add_all(rows)
            session.flush()
            for row in rows:
                session.refresh(row)
            return [kept for row in rows if (kept := _kept(row, revision))]

    def _told(self, walker_id: int, revision: int, trials: Sequence[Trial]) -> list[Logged]:
        project = self.store.get(walker_id, revision).project
        lately = {k.logged.trial.motion: k.logged.revision for k in reversed(self.trials(walker_id)) if not k.withdrawn}
        asked = {trial.motion for trial in trials}
        before = {name: self.store.get(walker_id, n).project for name, n in lately.items() if name in asked}
        readings: dict[str, Reading] = {}
        found = []
        for n, trial in enumerate(trials, 1):
            name = trial.motion
            try:
                readings[name] = readings.get(name) or evaluate(project, name).reading
                found.append(logged(1, trial, revision, project, before.get(name), readings[name]))
            except InputRefused as refused:
                if len(trials) == 1:
                    raise
                raise InputRefused([type(p)(f"trial {n}, {p.path}", p.sentence) for p in refused.problems]) from refused
            before[name] = project
        return found

    def withdraw(self, walker_id: int, number: int, withdrawn: bool) -> None:
        """A trial counts no more, or again. Nothing is deleted."""
        with Session(self.engine) as session, session.begin():
            _row(session, walker_id, number).withdrawn_at = func.now() if withdrawn else None

    def keep_trace(self, walker_id: int, number: int, content: bytes) -> None:
        """Of a trial; one that it has already stays where it is and counts no more. Raises Missing, and InputRefused
        where the walker has as many as it may."""
        with Session(self.engine) as session, session.begin():
            row = _row(session, walker_id, number)
            own = select(func.count(TraceRow.id)).join(TrialRow).where(TrialRow.walker_id == walker_id)
            if session.execute(own).scalar_one() >= MOST_TRACES:
                raise refuse("trace", f"a walker's log holds {MOST_TRACES} traces; go on with a copy of it")
            session.add(TraceRow(trial_id=row.id, content=content))

    def trace(self, walker_id: int, number: int) -> bytes:
        """A trial's, as it was brought in. Raises Missing."""
        with Session(self.engine) as session:
            row = _row(session, walker_id, number)
            query = select(TraceRow.content).where(TraceRow.trial_id == row.id).order_by(TraceRow.id.desc()).limit(1)
            found = session.execute(query).scalar()
        if found is None:
            raise Missing(f"Trial {number} of walker {walker_id} has no trace.")
        return found


def _row(session: Session, walker_id: int, number: int) -> TrialRow:
    query = select(TrialRow).where(TrialRow.walker_id == walker_id, TrialRow.number == number)
    row = session.execute(query).scalar()
    if row is None:
        raise Missing(f"Walker {walker_id} has no trial {number}.")
    return row


def _kept(row: TrialRow, revision: int, traced: bool = False) -> Kept | None:
    told: dict[str, Any] = row.told
    try:
        trial = Trial.model_validate_json(orjson.dumps(row.document))
        planned = _PLANNED.validate_python(told["planned"])
    except (ValidationError, KeyError):
        return None
    log = Logged(row.number, revision, trial, planned, tuple(told["changed"]), told["changes"])
    return Kept(log, row.created_at, row.withdrawn_at is not None, traced)
