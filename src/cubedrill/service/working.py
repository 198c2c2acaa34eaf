"""What takes longer than an answer may: causes of large work, and judging again. The tables are the queue."""

from __future__ import annotations

import logging
import time
from typing import Final

from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError

from cubedrill.service.marks.causes import explain_next
from cubedrill.service.marks.rechecks import recheck_next

_LOG: Final = logging.getLogger(__name__)
REST_S: Final = 0.3  # between two looks where there was nothing to do


def work_for_good(engine: Engine) -> None:
    """Do whatever waits to be done, as it comes, until the process ends; students' results come first."""
    away = False
    while True:
        try:
            found, away = explain_next(engine) or recheck_next(engine), False
        except SQLAlchemyError as error:  # the database is away for a while, which is said once
            if not away:
                _LOG.warning("nothing is worked out until the database is back: %s", error)
            found, away = False, True
        if not found:
            time.sleep(REST_S)
