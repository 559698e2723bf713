"""The board: where each tank's work stands, and what needs a person now."""

from __future__ import annotations

from typing import Any

from django.db.models import Prefetch
from django.utils import timezone

from ..core.scaling.transmitter import judge_range
from ..core.units import System
from ..gauges.models import GaugePlan, Wiring
from ..tanks.models import IssuedTable, Tank
from ..tanks.present import facts
from .models import Proof, Transmitter

MOST_CARDS = 60
_PRESSING = ("needs you", "in hand")


def tanks_with_work():
    """Return tanks with their transmitter and proofs at hand."""
    return Tank.objects.select_related(
        "site", "transmitter", "gaugeplan", "wiring", "scalingchain", "chainreadings", "marks"
    ).prefetch_related(
        "rescalings",
        Prefetch("proofs", Proof.objects.select_related("signed_by", "made_by")),
        Prefetch("issued_tables", IssuedTable.objects.defer("rows")),
    )


def _transmitter(tank: Tank) -> Transmitter | None:
    return getattr(tank, "transmitter", None)


def _latest(tank: Tank, state: str) -> Proof | None:
    return next((proof for proof in tank.proofs.all() if proof.state == state), None)


def _changed_since(tank: Tank, proof: Proof) -> bool:
    transmitter = _transmitter(tank)
    record = proof.record or {}
    return (
        record["tank"]["document"] != tank.document
        or transmitter is None
        or record["transmitter"]["document"] != transmitter.document
    )


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
    if issued is None:
        known = tank.document.get("uncertainty") or tank.document.get("measured")
        made = "made, not issued" if known else "made, not issued; no uncertainty stated"
        return _station("table", "done" if known else "in hand", made)
    if issued.document != tank.document:
        return _station("table", "needs you", f"the tank was surveyed again since table {issued.number} was issued")
    return _station("table", "done", f"table {issued.number}, issued {timezone.localtime(issued.issued_at):%d %b %Y}")


def _planned(tank: Tank, key: str, planned: GaugePlan | Wiring | None, nothing: str) -> dict[str, str]:
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


def _scale(tank: Tank, system: System) -> dict[str, str]:
    transmitter = _transmitter(tank)
    if transmitter is None:
        return _station("scale", "not started", "no transmitter yet")
    worst = judge_range(transmitter.scaled, tank.file.tank, system)[0]
    if worst.weight == "stop":
        return _station("scale", "needs you", worst.text)
    return _after_scale(tank) or _station("scale", "done", worst.text)


def _after_scale(tank: Tank) -> dict[str, str] | None:
    """What of the chain, its marks or a rescaling asks for a person; None where nothing does."""
    rescaling = next((one for one in tank.rescalings.all() if one.closed_at is None), None)
    if rescaling is not None:
        left = sum(not task["done"] for task in rescaling.document["tasks"])
        words = f"a rescaling is open, {left} to tick" if left else "a rescaling is ticked through: close it"
        return _station("scale", "in hand", words)
    readings, chain = getattr(tank, "chainreadings", None), getattr(tank, "scalingchain", None)
    marks = getattr(tank, "marks", None)
    issued = next(iter(tank.issued_tables.all()), None)
    if marks is not None and marks.table_number != (issued.number if issued else 0):
        return _station("scale", "needs you", "the table was revised since the marks were set: keep them anew")
    for planned in (chain, readings, marks):
        if planned is not None and planned.pressing:
            return _station("scale", "needs you", planned.summary)
    if chain is not None and chain.tank_revision != tank.revision:
        return _station(
            "scale", "needs you", "the tank was surveyed again since: look at the chain and keep it again"
        )
    return None


def _prove(tank: Tank) -> dict[str, str]:
    draft, signed = _latest(tank, Proof.DRAFT), _latest(tank, Proof.SIGNED)
    if draft is not None:
        return _station("prove", "in hand", f"a draft of {timezone.localtime(draft.changed_at):%d %b} is not signed")
    if signed is None:
        return _station("prove", "not started", "never proven")
    if signed.record["result"]["verdict"] == "fail":
        return _station("prove", "needs you", "the last proof failed")
    if _changed_since(tank, signed):
        return _station("prove", "needs you", "tank or scale has changed since the last proof")
    return _station("prove", "done", f"passed {timezone.localtime(signed.signed_at):%d %b %Y}")


def stations(tank: Tank, system: System) -> list[dict[str, str]]:
    """Tell how far the work on a tank has come, station by station in the order of the job."""
    return [_survey(tank), _table(tank), _gauge(tank), _wiring(tank), _scale(tank, system), _prove(tank)]


def last_dip(tank: Tank) -> dict[str, Any] | None:
    """Return the level dipped in the latest signed proof that has a dip, with its age, or None."""
    for proof in tank.proofs.all():
        dip = proof.record["result"]["dip"] if proof.state == Proof.SIGNED else None
        if dip:
            level = min(dip["dipped_mm"], tank.file.tank.inside_height * 1000) / 1000
            volume = float(tank.file.tank.volume(level))
            age = timezone.now() - proof.signed_at
            return {
                "innage_mm": level * 1000,
                "volume_l": volume * 1000,
                "volume_pct": volume / tank.file.tank.capacity * 100,
                "at": proof.signed_at,
                "age_days": age.total_seconds() / 86400,
            }
    return None


def board(system: System) -> dict[str, Any]:
    """Make the board: what needs a person, most pressing first, and the tanks, those that need one first.

    A board is for looking at: it shows at most `MOST_CARDS` tanks and as many calls for a person, and says how
    many there are.
    """
    work = [(tank, stations(tank, system)) for tank in tanks_with_work()]
    attention = [
        {
            "tank": tank.pk,
            "name": tank.name,
            "site_name": tank.site.name,
            "station": station["key"],
            "words": station["words"],
            "state": station["state"],
        }
        for tank, found in work
        for station in found
        if station["state"] in _PRESSING
    ]
    attention.sort(key=lambda entry: _PRESSING.index(entry["state"]))
    if len(work) > MOST_CARDS:
        work.sort(key=lambda pair: min(_rank(station["state"]) for station in pair[1]))
    cards = [
        {
            "id": tank.pk,
            "site_name": tank.site.name,
            "facts": facts(tank.file),
            "stations": found,
            "level": last_dip(tank),
        }
        for tank, found in work[:MOST_CARDS]
    ]
    return {
        "attention": attention[:MOST_CARDS],
        "attention_count": len(attention),
        "tanks": cards,
        "tank_count": len(work),
    }


def _rank(state: str) -> int:
    return _PRESSING.index(state) if state in _PRESSING else len(_PRESSING)
