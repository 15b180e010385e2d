"""What went wrong inside, in a file of the data folder: where in the code, never what was typed or stored."""

from __future__ import annotations

import logging
import sys
import traceback
from copy import copy
from logging.handlers import RotatingFileHandler
from pathlib import Path

LOG_NAME = "weftonos.log"
LARGEST_LOG = 1_000_000
KEPT = 3
log = logging.getLogger("weftonos")


class _WithoutContent(logging.Formatter):
    """Write places in the code and kinds of errors; their messages can hold what people typed."""

    def format(self, record: logging.LogRecord) -> str:
        # What another handler made of the error is saved with the record.
        record = copy(record)
        record.exc_text = None
        return super().format(record)

    def formatException(self, ei: object) -> str:
        error = ei[1] if isinstance(ei, tuple) else None
        lines: list[str] = []
        while isinstance(error, BaseException):
            lines += [
                f"  {frame.filename}:{frame.lineno} {frame.name}" for frame in traceback.extract_tb(error.__traceback__)
            ]
            lines.append(type(error).__name__)
            error = error.__cause__ or error.__context__
        return "\n".join(lines)


class _Terminal(logging.Handler):
    """Say in one line that something went wrong; where it happened stands in the file."""

    def __init__(self, path: Path) -> None:
        super().__init__(logging.ERROR)
        self._path = path

    def emit(self, record: logging.LogRecord) -> None:
        print(f"Weftonos: {record.getMessage()}. See {self._path}.", file=sys.stderr)


def log_to(data_dir: Path) -> Path:
    """Send what goes wrong to a file in ``data_dir`` and return its place; the terminal gets a line."""
    path = data_dir / LOG_NAME
    handler = RotatingFileHandler(path, maxBytes=LARGEST_LOG, backupCount=KEPT, encoding="utf-8", delay=True)
    handler.setFormatter(_WithoutContent("%(asctime)s %(levelname)s %(name)s %(message)s"))
    for logger in (log, logging.getLogger("uvicorn.error"), logging.getLogger("asyncio")):
        for old in [old for old in logger.handlers if isinstance(old, RotatingFileHandler | _Terminal)]:
            logger.removeHandler(old)
            old.close()
        logger.addHandler(handler)
        logger.addHandler(_Terminal(path))
        logger.propagate = False
    log.setLevel(logging.INFO)
    return path
