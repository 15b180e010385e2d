"""The live gauge over a WebSocket, and recorded pulls as CSV."""

from __future__ import annotations

import asyncio
import math
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from dataclasses import dataclass
from typing import Annotated, Any

from fastapi import APIRouter, Query, Request, WebSocket, WebSocketDisconnect
from fastapi.responses import Response
from pydantic import FailFast, Field, TypeAdapter

from weftonos.api.context import InDemo
from weftonos.api.strict import StrictRoute
from weftonos.core.bobbin.live_pull import PullWatch
from weftonos.core.bobbin.trace import MOST_SAMPLES, TraceAnswer, read_trace
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.force import ForceUnit
from weftonos.exchange.trace_csv import (
    LARGEST_FILE,
    STAND_IN,
    Along,
    CsvTable,
    Trace,
    look_into,
    read_columns,
    write_trace,
)
from weftonos.standins import gauge_simulator
from weftonos.standins.hand_on_gauge import hand_trace
from weftonos.standins.source import SAMPLE_RATE, GaugeSource, Sample, open_source

router = APIRouter(prefix="/api/gauge", tags=["live gauge"], route_class=StrictRoute)

#: Samples are sent in parcels, ten a second.
_PARCEL = SAMPLE_RATE // 10
#: The stream ends by itself after this many samples: an hour.
_LONGEST = SAMPLE_RATE * 3600
_KEPT = SAMPLE_RATE * 120
_ANSWER = TypeAdapter(TraceAnswer)
#: Gauges that are read at once; each takes a share of the machine.
MOST_SOCKETS = 8
_open: set[WebSocket] = set()


@dataclass(frozen=True)
class LiveSource:
    """A source of live readings and the conditions its stand-in can play; what it reads is kept in the demo alone."""

    name: str
    about: str
    conditions: list[str]
    kept: bool


@router.get("/sources")
def sources(in_demo: InDemo) -> list[LiveSource]:
    """List the sources of live readings."""
    gauge = gauge_simulator.SimulatedGauge
    return [LiveSource(gauge.name, gauge.about, [h.value for h in gauge_simulator.Health], in_demo)]


@router.websocket("/live")
async def live(
    socket: WebSocket,
    condition: gauge_simulator.Health = gauge_simulator.Health.SOUND,
    seed: Annotated[int, Query(ge=0, le=2**31)] = 1,
    source: str = gauge_simulator.SimulatedGauge.name,
    faster: Annotated[float, Query(ge=1, le=100)] = 1,
) -> None:
    """Stream samples in parcels ``{"samples": [[t, mm, mN], …]}``; after each pull ``{"answer": …}``.

    ``faster`` plays the stand-in at a multiple of its pace.
    """
    async with _a_place(socket) as there_is_one:
        if not there_is_one:
            return
        try:
            gauge = open_source(source, condition.value, seed)
        except KeyError:
            await socket.close(1008)
            return
        await _stream(socket, gauge, faster)


@asynccontextmanager
async def _a_place(socket: WebSocket) -> AsyncIterator[bool]:
    """Accept a socket and keep its place among those that are open; say no, and close it, where all are taken."""
    await socket.accept()
    if len(_open) >= MOST_SOCKETS:
        await socket.close(1013, "Too many gauges are being read at once. Close one, then try again.")
        yield False
        return
    _open.add(socket)
    try:
        yield True
    finally:
        _open.discard(socket)


def _sent(sample: Sample) -> list[float]:
    """Return a sample as it is sent."""
    return [round(sample.t, 3), round(sample.length_mm, 2), round(sample.tension_mn, 2)]


#: A pull by hand is over after so long.
_LONGEST_PULL_S = 60.0
_MOST_TAPS = 200


@router.websocket("/hand")
async def hand(socket: WebSocket, mean_mn: Annotated[float, Query(ge=20, le=1000)] = 200) -> None:
    """Stream what the stand-in shows while a hand draws on it, in parcels ``{"samples": [[t, mm, mN], …]}``.

    In come the taps as ``{"tap": seconds}``, each later than the one before; the first begins the pull.
    """
    async with _a_place(socket) as there_is_one:
        if there_is_one:
            await _stream_hand(socket, mean_mn)


async def _stream_hand(socket: WebSocket, mean_mn: float) -> None:
    taps: list[float] = []
    hears = asyncio.create_task(_hear(socket, taps))
    clock, begun, sent = asyncio.get_running_loop().time, 0.0, 0
    try:
        while not hears.done() and not (begun and clock() - begun > _LONGEST_PULL_S):
            if taps:
                begun = begun or clock()
                # As long as it takes a tap to come here, the hand is taken to go on.
                samples = hand_trace(mean_mn, list(taps), max(taps[-1], taps[0] + clock() - begun))[sent:]
                sent += len(samples)
                await socket.send_json({"samples": [_sent(sample) for sample in samples]})
            await asyncio.sleep(_PARCEL / SAMPLE_RATE)
        await socket.close()
    except (WebSocketDisconnect, RuntimeError):
        return
    finally:
        hears.cancel()


async def _hear(socket: WebSocket, taps: list[float]) -> None:
    """Take taps in until the page goes away or says what is no tap."""
    try:
        while len(taps) < _MOST_TAPS:
            at = float((await socket.receive_json())["tap"])
            # A tap of another hour would be a trace of an hour, worked out at once.
            if not math.isfinite(at) or (taps and not taps[-1] < at < taps[0] + _LONGEST_PULL_S):
                return
            taps.append(at)
    except (WebSocketDisconnect, RuntimeError, ValueError, TypeError, KeyError):
        return


async def _stream(socket: WebSocket, gauge: GaugeSource, faster: float) -> None:
    kept: list[tuple[float, float]] = []
    parcel: list[list[float]] = []
    watch = PullWatch(SAMPLE_RATE)
    clock = asyncio.get_running_loop().time()
    try:
        for number, sample in enumerate(gauge.samples()):
            if number >= _LONGEST:
                break
            kept.append((sample.length_mm, sample.tension_mn))
            if len(kept) > _KEPT:
                del kept[: _KEPT // 4]
            parcel.append(_sent(sample))
            ended = watch.sees(sample.tension_mn)
            if len(parcel) == _PARCEL:
                await socket.send_json({"samples": parcel})
                parcel = []
                clock += _PARCEL / SAMPLE_RATE / faster
                await asyncio.sleep(max(0.0, clock - asyncio.get_running_loop().time()))
            if ended:
                answer = await asyncio.to_thread(_answer, list(kept))
                if answer:
                    await socket.send_json({"answer": answer})
    except (WebSocketDisconnect, RuntimeError):
        # The page went away; what it had is with it.
        return
    await socket.close()


def _answer(kept: list[tuple[float, float]]) -> dict[str, Any] | None:
    try:
        answer = read_trace([x for x, _ in kept], [y for _, y in kept])
    except CraftError:
        return None
    found: dict[str, Any] = _ANSWER.dump_python(answer, mode="json")
    return found


#: Counted before it is judged, and the first wrong sample is complaint enough.
Samples = Annotated[list[float], FailFast(), Field(max_length=MOST_SAMPLES)]


@dataclass(frozen=True, kw_only=True)
class TraceQuestion:
    """A recorded trace: pulled length in mm and tension in mN, sample by sample."""

    length_mm: Samples
    tension_mn: Samples


@router.post("/trace")
def trace(question: TraceQuestion) -> TraceAnswer:
    """Read a recorded trace: its pulls, mean, swing, and the cause its shape points to."""
    return read_trace(question.length_mm, question.tension_mn)


@router.post("/trace.csv", response_class=Response)
def export(question: TraceQuestion) -> Response:
    """Return a trace as CSV."""
    if len(question.length_mm) != len(question.tension_mn):
        raise CraftError("Length and tension need the same number of samples.", "tension_mn")
    text = write_trace(Trace(tuple(question.length_mm), tuple(question.tension_mn)))
    return Response(text, media_type="text/csv", headers={"content-disposition": 'attachment; filename="pull.csv"'})


async def _content(request: Request) -> bytes:
    content = bytearray()
    async for chunk in request.stream():
        content += chunk
        if len(content) > LARGEST_FILE:
            raise CraftError("That file is over 20 MB. A recorded pull is a few kB.", "file")
    return bytes(content)


_CSV_BODY = {"requestBody": {"content": {"text/csv": {"schema": {"type": "string"}}}, "required": True}}


@router.post("/csv/columns", openapi_extra=_CSV_BODY)
async def csv_columns(request: Request) -> CsvTable:
    """Look into somebody's CSV: its columns, first rows, and which are likely length and tension."""
    return await asyncio.to_thread(look_into, await _content(request))


@dataclass(frozen=True)
class ReadCsv:
    """A trace out of a CSV, and what it says; ``stand_in`` where the stand-in of the gauge made it up."""

    trace: Trace
    answer: TraceAnswer
    stand_in: bool


@router.post("/csv/read", openapi_extra=_CSV_BODY)
async def csv_read(
    request: Request,
    along: Annotated[int, Query(ge=0, le=100)],
    tension: Annotated[int, Query(ge=0, le=100)],
    kind: Along = Along.LENGTH_MM,
    unit: ForceUnit = ForceUnit.MN,
) -> ReadCsv:
    """Read two columns of a CSV as a trace. Nothing is stored."""
    content = await _content(request)

    def read() -> ReadCsv:
        found = read_columns(content=content, along=along, tension=tension, kind=kind, unit=unit)
        made_up = STAND_IN in look_into(content).columns
        return ReadCsv(found, read_trace(found.length_mm, found.tension_mn), made_up)

    return await asyncio.to_thread(read)
