"""The ``weftonos`` command. What goes wrong is a sentence and an exit code; the traceback goes to the log file."""

from __future__ import annotations

import gc
import json
import os
import signal
import sys
import threading
import webbrowser
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

import weftonos
from weftonos.core.kernel.spoken import so_many
from weftonos.demo import DEMO_MARK
from weftonos.runtime import logs, running
from weftonos.runtime.settings import Settings
from weftonos.store.database import FILE_NAME
from weftonos.store.file_errors import ExitCode, WorkshopFileError

if TYPE_CHECKING:
    import socket

    from sqlalchemy import Engine
    from starlette.types import ASGIApp

Tell = Callable[[str, float], None]
Prepare = Callable[[Tell], None]
_MARKED = "This folder holds the Weftonos demo. It can be deleted.\n"

app = typer.Typer(
    invoke_without_command=True,
    rich_markup_mode=None,
    pretty_exceptions_enable=False,
    add_completion=False,
)

Host = Annotated[str | None, typer.Option(help="Address to listen on. Any other than this machine needs a passcode.")]
Port = Annotated[int | None, typer.Option(help="Port to listen on.")]
DataDir = Annotated[Path | None, typer.Option(help="Folder of the workshop's file.")]
CopyDir = Annotated[Path | None, typer.Option(help="Folder of the daily copies.")]


def _settings(host: str | None, port: int | None, data_dir: Path | None, copy_dir: Path | None = None) -> Settings:
    given = {"host": host, "port": port, "data_dir": data_dir, "copy_dir": copy_dir}
    # What was given, here or in the environment, stays known as given.
    chosen = Settings().model_dump(exclude_unset=True)
    return Settings.model_validate({**chosen, **{k: v for k, v in given.items() if v is not None}})


@contextmanager
def _in_sentences() -> Iterator[None]:
    """End a command with a sentence and an exit code where a file cannot be used."""
    try:
        yield
    except WorkshopFileError as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(int(error.code)) from error


def _listen(settings: Settings) -> socket.socket:
    """Listen on the port that was asked for, or near the usual one where none was."""
    if "port" in settings.model_fields_set:
        return running.listen(settings.host, settings.port)
    listening = running.listen_near(settings.host, settings.port)
    if (got := listening.getsockname()[1]) != settings.port:
        typer.echo(f"Port {settings.port} is taken by another program, so this is port {got}.")
    return listening


def _run(settings: Settings, prepare: Prepare | None = None, *, show: bool = False) -> None:
    from weftonos.store.safekeeping import form_of

    file = settings.data_dir / FILE_NAME
    with _in_sentences():
        if file.exists():
            form_of(file)
        try:
            with running.alone(settings.data_dir), _listen(settings) as listening:
                settings = settings.model_copy(update={"port": listening.getsockname()[1]})
                settings = _say_where(settings)
                if show:
                    # The socket listens already: the page waits for its first answer, however soon it asks.
                    threading.Thread(target=webbrowser.open, args=(f"http://127.0.0.1:{settings.port}/",)).start()
                _serve(settings, listening, prepare)
        except running.AlreadyRunning as already:
            typer.echo(f"{already} A workshop opens only once. Its page is now in your browser.")
            if already.url:
                webbrowser.open(already.url)


def _say_where(settings: Settings) -> Settings:
    """Tell where the workshop is to be found, and by which passcode; return the settings with it."""
    addresses = running.urls(settings.host, settings.port)
    here = f"http://127.0.0.1:{settings.port}/" if settings.host in ("0.0.0.0", "::") else addresses[0]
    running.announce(settings.data_dir, here)
    typer.echo(f"Weftonos is at {here} and has its data in {settings.data_dir}. Stop it with Ctrl+C.")
    typer.echo(f"What goes wrong is written to {logs.log_to(settings.data_dir)}.")
    if settings.only_this_machine:
        if settings.passcode:
            typer.echo("No passcode is needed: only this computer can reach Weftonos. See --host.")
        return settings
    from weftonos.exchange.qr import qr_text
    from weftonos.http.passcode import Doorkeeper

    passcode = Doorkeeper(settings.passcode or "", settings.data_dir).passcode
    typer.echo(f"Open to the local network. On a tablet: {' or '.join(addresses)}")
    typer.echo(f"The passcode is {passcode}. It stays the same. Make a new one on the Workshop page.")
    typer.echo("It isn't encrypted on the way. Use it only on your own network.")
    typer.echo(qr_text(addresses[0]))
    return settings


def _serve(settings: Settings, listening: socket.socket, prepare: Prepare | None) -> None:
    import uvicorn

    from weftonos.http.changes import let_all_go

    failed: list[BaseException] = []

    def stop(error: BaseException) -> None:
        failed.append(error)
        server.should_exit = True

    config = uvicorn.Config(
        door(settings, prepare, stop),
        log_level="critical",
        log_config=None,
        # A page that is open keeps asking; whoever stops the program does not wait for it.
        timeout_graceful_shutdown=5,
        limit_concurrency=400,
        proxy_headers=False,
        server_header=False,
    )

    class Server(uvicorn.Server):
        async def shutdown(self, sockets: list[socket.socket] | None = None) -> None:
            let_all_go()
            await super().shutdown(sockets)

    server = Server(config)
    for name in ("SIGHUP", "SIGTERM", "SIGINT"):
        # Every end is one in order, a closed terminal's too. Uvicorn raises what it caught again when it has ended.
        if hasattr(signal, name):
            signal.signal(getattr(signal, name), server.handle_exit)
    server.run(sockets=[listening])
    if failed:
        raise _said(failed[0], settings)


def _said(error: BaseException, settings: Settings) -> WorkshopFileError:
    if isinstance(error, WorkshopFileError):
        return error
    return WorkshopFileError(
        f"Weftonos couldn't be started. Nothing was changed. See {settings.data_dir / logs.LOG_NAME}.",
        ExitCode.CANNOT_MAKE,
    )


def door(
    settings: Settings, prepare: Prepare | None = None, stop: Callable[[BaseException], None] | None = None
) -> ASGIApp:
    """Return the program behind its door: pages at once, the rest when ``prepare`` and the routes are done.

    ``stop`` is told what stood in the way of opening it.
    """
    from starlette.middleware.gzip import GZipMiddleware

    from weftonos.http.front import Front, OpeningProgress
    from weftonos.http.guard import Guard
    from weftonos.http.mishaps import Mishaps
    from weftonos.http.passcode import Doorkeeper

    doorkeeper = Doorkeeper(settings.passcode or "", settings.data_dir)

    def build(progress: OpeningProgress) -> ASGIApp:
        # What is loaded now stays for good; looking through it for rubbish again and again takes a third of a second.
        gc.disable()
        try:
            from weftonos.api.app import create_app

            app = create_app(settings, doorkeeper=doorkeeper)
        finally:
            gc.freeze()
            gc.enable()
        if prepare is not None:
            prepare(progress.tell)
        progress.tell("Opening the workshop", 1.0)
        return app

    return Mishaps(Guard(GZipMiddleware(Front(build, failed=stop), minimum_size=1000), settings, doorkeeper))


@app.callback()
def start(
    context: typer.Context,
    port: Port = None,
    version: Annotated[bool, typer.Option("--version", help="Say which version this is.")] = False,
) -> None:
    """Thread, needle, bobbin and balance. Alone it opens your own workshop in the browser."""
    if version:
        typer.echo(f"Weftonos {weftonos.__version__}")
    elif context.invoked_subcommand is None:
        _run(_settings(None, port, None), show=True)


@app.command()
def shortcut(into: Annotated[Path | None, typer.Option(help="The folder. Left out: your desktop.")] = None) -> None:
    """Lay a start icon on the desktop."""
    from weftonos.runtime.shortcut import lay_shortcut

    with _in_sentences():
        typer.echo(f"The start icon is {lay_shortcut(into)}.")


@app.command()
def serve(host: Host = None, port: Port = None, data_dir: DataDir = None, copy_dir: CopyDir = None) -> None:
    """Serve the workshop and its pages on one port."""
    _run(_settings(host, port, data_dir, copy_dir))


@app.command()
def demo(
    host: Host = None,
    port: Port = None,
    data_dir: DataDir = None,
    fresh: Annotated[bool, typer.Option(help="Start the example workshop over.")] = False,
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
        raise typer.BadParameter(f"{data_dir} holds a real workshop. The example needs a folder of its own.")


def load_demo(data_dir: Path, *, fresh: bool = False, tell: Tell | None = None) -> None:
    """Write the demo into ``data_dir`` unless it is there, whole or not at all; refuse a folder of a real workshop.

    ``tell`` is told what is being done and how far it is, 0 to 1.
    """
    from sqlalchemy.orm import Session

    from weftonos.demo import season
    from weftonos.store.database import make_workshop, remove_workshop
    from weftonos.store.file_errors import telling
    from weftonos.store.workshop import Workshop

    refuse_real_workshop(data_dir)
    mark = data_dir / DEMO_MARK
    if (data_dir / FILE_NAME).exists():
        # An earlier version filled the demo in its place and marked one that was broken off.
        if not fresh and mark.read_text(encoding="utf-8") == _MARKED:
            return
        remove_workshop(data_dir)
    now = datetime.now(UTC)
    with telling(mark):
        data_dir.mkdir(parents=True, exist_ok=True)
        mark.write_text(_MARKED, encoding="utf-8")

    def fill(engine: Engine) -> None:
        with Session(engine) as session, session.begin():
            season.fill(
                Workshop(session),
                now,
                tell=(lambda share: tell(("Filling the example workshop"), share)) if tell else None,
            )

    make_workshop(data_dir, fill)


@app.command("backup")
def make_backup(
    target: Annotated[Path | None, typer.Argument(help="The copy. Left out: one among the daily ones.")] = None,
    data_dir: DataDir = None,
    copy_dir: CopyDir = None,
) -> None:
    """Copy the workshop's file, safely even while it is in use, and check the copy."""
    from weftonos.store.safekeeping import back_up, copy_file, copy_folder

    settings = _settings(None, None, data_dir, copy_dir)
    source = settings.data_dir / FILE_NAME
    with _in_sentences():
        if target is None:
            target = back_up(source, copy_folder(settings.data_dir, settings.copy_dir), datetime.now(UTC))
        elif target.exists():
            raise WorkshopFileError(f"{target} exists already. Choose another name.", ExitCode.CANNOT_MAKE)
        else:
            copy_file(source, target)
    typer.echo(f"Copied to {target} and checked.")


@app.command("restore")
def put_back(
    copy: Path,
    data_dir: DataDir = None,
    yes: Annotated[bool, typer.Option("--yes", help="Do not ask.")] = False,
) -> None:
    """Put COPY in the place of the workshop's file; what it replaces is kept."""
    from weftonos.store.safekeeping import look_at, restore

    settings = _settings(None, None, data_dir)
    with _in_sentences():
        typer.echo(f"In the copy: {_contents(look_at(copy))}.")
        if not yes and not typer.confirm("Put it in the place of the workshop?"):
            raise typer.Exit(1)
        try:
            with running.alone(settings.data_dir):
                replaced = restore(copy, settings.data_dir / FILE_NAME, datetime.now(UTC))
        except running.AlreadyRunning as already:
            raise WorkshopFileError(
                "Weftonos has this workshop open. Stop it first, or go back to a copy on its page “Workshop”.",
                ExitCode.IN_USE,
            ) from already
    typer.echo(f"Put back. {f'What it replaced is {replaced}.' if replaced else ''}")


@app.command("export")
def export_everything(
    target: Path,
    data_dir: DataDir = None,
    pictures: Annotated[bool, typer.Option(help="With the recipe cards and a page of each quilt.")] = False,
    zone: Annotated[str, typer.Option(help="Time zone of the days on cards, by its name.")] = "UTC",
) -> None:
    """Write everything into one zip: tables for spreadsheets, and everything in an open format."""
    from weftonos.runtime.in_and_out import export_to
    from weftonos.store.archive import in_words

    with _in_sentences():
        counts = export_to(_settings(None, None, data_dir).data_dir, target, pictures=pictures, zone=zone)
    typer.echo(f"Written to {target}: {in_words(counts)}.")


@app.command("import")
def bring_in(
    source: Path,
    data_dir: DataDir = None,
    kind: Annotated[
        str | None, typer.Option(help="What a table holds: threads, needles, runs, readings, recipes or upkeep.")
    ] = None,
    machine: Annotated[str | None, typer.Option(help="The machine of rows that name none.")] = None,
    leave_out: Annotated[bool, typer.Option("--leave-out", help="Leave rows with a problem out.")] = False,
    take: Annotated[bool, typer.Option("--take", help="Take the file's words where this workshop differs.")] = False,
    yes: Annotated[bool, typer.Option("--yes", help="Do not ask.")] = False,
) -> None:
    """Bring a table (CSV, TSV, XLSX) or a whole workshop in, all of it or nothing."""
    from weftonos.runtime.in_and_out import import_from
    from weftonos.store.archive import in_words

    chosen = {"kind": kind, "machine": machine, "leave_out": leave_out, "take": take}
    with _in_sentences():
        brought = import_from(_settings(None, None, data_dir).data_dir, source, chosen, yes=yes)
    if brought is None:
        raise typer.Exit(1)
    new = in_words(brought["new"]) or "nothing new"
    typer.echo(f"Brought in: {new}. {sum(brought['same'].values())} were here already.")


@app.command("check")
def look_through(
    data_dir: DataDir = None, file: Annotated[Path | None, typer.Option(help="Check a copy.")] = None
) -> None:
    """Check the workshop's file: SQLite's own checks, every document, and what follows from the log."""
    from weftonos.store.checking import check

    path = file or _settings(None, None, data_dir).data_dir / FILE_NAME
    with _in_sentences():
        found = check(path)
        typer.echo(f"{path}: {_contents(found.contents)}.")
        if found.unreadable:
            typer.echo(f"{found.unreadable} documents can't be read by this version. They are in the Log.")
        if found.wrong:
            raise WorkshopFileError(f"It is damaged: {'; '.join(found.wrong)}.", ExitCode.DAMAGED)
    typer.echo("It is sound.")


def _contents(contents: Any) -> str:
    when = f", from {contents.first:%Y-%m-%d} to {contents.last:%Y-%m-%d}" if contents.first else ""
    return (
        f"{so_many(contents.records, 'record')}{when}, {so_many(contents.threads, 'thread')}, "
        f"{so_many(contents.machines, 'machine')}"
    )


@app.command()
def openapi(target: Path) -> None:
    """Write the OpenAPI document to TARGET, for generating the browser's types."""
    from weftonos.api.app import create_app

    document = create_app(Settings()).openapi()
    target.write_text(json.dumps(document, indent=1, sort_keys=True) + "\n", encoding="utf-8")


def main() -> None:
    """Run the command; what nobody foresaw ends as a sentence, too."""
    try:
        app()
    except Exception as error:
        place = None
        try:
            place = logs.log_to(Settings().data_dir)
            logs.log.error("the command failed", exc_info=error)
        except OSError:
            place = None
        said = f" What happened is written in {place}." if place and place.exists() else ""
        print(f"Something went wrong inside Weftonos ({type(error).__name__}).{said}", file=sys.stderr)
        sys.exit(os.EX_SOFTWARE if hasattr(os, "EX_SOFTWARE") else 70)


if __name__ == "__main__":
    main()
