"""A workshop of an earlier form is carried over whole, corrections and all."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest
from sqlalchemy import create_engine, event, text
from sqlalchemy.orm import Session

from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.log.run import Run
from weftonos.core.setup.machine import Machine
from weftonos.store import database, opening
from weftonos.store.reading import LogSearch
from weftonos.store.workshop import Workshop

NOW = datetime(2026, 11, 24, 12, tzinfo=UTC)
WREN = Machine(nickname="Wren", kind=MachineKind.HOME, scale=TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.5))


@pytest.mark.parametrize("revision", ["0001", "0002"])
def test_records_and_their_corrections_survive_every_step(tmp_path, revision):
    engine = create_engine(f"sqlite:///{tmp_path / database.FILE_NAME}")
    event.listen(engine, "connect", database._prepare_connection)
    database.migrate(engine, revision)
    with engine.begin() as connection:
        spec = '{"nickname":"Wren","kind":"home","scale":{"kind":"dial","low":0,"high":10,"step":0.5}}'
        connection.execute(text("INSERT INTO machine (id, spec) VALUES (1, :spec)"), {"spec": spec})
        for record in (1, 2):
            connection.execute(
                text(
                    "INSERT INTO record (id, machine_id, kind, at, noted_at, payload, setup) VALUES (:id, 1, 'run', "
                    "'2026-10-01 10:00:00', '2026-10-01 10:00:00', :payload, '{}')"
                ),
                {"id": record, "payload": f'{{"kind":"run","minutes":{record * 10},"quilt":"Redshank"}}'},
            )
        connection.execute(
            text("INSERT INTO revision (record_id, at, action) VALUES (1, '2026-10-02 10:00:00', 'struck')")
        )
    engine.dispose()

    engine = opening.open_workshop(tmp_path)
    assert list(tmp_path.glob("workshop-before-*.db")), "a copy is left beside it"
    with Session(engine) as session, session.begin():
        shop = Workshop(session)
        assert shop.machine(1).spec == WREN
        runs = shop.log(LogSearch(machine=1)).items
        assert [row.payload for row in runs] == [Run(minutes=20, quilt="Redshank"), Run(minutes=10, quilt="Redshank")]
        assert [r.action for r in runs[1].revisions] == ["struck"]
        assert all(row.incident_id is None for row in runs)
        shop.note(1, Run(minutes=5), NOW, NOW + timedelta(minutes=1))
        assert session.scalar(text("PRAGMA foreign_key_check")) is None
        assert session.scalar(text("PRAGMA foreign_keys")) == 1
    engine.dispose()
