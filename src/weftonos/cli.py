"""The ``weftonos`` command."""

from __future__ import annotations

import gc
import json
import secrets
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from weftonos.settings import Settings
from weftonos.store.database import FILE_NAME, backup

if TYPE_CHECKING:
    from starlette.types import ASGIApp

Tell = Callable[[str, float], None]
Prepare = Callable[[Tell], None]
DEMO_MARK = "demo.txt"
_FILLED = "This folder holds the Weftonos demo. It can be deleted.\n"

app = typer.Typer(
    no_args_is_help=True,
    rich_markup_mode=None,
    pretty_exceptions_enable=False,
    add_completion=False,
    help="Thread, needle, bobbin and balance.",
)

Host = Annotated[str | None, typer.Option(help="Address to listen on; another than this machine needs a passcode.")]
Port = Annotated[int | None, typer.Option(help="Port to listen on.")]
DataDir = Annotated[Path | None, typer.Option(help="Folder of the workshop's file.")]


def _settings(host: str | None, port: int | None, data_dir: Path | None) -> Settings:
    given = {"host": host, "port": port, "data_dir": data_dir}
    return Settings.model_validate({**Settings().model_dump(), **{k: v for k, v in given.items() if v is not None}})


def _run(settings: Settings, prepare: Prepare | None = None) -> None:
    import uvicorn

    if not settings.only_this_machine and not settings.passcode:
        settings = settings.model_copy(update={"passcode": secrets.token_hex(3)})
        typer.echo(f"Open to the local network. The browser asks for a passcode; it is {settings.passcode}.")
        typer.echo("(Any user name will do. Set WEFTONOS_PASSCODE to choose your own.)")
    typer.echo(f"Weftonos is at http://{settings.host}:{settings.port}/ and keeps its data in {settings.data_dir}")
    uvicorn.run(door(settings, prepare), host=settings.host, port=settings.port, log_level="warning")


def door(settings: Settings, prepare: Prepare | None = None) -> ASGIApp:
    """Return the program behind its door: pages at once, the rest when ``prepare`` and the routes are done."""
    from starlette.middleware.gzip import GZipMiddleware

    from weftonos.front import Front, Progress
    from weftonos.guard import Guard

    def build(progress: Progress) -> ASGIApp:
        # What is loaded now stays for good; looking through it for rubbish again and again takes a third of a second.
        gc.disable()
        try:
            from weftonos.api.app import create_app

            app = create_app(settings)
        finally:
            gc.freeze()
            gc.enable()
        if prepare is not None:
            prepare(progress.tell)
        progress.tell("Opening the workshop", 1.0)
        return app

    return Guard(GZipMiddleware(Front(build), minimum_size=1000), settings)


@app.command()
def serve(host: Host = None, port: Port = None, data_dir: DataDir = None) -> None:
    """Serve the workshop and its pages on one port."""
    _run(_settings(host, port, data_dir))


@app.command()
def demo(
    host: Host = None,
    port: Port = None,
    data_dir: DataDir = None,
    fresh: Annotated[bool, typer.Option(help="Begin the demo anew.")] = False,
) -> None:
    """Serve the demo workshop, in a folder of its own, never in the real one."""
    settings = _settings(host, port, data_dir)
    if data_dir is None:
        settings = settings.model_copy(update={"data_dir": settings.data_dir / "demo"})
    refuse_real_workshop(settings.data_dir)
    _run(settings, lambda tell: load_demo(settings.data_dir, fresh=fresh, tell=tell))


def refuse_real_workshop(data_dir: Path) -> None:
    """Raise for a folder that holds a real workshop."""
    if (data_dir / FILE_NAME).exists() and not (data_dir / DEMO_MARK).exists():
        raise typer.BadParameter(f"{data_dir} holds a real workshop. The demo wants a folder of its own.")


def load_demo(data_dir: Path, *, fresh: bool = False, tell: Tell | None = None) -> None:
    """Write the demo into ``data_dir`` unless it is there; refuse a folder that holds a real workshop.

    ``tell`` is told what is being done and how far it is, 0 to 1.
    """
    from sqlalchemy.orm import Session

    from weftonos.demo import season
    from weftonos.store.database import open_workshop
    from weftonos.store.workshop import Workshop

    refuse_real_workshop(data_dir)
    mark = data_dir / DEMO_MARK
    if (data_dir / FILE_NAME).exists():
        # One that was broken off while it was filled is begun anew.
        if not fresh and mark.read_text(encoding="utf-8") == _FILLED:
            return
        for old in data_dir.glob(f"{FILE_NAME}*"):
            old.unlink()
    now = datetime.now(UTC)
    data_dir.mkdir(parents=True, exist_ok=True)
    mark.write_text("This folder is to hold the Weftonos demo. It can be deleted.\n", encoding="utf-8")
    engine = open_workshop(data_dir, now)
    with Session(engine) as session, session.begin():
        season.fill(Workshop(session), now, tell=(lambda share: tell("Filling the demo", share)) if tell else None)
    engine.dispose()
    mark.write_text(_FILLED, encoding="utf-8")


@app.command("backup")
def make_backup(target: Path, data_dir: DataDir = None) -> None:
    """Copy the workshop's file to TARGET, safely even while it is in use."""
    source = _settings(None, None, data_dir).data_dir / FILE_NAME
    if not source.exists():
        raise typer.BadParameter(f"There is no workshop in {source.parent}.")
    if target.exists():
        raise typer.BadParameter(f"{target} exists already.")
    backup(source, target)
    typer.echo(f"Copied to {target}.")


@app.command()
def openapi(target: Path) -> None:
    """Write the OpenAPI document to TARGET, for generating the browser's types."""
    from weftonos.api.app import create_app

    document = create_app(Settings()).openapi()
    target.write_text(json.dumps(document, indent=1, sort_keys=True) + "\n", encoding="utf-8")


if __name__ == "__main__":
    app()
