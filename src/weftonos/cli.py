"""The ``weftonos`` command."""

from __future__ import annotations

import json
import secrets
from datetime import UTC, datetime
from pathlib import Path
from typing import Annotated

import typer
import uvicorn
from sqlalchemy.orm import Session

from weftonos.api.app import create_app
from weftonos.demo import season
from weftonos.settings import Settings
from weftonos.store.database import FILE_NAME, backup, open_workshop
from weftonos.store.workshop import Workshop

app = typer.Typer(no_args_is_help=True, add_completion=False, help="Thread, needle, bobbin and balance.")

Host = Annotated[str | None, typer.Option(help="Address to listen on; another than this machine needs a passcode.")]
Port = Annotated[int | None, typer.Option(help="Port to listen on.")]
DataDir = Annotated[Path | None, typer.Option(help="Folder of the workshop's file.")]


def _settings(host: str | None, port: int | None, data_dir: Path | None) -> Settings:
    given = {"host": host, "port": port, "data_dir": data_dir}
    return Settings.model_validate({**Settings().model_dump(), **{k: v for k, v in given.items() if v is not None}})


def _run(settings: Settings) -> None:
    if not settings.only_this_machine and not settings.passcode:
        settings = settings.model_copy(update={"passcode": secrets.token_hex(3)})
        typer.echo(f"Open to the local network. The browser asks for a passcode; it is {settings.passcode}.")
        typer.echo("(Any user name will do. Set WEFTONOS_PASSCODE to choose your own.)")
    typer.echo(f"Weftonos is at http://{settings.host}:{settings.port}/ and keeps its data in {settings.data_dir}")
    uvicorn.run(create_app(settings), host=settings.host, port=settings.port, log_level="warning")


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
    load_demo(settings.data_dir, fresh=fresh)
    _run(settings)


def load_demo(data_dir: Path, *, fresh: bool = False) -> None:
    """Write the demo into ``data_dir`` unless it is there; refuse a folder that holds a real workshop."""
    marker = data_dir / "demo.txt"
    if (data_dir / FILE_NAME).exists():
        if not marker.exists():
            raise typer.BadParameter(f"{data_dir} holds a real workshop. The demo wants a folder of its own.")
        if not fresh:
            return
        for old in data_dir.glob(f"{FILE_NAME}*"):
            old.unlink()
    now = datetime.now(UTC)
    engine = open_workshop(data_dir, now)
    marker.write_text("This folder holds the Weftonos demo. It can be deleted.\n", encoding="utf-8")
    with Session(engine) as session, session.begin():
        season.fill(Workshop(session), now)
    engine.dispose()


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
    document = create_app(Settings()).openapi()
    target.write_text(json.dumps(document, indent=1, sort_keys=True) + "\n", encoding="utf-8")


if __name__ == "__main__":
    app()
