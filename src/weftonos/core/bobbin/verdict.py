"""The reading and the chart of its case in one sentence, so that they never say two things."""

from __future__ import annotations

from weftonos.core.bobbin.control_chart import ControlChart
from weftonos.core.bobbin.gauge import GaugeAnswer, Verdict
from weftonos.core.kernel.spoken import pull


def verdict_in_words(reading: GaugeAnswer, chart: ControlChart | None) -> str:
    """Return what to do by a reading, with what the chart of its case adds."""
    if chart is None or chart.center is None or not chart.drifts or reading.verdict is Verdict.FLUTTERING:
        return reading.text
    habit = f"this case used to read about {pull(chart.center)}"
    if reading.verdict in (Verdict.ON_TARGET, Verdict.NO_TARGET):
        start = "On target" if reading.verdict is Verdict.ON_TARGET else "No target yet"
        return f"{start}, but {habit}. Leave the screw. Check for lint, or try another bobbin, and pull again."
    return f"{reading.text} But {habit}, so something moved. Check for lint and try another bobbin before you turn."
