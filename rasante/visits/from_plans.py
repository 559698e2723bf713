"""What a step shows of the tank's plans and papers: what its stations say, in their own words."""

from __future__ import annotations

from ..core.gauges.plan import GaugePlan
from ..core.procedures.compose import kit_of
from ..core.quantities.judgement import Judgement, by_weight, good, stop, watch
from ..core.scaling.line import read_line
from ..core.scaling.marks import Mark, mark_words
from ..core.scaling.read_out import read_out
from ..core.wiring.loop_budget import loop_budget
from ..devices.rescales import open_rescaling
from ..faults.services import plan_of as plan_of_trouble
from ..gauges.services import gauge_of, read_gauge
from ..pouring.services import plan_of as plan_of_pours
from ..pouring.services import read_tank_run
from ..register.services import devices_by, missing_facts
from ..scaling.chains import newest_table
from ..scaling.marking import marks_of
from ..wiring.received import read_received
from ..wiring.services import judge_wiring, read_tank_wiring, wiring_of
from .shown import Context, Line, Shown


def _only(judgement: Judgement, station: str) -> Shown:
    """Nothing but a judgement, where a station has no answer yet."""
    return Shown([], [judgement], station)


def asset(c: Context) -> Shown:
    """Which tank it is, and what is still to be noted of it."""
    tank, lacking = c.tank, missing_facts(c.tank)
    lines = [
        Line("Site", tank.site.name),
        Line("Tank", tank.name),
        Line("Product", tank.product or "not noted"),
        Line("Holds", c.words.worth(tank.file.tank.capacity)),
    ]
    found = [watch("fact-lacking", "Still to note: {what}.", what=one) for one in lacking]
    return Shown(lines, found or [good("facts", "All that is required is noted.")], "survey")


def identity(c: Context) -> Shown:
    """Whether the register knows the device whose serial is typed, and where it is."""
    serial = c.value("serial").strip()
    if not serial:
        return Shown()
    found = devices_by(serial, c.value("part"))
    if len(found) > 1:
        return _only(
            stop("serial-twice", "{count} devices bear this serial: type the part as well.", count=len(found)), ""
        )
    if not found:
        return _only(good("new-device", "New here: it is put into the register, fitted on this tank."), "")
    (one,) = found
    lines = [Line("In the register", f"{one.part} {one.serial}")]
    if one.tank is None or one.tank_id == c.tank.pk:
        return Shown(lines, [good("known-device", "Known here: it is fitted on this tank.")])
    text = "It is on {tank} by the register: it is moved here, and takes its history along."
    return Shown(lines, [watch("moved-device", text, tank=str(one.tank))])


def kit(c: Context) -> Shown:
    """What to bring: of the steps, and of the tank's own gauge and wiring."""
    kept = wiring_of(c.tank)
    extra: list[str] = []
    if gauge_of(c.tank) is not None:
        form = read_tank_wiring(c.tank, kept.entries if kept is not None else {}, c.system)
        extra = read_received(c.tank, form, {}, c.system).kit
    return Shown([Line(name, f"× {count}") for name, count in kit_of(c.course.procedure, extra)], [], "wiring")


def received(c: Context) -> Shown:
    """What was ordered, and what arrived against it."""
    kept = wiring_of(c.tank)
    entries = kept.entries if kept is not None else {}
    got = {"got.range": c.value("got_range"), "got.cable": c.value("got_cable")}
    typed = {**entries, **{path: text for path, text in got.items() if text}}
    checks = read_received(c.tank, read_tank_wiring(c.tank, entries, c.system), typed, c.system).checks
    if not checks:
        text = "No gauge is planned: choose it at Gauge, and this list says what to look for."
        return _only(watch("no-order", text), "gauge")
    lines = [Line(one.label, c.words.say(one.ordered)) for one in checks]
    # A check that does not agree says in words of its own what to do.
    found = [stop(f"got-{one.key}", one.says.sentence, **one.says.numbers) for one in checks if one.agrees is False]
    return Shown(lines, found, "wiring")


def _plan(c: Context) -> GaugePlan:
    """The gauge's plan with what is being typed."""
    gauge = gauge_of(c.tank)
    typed = {to.partition(":")[2]: text for to, text in c.values.items() if to.startswith("gauge:")}
    kept = gauge.entries if gauge is not None else {}
    return read_gauge(c.tank, {**kept, **{path: text for path, text in typed.items() if text.strip()}}, c.system)


def spot(c: Context) -> Shown:
    """What is to be minded of the gauge's spot."""
    plan = _plan(c)
    if plan.model is None:
        return _only(watch("no-gauge", "No gauge is planned: choose it at Gauge, and its spot is judged."), "gauge")
    return Shown([Line("Gauge", plan.model.name)], plan.at_the_spot, "gauge")


def cut(c: Context) -> Shown:
    """How long a probe or a cable has to be."""
    plan = _plan(c)
    if plan.probe is not None:
        return _probe(c, plan)
    if plan.cable is not None:
        return _cable(c, plan)
    return _only(watch("no-cut", "No gauge that is cut to length is planned: choose it at Gauge."), "gauge")


def _probe(c: Context, plan: GaugePlan) -> Shown:
    probe, length = plan.probe, c.words.length
    assert probe is not None
    inputs = (("Depth at the very spot", length(probe.depth_m)), ("Gap, by its school", length(probe.gap_m)))
    source = f"{probe.school.label}: common practice"
    lines = [Line("Cut to", length(probe.cut_m), "depth − gap", inputs, source)]
    if len(probe.pieces_m) > 1:
        lines.append(Line("From pieces", " + ".join(length(piece) for piece in probe.pieces_m)))
    if probe.wet_m3 is not None:
        long = (("Length", length(probe.cut_m)),)
        lines.append(Line("Fuel for its wet end", c.words.worth(probe.wet_m3), "what stands in its tube", long))
    return Shown(lines, list(probe.judgements), "gauge")


def _cable(c: Context, plan: GaugePlan) -> Shown:
    cable, length = plan.cable, c.words.length
    assert cable is not None
    inputs = (("Down", length(cable.down_m)), ("Run", length(cable.run_m)), ("Drip loop", length(cable.loop_m)))
    lines = [Line("Cable needed", length(cable.need_m), "down + run + drip loop", inputs)]
    if cable.stock_m is not None:
        lines.append(Line("Take", c.words.fill("{value:run}", {"value": cable.stock_m}), "the next stock length up"))
    lines.append(Line("Measures", c.words.fill("{value:length} of water", {"value": cable.range_m})))
    return Shown(lines, list(cable.judgements), "gauge")


def rods(c: Context) -> Shown:
    """How long each rod has to be."""
    found, length = _plan(c).rods, c.words.length
    if found is None:
        return _only(watch("no-rods", "No rods are planned: choose them at Gauge."), "gauge")
    lines = [
        Line(rod.name, length(rod.length_m), "face − tip", (("Tip at", length(rod.tip_m)),)) for rod in found.rods
    ]
    lines.append(Line("Spacer above the lowest tip", length(found.spacer_m)))
    return Shown(lines, list(found.judgements), "gauge")


def wiring(c: Context) -> Shown:
    """What is to be minded of the circuit, and its margin."""
    kept = wiring_of(c.tank)
    if kept is None:
        return _only(watch("no-wiring", "No wiring is kept: draw it at Wiring."), "wiring")
    form = read_tank_wiring(c.tank, kept.entries, c.system)
    budget = loop_budget(form.circuit, form.hottest_c)
    found = judge_wiring(c.tank, form)
    if budget is None:
        return Shown([], found, "wiring")
    why = "supply − I·R − lift-off, at its highest current"
    line = Line("Margin at the sensor", f"{budget.at[-1].margin_v:.1f} V", why, (), "IEC 60028 for copper")
    return Shown([line], by_weight([*found, *budget.judgements]), "wiring")


def chain(c: Context) -> Shown:
    """What the chain sends and shows, empty, half and full."""
    if c.chain is None:
        return _only(watch("no-chain", "No chain is kept of this tank: set both ends at Scale."), "scale")
    lines = []
    for share, name in ((0.0, "Empty"), (0.5, "Half"), (1.0, "Full")):
        reading = read_line(c.tank.file, c.chain, share * c.tank.file.tank.inside_height)
        there = [key for key in ("sent", "shown") if key in reading.stations]
        said = " → ".join(read_out(c.chain, key, reading.stations[key], c.system) for key in there)
        lines.append(Line(f"{name}, {c.words.length(reading.innage_m)}", said, "the kept chain, hop by hop"))
    return Shown(lines, [], "scale")


def rescale(c: Context) -> Shown:
    """How far the change of a part has come."""
    rescaling = open_rescaling(c.tank)
    if rescaling is None and c.tank.rescalings.filter(closed_at__gte=c.course.visit.opened_at).exists():
        return _only(good("rescaled", "Every place is changed, and the list is closed."), "scale")
    if rescaling is None:
        text = "No change of a part is open: begin it at Scale, Change a part."
        return _only(watch("no-rescale", text), "scale")
    tasks = rescaling.document["tasks"]
    left = sum(not task["done"] for task in tasks)
    if left:
        text = "{value} of {all} places still know the old range."
        return _only(watch("task-left", text, value=left, limit=0, all=len(tasks)), "scale")
    return _only(good("rescaled", "Every place is changed: close the list."), "scale")


def marks(c: Context) -> Shown:
    """The marks that are kept."""
    found = marks_of(c.tank)
    if found is None:
        return _only(stop("no-marks", "No marks are kept of this tank: set them at Scale, Marks."), "scale")
    kept = [Mark(**one) for one in found.document["marks"]]
    lines = [Line(one.label, mark_words(one, c.words)) for one in kept]
    if found.pressing:
        return Shown(lines, [stop("marks", "{words}", words=found.summary)], "scale")
    return Shown(lines, [good("marks-kept", "Marks are kept.")], "scale")


def table(c: Context) -> Shown:
    """The newest table, if it is of today's survey; or how far its pouring has come."""
    under_way = _pours(c)
    if under_way is not None:
        return under_way
    found = newest_table(c.tank)
    if found is None:
        return _only(stop("no-table", "No table is issued of this tank: issue it at Table."), "table")
    lines = [Line("Table", f"{found.number}, capacity {c.words.worth(found.capacity_l / 1000)}")]
    if found.document != c.tank.document:
        return Shown(lines, [stop("old-table", "The tank was surveyed again since: issue its table anew.")], "table")
    return Shown(lines, [good("table-issued", "It is of today's survey.")], "table")


def _pours(c: Context) -> Shown | None:
    """The run of pours that is under way, as far as it has come; None where there is none."""
    kept = plan_of_pours(c.tank)
    if kept is None or not kept.document.get("pours"):
        return None
    found = read_tank_run(c.tank, kept.entries, c.system)
    lines = [Line("Pours so far", str(len(found.pours)))]
    if found.poured is not None:
        lines.append(Line("Off by at most", f"± {c.words.worth(found.poured.curve.worst)}"))
    if found.advice is not None and found.advice.amount:
        does = "Pour in" if found.advice.amount > 0 else "Draw off"
        lines.append(Line("Next", f"{does} {c.words.worth(abs(found.advice.amount))}"))
    judged = [stop("pours-open", "Its table is being poured: go on at Table, Pour, and issue it there.")]
    return Shown(lines, [*judged, *(one for one in found.judgements if one.code == "misfit")], "table")


def trouble(c: Context) -> Shown:
    """The case that is open, as far as it has come; or the one that was closed at this visit."""
    closed = c.tank.fault_cases.filter(closed_at__gte=c.course.visit.opened_at).first()
    if closed is not None:
        lines = [Line("It was", closed.document["was"]), Line("Done", closed.document["did"])]
        return Shown(lines, [good("case-closed", "Case {number} is closed.", number=closed.number)], "trouble")
    kept = plan_of_trouble(c.tank)
    if kept is None or not kept.document.get("findings"):
        return _only(stop("no-case", "Nothing is found yet: begin at Find the fault."), "trouble")
    lines = [Line("Findings", str(kept.document["findings"])), Line("Likeliest", kept.summary)]
    return Shown(lines, [stop("case-open", "The case is open: go on, repair, prove, and close it.")], "trouble")


def proof(c: Context) -> Shown:
    """The proof that was begun at this visit."""
    found = c.tank.proofs.filter(made_at__gte=c.course.visit.opened_at).first()
    if found is None:
        return _only(watch("no-proof", "No proof is begun at this visit: begin it at Prove."), "prove")
    if found.state != "signed":
        text = "Proof {number} is a draft: read on, and sign it at Prove."
        return _only(watch("draft", text, number=found.pk), "prove")
    verdict = (found.record or {})["result"]["verdict"]
    judge = good if verdict == "pass" else stop
    text = "Proof {number} is signed: {verdict}."
    return _only(
        judge("proof", text, number=found.pk, verdict="it passes" if verdict == "pass" else verdict), "prove"
    )
