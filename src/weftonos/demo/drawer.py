"""The demo's threads: invented names, a small studio on a tidal estuary."""

from __future__ import annotations

from weftonos.core.thread.drawer import DrawerThread, Form, ThreadFinish
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Construction, Fiber, Thread

_WT, _DENIER, _TEX, _NE, _DTEX = (
    WeightSystem.WT,
    WeightSystem.DENIER,
    WeightSystem.TEX,
    WeightSystem.NE,
    WeightSystem.DTEX,
)
_MULTI, _SPUN, _CORE = Construction.MULTIFILAMENT, Construction.SPUN, Construction.CORE_SPUN
_TRI, _MERC, _GLAZED = ThreadFinish.TRILOBAL, ThreadFinish.MERCERIZED, ThreadFinish.GLAZED


#: Meters on a full cone or spool, and its price, where the label says them.
_CONES: dict[str, tuple[float, float]] = {
    "Saltmarsh 40": (2700, 16),
    "Eelgrass 60": (5000, 18),
    "Oyster 60": (3000, 14),
    "Samphire 50": (1300, 12),
    "Driftwood 40": (1000, 13),
    "Glasswort 40": (900, 9),
}


def _thread(
    name: str,
    fiber: Fiber,
    construction: Construction,
    value: float,
    system: WeightSystem = _WT,
    strands: int = 1,
    color: str = "#cfd6dc",
    finish: ThreadFinish = ThreadFinish.PLAIN,
    plies: int | None = None,
    form: Form = Form.CONE,
    note: str = "",
) -> DrawerThread:
    length_m, price = _CONES.get(name, (None, None))
    return DrawerThread(
        name=name,
        thread=Thread(fiber=fiber, construction=construction, value=value, system=system, strands=strands),
        color=color,
        finish=finish,
        plies=plies,
        form=form,
        note=note,
        length_m=length_m,
        price=price,
    )


THREADS: tuple[DrawerThread, ...] = (
    _thread("Saltmarsh 40", Fiber.POLYESTER, _MULTI, 40, color="#2f6f62", finish=_TRI, plies=3),
    _thread(
        name="Ebb 40",
        fiber=Fiber.POLYESTER,
        construction=_MULTI,
        value=120,
        system=_DENIER,
        strands=2,
        color="#35557a",
        finish=_TRI,
        plies=2,
    ),
    _thread("Eelgrass 60", Fiber.POLYESTER, _MULTI, 60, color="#6f8f4f", plies=2),
    _thread("Limpet 80", Fiber.POLYESTER, _MULTI, 80, color="#e8e2d2", plies=2, form=Form.PRE_WOUND),
    _thread("Oyster 60", Fiber.POLYESTER, _CORE, 60, color="#dcd8cd", plies=2),
    _thread("Samphire 50", Fiber.COTTON, _SPUN, 50, color="#8a9a3b", finish=_MERC, plies=2),
    _thread("Driftwood 40", Fiber.COTTON, _SPUN, 40, color="#9a7b5a", finish=_MERC, plies=3),
    _thread("Shingle 30", Fiber.COTTON, _SPUN, 30, color="#5c6468", plies=3, form=Form.CROSS_WOUND_SPOOL),
    _thread("Tideline 12", Fiber.COTTON, _SPUN, 12, color="#b4472e", plies=3, form=Form.CROSS_WOUND_SPOOL),
    _thread(
        name="Mudflat 60",
        fiber=Fiber.COTTON,
        construction=_SPUN,
        value=35,
        system=_NE,
        color="#6b5140",
        finish=_MERC,
        plies=2,
    ),
    _thread(
        name="Sluice 70",
        fiber=Fiber.COTTON,
        construction=_SPUN,
        value=14,
        system=_TEX,
        color="#f2efe6",
        finish=_GLAZED,
        plies=2,
    ),
    _thread("Glasswort 40", Fiber.RAYON, _MULTI, 40, color="#a33f63", plies=2, form=Form.STACKED_SPOOL),
    _thread("Sea Lavender 100", Fiber.SILK, _MULTI, 100, color="#8f7fb8", plies=2, form=Form.CROSS_WOUND_SPOOL),
    _thread(
        name="Breakwater 27",
        fiber=Fiber.COTTON_POLYESTER,
        construction=_CORE,
        value=27,
        system=_TEX,
        color="#2b3a4a",
        plies=2,
    ),
    _thread(
        name="Brackish clear",
        fiber=Fiber.POLYESTER,
        construction=Construction.MONOFILAMENT,
        value=110,
        system=_DTEX,
        color="#e9eef0",
    ),
    _thread(
        name="Brackish smoke",
        fiber=Fiber.NYLON,
        construction=Construction.MONOFILAMENT,
        value=100,
        system=_DTEX,
        color="#5a5f63",
        note="Older. Keep for sampling only.",
    ),
    _thread("Phosphor gold", Fiber.METALLIC, Construction.METALLIC, 40, color="#c9a441", form=Form.STACKED_SPOOL),
    _thread(
        name="Spindrift film",
        fiber=Fiber.METALLIC,
        construction=Construction.FILM,
        value=190,
        system=_DTEX,
        color="#b8c7d6",
        form=Form.STACKED_SPOOL,
    ),
    _thread("Kelp 8", Fiber.COTTON, _SPUN, 8, color="#3d5a2a", plies=4, form=Form.CROSS_WOUND_SPOOL),
    _thread(name="Neap wash-away", fiber=Fiber.WASH_AWAY, construction=_SPUN, value=20, system=_TEX, color="#f7f7f2"),
)
