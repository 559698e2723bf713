"""Where each tank's work stands, and what needs a person now."""

from __future__ import annotations

from typing import Any

from django.db.models import Prefetch
from django.utils import timezone

from ..core.scaling.chain import all_settings
from ..planned.models import Planned
from ..proving.models import Proof
from ..readings.events import words_of
from ..readings.models import Channel, Event
from ..scaling.models import ScalingChain
from ..tanks.models import IssuedTable, Tank

PRESSING = ("needs you", "in hand")


def tanks_with_work():
    """Return tanks with what was planned for them and their proofs at hand."""
    return Tank.objects.select_related(
        "site", "gaugeplan", "wiring", "scalingchain", "chainreadings", "marks", "pourplan", "faultplan"
    ).prefetch_related(
        "rescalings",
        Prefetch("channels", Channel.objects.filter(on=True).select_related("source")),
        Prefetch("events", Event.objects.filter(pressing=True, closed_at=None).select_related("channel", "source")),
        Prefetch("proofs", Proof.objects.select_related("signed_by", "made_by")),
        Prefetch("issued_tables", IssuedTable.objects.defer("rows")),
    )


def _chain(tank: Tank) -> ScalingChain | None:
    return getattr(tank, "scalingchain", None)


def _latest(tank: Tank, state: str) -> Proof | None:
    return next((proof for proof in tank.proofs.all() if proof.state == state), None)


def _moving(settings: dict[str, str]) -> dict[str, str]:
    """Those of a chain's settings that move a reading."""
    known = all_settings()
    return {path: text for path, text in settings.items() if path in known and known[path][1].moves}


def _changed_since(tank: Tank, proof: Proof) -> bool:
    """Whether tank or chain are others than a signed proof was taken of."""
    chain, record = _chain(tank), proof.record or {}
    if chain is None or record["tank"]["document"] != tank.document:
        return True
    if "chain" in record and record["chain"].get("revision") == chain.revision:
        return False
    if "chain" in record:
        return _moving(record["chain"]["settings"]) != _moving(chain.document.get("settings", {}))
    # Older records know the two ends of the signal alone.
    return _old_ends(record, tank) != chain.document.get("ends_mm")


def _old_ends(record: dict[str, Any], tank: Tank) -> list[float]:
    """The innages at 4 and at 20 mA of an old record [mm], to a hundredth."""
    scale = record["transmitter"]["document"]
    values = [scale["value_at_4ma_mm"], scale["value_at_20ma_mm"]]
    if scale["reports"] == "level":
        return [round(value + scale["datum_offset_mm"], 2) for value in values]
    face = tank.file.tank.reference_height_m * 1000 + scale["datum_offset_mm"]
    return [round(face - value, 2) for value in values]


def _station(key: str, state: str, words: str) -> dict[str, str]:
    return {"key": key, "label": key.capitalize(), "state": state, "words": words}


def _survey(tank: Tank) -> dict[str, str]:
    lacking = []
    if not tank.product:
        lacking.append("product")
    if "reference_height_mm" not in tank.document:
        lacking.append("reference height")
    if not tank.ports:
        lacking.append("openings")
    if lacking:
        return _station("survey", "in hand", f"still to note: {', '.join(lacking)}")
    return _station("survey", "done", f"revision {tank.revision}")


def _table(tank: Tank) -> dict[str, str]:
    issued = next(iter(tank.issued_tables.all()), None)
    run = getattr(tank, "pourplan", None)
    if run is not None and run.document.get("pours"):
        return _station("table", "in hand", f"being poured: {run.summary}")
    if issued is None:
        known = tank.document.get("uncertainty") or tank.document.get("measured")
        made = "made, not issued" if known else "made, not issued; no uncertainty stated"
        return _station("table", "done" if known else "in hand", made)
    if issued.document != tank.document:
        return _station("table", "needs you", f"the tank was surveyed again since table {issued.number} was issued")
    return _station("table", "done", f"table {issued.number}, issued {timezone.localtime(issued.issued_at):%d %b %Y}")


def _planned(tank: Tank, key: str, planned: Planned | None, nothing: str) -> dict[str, str]:
    if planned is None:
        return _station(key, "not started", nothing)
    if planned.tank_revision != tank.revision:
        return _station(key, "needs you", "the tank was surveyed again since: look at it and keep it again")
    if planned.pressing:
        return _station(key, "needs you", planned.summary)
    return _station(key, "done" if planned.document else "in hand", planned.summary)


def _gauge(tank: Tank) -> dict[str, str]:
    return _planned(tank, "gauge", getattr(tank, "gaugeplan", None), "no gauge chosen yet")


def _wiring(tank: Tank) -> dict[str, str]:
    return _planned(tank, "wiring", getattr(tank, "wiring", None), "no wiring kept yet")


def _scale(tank: Tank) -> dict[str, str]:
    """Where the chain stands, its rescaling, what was read along it, and its marks."""
    rescaling = next((one for one in tank.rescalings.all() if one.is_open), None)
    if rescaling is not None:
        left = sum(not task["done"] for task in rescaling.document["tasks"])
        words = f"a rescaling is open, {left} to tick" if left else "a rescaling is ticked through: close it"
        return _station("scale", "in hand", words)
    readings, chain, marks = getattr(tank, "chainreadings", None), _chain(tank), getattr(tank, "marks", None)
    if chain is None and marks is None and readings is None:
        return _station("scale", "not started", "no chain kept yet")
    issued = next(iter(tank.issued_tables.all()), None)
    if marks is not None and marks.table_number != (issued.number if issued else 0):
        return _station("scale", "needs you", "the table was revised since the marks were set: keep them anew")
    for planned in (chain, readings, marks):
        if planned is not None and planned.pressing:
            return _station("scale", "needs you", planned.summary)
    if chain is None:
        return _station("scale", "in hand", "no chain kept yet")
    if chain.tank_revision != tank.revision:
        words = "the tank was surveyed again since: look at the chain and keep it again"
        return _station("scale", "needs you", words)
    return _station("scale", "done", chain.summary)


def _prove(tank: Tank) -> dict[str, str]:
    draft, signed = _latest(tank, Proof.DRAFT), _latest(tank, Proof.SIGNED)
    if draft is not None:
        return _station("prove", "in hand", f"a draft of {timezone.localtime(draft.changed_at):%d %b} is not signed")
    if signed is None:
        return _station("prove", "not started", "never proven")
    if signed.record["result"]["verdict"] == "fail":
        return _station("prove", "needs you", "the last proof failed")
    if _changed_since(tank, signed):
        return _station("prove", "needs you", "tank or chain has changed since the last proof")
    return _station("prove", "done", f"passed {timezone.localtime(signed.signed_at):%d %b %Y}")


def _watch(tank: Tank) -> dict[str, str]:
    """Whether something is listened to, and what it tells of."""
    case = getattr(tank, "faultplan", None)
    if case is not None and case.document.get("findings"):
        return _station("watch", "needs you", f"a case of trouble is open: {case.summary}")
    told = list(tank.events.all())
    if told:
        more = f", and {len(told) - 1} more" if len(told) > 1 else ""
        return _station("watch", "needs you", words_of(told[0], "metric") + more)
    names = sorted({channel.source.name for channel in tank.channels.all() if channel.on})
    if not names:
        return _station("watch", "not started", "nothing sends its level yet")
    return _station("watch", "done", f"listens to {', '.join(names)}")


def stations(tank: Tank) -> list[dict[str, str]]:
    """Tell how far the work on a tank has come, station by station in the order of the job."""
    return [_survey(tank), _table(tank), _gauge(tank), _wiring(tank), _scale(tank), _prove(tank), _watch(tank)]


def last_dip(tank: Tank) -> dict[str, Any] | None:
    """Return the level dipped in the latest signed proof that has a dip, with its time, or None."""
    for proof in tank.proofs.all():
        dip = proof.record["result"]["dip"] if proof.state == Proof.SIGNED else None
        if dip:
            level = min(dip["dipped_mm"], tank.file.tank.inside_height * 1000) / 1000
            volume = float(tank.file.tank.volume(level))
            return {
                "innage_mm": level * 1000,
                "volume_l": volume * 1000,
                "volume_pct": volume / tank.file.tank.capacity * 100,
                "at": proof.signed_at.isoformat(),
            }
    return None


def rank_of(state: str) -> int:
    """Return how pressing a state is; 0 needs a person."""
    return PRESSING.index(state) if state in PRESSING else len(PRESSING)
