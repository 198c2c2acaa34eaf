"""The job queue: what kinds of jobs there are, adding them, and looking at them. Workers are in `cubedrill.jobs`.

A job is added in the transaction that asks for it, through the queue's own SQL function: both are kept, or neither.
"""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Final

from sqlalchemy import Connection, text
from sqlalchemy.orm import Session


@dataclass(frozen=True)
class JobKind:
    """A kind of job. Jobs of a higher priority come first; attempts: how often a failing one is tried."""

    name: str
    queue: str
    priority: int
    attempts: int


# All kinds there are. A student's result comes before everything else.
EXPLAIN: Final = JobKind("explain", queue="results", priority=100, attempts=10)
RECHECK: Final = JobKind("recheck", queue="rechecks", priority=10, attempts=10)
CLEAN_UP: Final = JobKind("clean up", queue="nightly", priority=0, attempts=3)

_DEFER: Final = text(
    """select procrastinate_defer_jobs_v1(array(
        select row(:queue, :task, :priority, null, null, args, null)::procrastinate_job_to_defer_v1
        from unnest(cast(:args as jsonb[])) as args
    ))"""
)
_LIST: Final = text(
    """select job.id, task_name, args, status::text, attempts, scheduled_at, failure.why, max(event.at) as since
    from procrastinate_jobs job
    left join job_failure failure on failure.job_id = job.id
    left join procrastinate_events event on event.job_id = job.id
    where status in ('todo', 'doing', 'failed')
    group by job.id, failure.why order by status, priority desc, job.id"""
)
_RETRY: Final = text(
    """select procrastinate_retry_job_v2(id, now(), null, null, null)
    from procrastinate_jobs where id = :id and status = 'failed'"""
)
_FAILED: Final = text(
    """insert into job_failure (job_id, why) values (:id, :why)
    on conflict (job_id) do update set why = excluded.why, failed_at = now()"""
)


_DELETE_OLD: Final = text(
    """delete from procrastinate_jobs job using job_failure failure
    where failure.job_id = job.id and job.status = 'failed' and failure.failed_at < now() - cast(:kept as interval)"""
)
_DELETE_REASONS: Final = text(
    "delete from job_failure where not exists (select from procrastinate_jobs where id = job_id)"
)


def add_jobs(db: Session, kind: JobKind, args: Sequence[Mapping[str, int]]) -> None:
    """Add a job for each of these arguments; workers see them as soon as the transaction ends."""
    if args:
        facts = {"queue": kind.queue, "task": kind.name, "priority": kind.priority}
        db.execute(_DEFER, {**facts, "args": [json.dumps(dict(each)) for each in args]})


@dataclass(frozen=True)
class Job:
    """A job that waits, runs or failed. since: when it came into that state; why: what made it fail last."""

    id: int
    kind: str
    args: Mapping[str, int]
    state: str
    attempts: int
    since: datetime | None
    why: str


def jobs_of(connection: Connection) -> list[Job]:
    """Return the jobs that wait, run or failed."""
    states = {"todo": "waiting", "doing": "running", "failed": "failed"}
    return [
        Job(row.id, row.task_name, row.args, states[row.status], row.attempts, row.since, row.why or "")
        for row in connection.execute(_LIST)
    ]


def retry_job(connection: Connection, job_id: int) -> bool:
    """Let a failed job run again; return whether there was one."""
    return connection.execute(_RETRY, {"id": job_id}).first() is not None


def delete_old_failures(connection: Connection, kept: timedelta) -> None:
    """Delete jobs that failed longer ago than this, and the reasons of jobs that are no longer there."""
    connection.execute(_DELETE_OLD, {"kept": kept})
    connection.execute(_DELETE_REASONS)


def note_failure(connection: Connection, job_id: int, why: str) -> None:
    """Record why a job failed."""
    connection.execute(_FAILED, {"id": job_id, "why": why})
