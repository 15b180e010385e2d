"""The demo's threads: invented names, a small studio on a tidal estuary."""

from __future__ import annotations

from weftonos.core.thread.drawer import DrawerThread, Form, ThreadFinish
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Construction, Fibre, Thread

_WT, _DENIER, _TEX, _NE, _DTEX = (
    WeightSystem.WT,
    WeightSystem.DENIER,
    WeightSystem.TEX,
    WeightSystem.NE,
    WeightSystem.DTEX,
)
_MULTI, _SPUN, _CORE = Construction.MULTIFILAMENT, Construction.SPUN, Construction.CORE_SPUN
_TRI, _MERC, _GLAZED = ThreadFinish.TRILOBAL, ThreadFinish.MERCERISED, ThreadFinish.GLAZED


def _thread(
    name: str,
    fibre: Fibre,
    construction: Construction,
    value: float,
    system: WeightSystem = _WT,
    strands: int = 1,
    colour: str = "#cfd6dc",
    finish: ThreadFinish = ThreadFinish.PLAIN,
    plies: int | None = None,
    form: Form = Form.CONE,
    note: str = "",
) -> DrawerThread:
    return DrawerThread(
        name=name,
        thread=Thread(fibre=fibre, construction=construction, value=value, system=system, strands=strands),
        colour=colour,
        finish=finish,
        plies=plies,
        form=form,
        note=note,
    )


THREADS: tuple[DrawerThread, ...] = (
    _thread("Saltmarsh 40", Fibre.POLYESTER, _MULTI, 40, colour="#2f6f62", finish=_TRI, plies=3),
    _thread(
        name="Ebb 40",
        fibre=Fibre.POLYESTER,
        construction=_MULTI,
        value=120,
        system=_DENIER,
        strands=2,
        colour="#35557a",
        finish=_TRI,
        plies=2,
    ),
    _thread("Eelgrass 60", Fibre.POLYESTER, _MULTI, 60, colour="#6f8f4f", plies=2),
    _thread("Limpet 80", Fibre.POLYESTER, _MULTI, 80, colour="#e8e2d2", plies=2, form=Form.PRE_WOUND),
    _thread("Oyster 60", Fibre.POLYESTER, _CORE, 60, colour="#dcd8cd", plies=2),
    _thread("Samphire 50", Fibre.COTTON, _SPUN, 50, colour="#8a9a3b", finish=_MERC, plies=2),
    _thread("Driftwood 40", Fibre.COTTON, _SPUN, 40, colour="#9a7b5a", finish=_MERC, plies=3),
    _thread("Shingle 30", Fibre.COTTON, _SPUN, 30, colour="#5c6468", plies=3, form=Form.CROSS_WOUND_SPOOL),
    _thread("Tideline 12", Fibre.COTTON, _SPUN, 12, colour="#b4472e", plies=3, form=Form.CROSS_WOUND_SPOOL),
    _thread(
        name="Mudflat 60",
        fibre=Fibre.COTTON,
        construction=_SPUN,
        value=35,
        system=_NE,
        colour="#6b5140",
        finish=_MERC,
        plies=2,
    ),
    _thread(
        name="Sluice 70",
        fibre=Fibre.COTTON,
        construction=_SPUN,
        value=14,
        system=_TEX,
        colour="#f2efe6",
        finish=_GLAZED,
        plies=2,
    ),
    _thread("Glasswort 40", Fibre.RAYON, _MULTI, 40, colour="#a33f63", plies=2, form=Form.STACKED_SPOOL),
    _thread("Sea Lavender 100", Fibre.SILK, _MULTI, 100, colour="#8f7fb8", plies=2, form=Form.CROSS_WOUND_SPOOL),
    _thread(
        name="Breakwater 27",
        fibre=Fibre.COTTON_POLYESTER,
        construction=_CORE,
        value=27,
        system=_TEX,
        colour="#2b3a4a",
        plies=2,
    ),
    _thread(
        name="Brackish clear",
        fibre=Fibre.POLYESTER,
        construction=Construction.MONOFILAMENT,
        value=110,
        system=_DTEX,
        colour="#e9eef0",
    ),
    _thread(
        name="Brackish smoke",
        fibre=Fibre.NYLON,
        construction=Construction.MONOFILAMENT,
        value=100,
        system=_DTEX,
        colour="#5a5f63",
        note="Older. Keep for sampling only.",
    ),
    _thread("Phosphor gold", Fibre.METALLIC, Construction.METALLIC, 40, colour="#c9a441", form=Form.STACKED_SPOOL),
    _thread(
        name="Spindrift film",
        fibre=Fibre.METALLIC,
        construction=Construction.FILM,
        value=190,
        system=_DTEX,
        colour="#b8c7d6",
        form=Form.STACKED_SPOOL,
    ),
    _thread("Kelp 8", Fibre.COTTON, _SPUN, 8, colour="#3d5a2a", plies=4, form=Form.CROSS_WOUND_SPOOL),
    _thread(name="Neap wash-away", fibre=Fibre.WASH_AWAY, construction=_SPUN, value=20, system=_TEX, colour="#f7f7f2"),
)
