"""What the rules make of what is typed, room by room: every reader with what stands around it, and all it answers."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

import numpy as np

from rasante.core.devices.device_sheet import make_items, sheet_document
from rasante.core.devices.rescale import rescale
from rasante.core.faults.case_ahead import look_ahead, meanings
from rasante.core.faults.case_form import read_case
from rasante.core.faults.case_words import verdict_text
from rasante.core.gauges.model import check_model, generic_models
from rasante.core.gauges.plan import all_judgements, read_gauge_plan
from rasante.core.gauges.tilt import read_tilt, tilt_map
from rasante.core.gauges.wet_ends import read_wet_ends
from rasante.core.loading.load_form import Sensed, read_load
from rasante.core.pouring.pour_fields import Vessel
from rasante.core.pouring.pour_form import read_run
from rasante.core.procedures.compose import compose
from rasante.core.procedures.facts import HAZARDS, clash, settle
from rasante.core.procedures.timing import three_finishes
from rasante.core.products.registry import product_of
from rasante.core.quantities.errors import InputError
from rasante.core.quantities.form import Form
from rasante.core.quantities.judgement import Judgement
from rasante.core.quantities.units import System
from rasante.core.readings.ahead import rate_now
from rasante.core.readings.changes import find_changes
from rasante.core.readings.condition import Expected, tell
from rasante.core.readings.source_form import read_source
from rasante.core.readings.stillness import judge_stillness
from rasante.core.scaling.bare import read_bare
from rasante.core.scaling.chain import Chain
from rasante.core.scaling.chain_form import read_chain
from rasante.core.scaling.chain_judge import judge_chain
from rasante.core.scaling.chain_line import read_chain_line
from rasante.core.scaling.marks import Surroundings, read_marks
from rasante.core.scaling.panel_meter import METER_UNITS, meter_ends
from rasante.core.scaling.parting_form import guess_text, read_parting
from rasante.core.scaling.slopes import read_slopes
from rasante.core.tanks.breakpoints import best_points
from rasante.core.tanks.device_points import fit_device
from rasante.core.tanks.limits import limits_of
from rasante.core.tanks.survey import read_survey
from rasante.core.tanks.table import curve_nodes, table_at
from rasante.core.tanks.tank_file import TankFile, check_document
from rasante.core.tanks.uncertainty import budget_at, volume_uncertainty
from rasante.core.wiring.circuit_drawing import draw_circuit, terminal_list
from rasante.core.wiring.circuit_kinds import read_wiring
from rasante.core.wiring.circuit_rules import judge_circuit
from rasante.core.wiring.loop_budget import loop_budget
from rasante.core.wiring.receiving import kit_list, read_arrived, receiving_check

from .answers_plain import plain
from .chain_cases import chain, file_of, ground
from .every_kind import all_documents
from .fault_cases import installations
from .gauge_cases import VENT, lying, model, upright
from .plant_cases import MONDAY, random_week
from .said import said
from .test_procedures import PLAIN

Entries = Mapping[str, str]
#: What a reader answers beside its fields, named.
Answer = dict[str, Any]


# What is read once and met often.
MODELS = {str(at): check_model(one) for at, one in enumerate(generic_models())}
FILES: dict[str, TankFile] = {
    "diesel": lying("diesel"), "petrol": lying("petrol"), "water": upright("water"),
    "propane": lying("propane", safe_fill_pct=80), "nothing": upright("", 1500),
}  # fmt: skip
AT = installations()


def _survey(case: str, entries: Entries, system: System) -> tuple[Any, Answer]:
    survey = read_survey(entries, system)
    answer: Answer = {"judgements": getattr(survey, "judgements", ())}
    if survey.file is not None:
        answer |= _tank(survey.file, 5)
    return survey, answer


def _tank(file: TankFile, rows: int) -> Answer:
    tank = file.tank
    levels = np.linspace(0, tank.inside_height, rows)
    return {
        "document": {key: one for key, one in file.document.items() if not isinstance(one, (dict, list))},
        "capacity": tank.capacity, "height": tank.inside_height, "kinks": tank.kinks,
        "volume": tank.volume(levels), "u95": volume_uncertainty(file, levels),
        "level": [tank.level(float(tank.volume(tank.inside_height * share))) for share in (0.1, 0.5, 0.93)],
    }  # fmt: skip


def _document(case: str, entries: Entries, system: System) -> tuple[Any, Answer]:
    file = check_document(all_documents()[int(case)])
    levels = np.linspace(0, file.tank.inside_height, 30)
    knots, ordinates = best_points(levels, file.tank.volume(levels), 6, fixed_ends=int(case) % 4 != 0)
    tank, at = file.tank, 0.37 * file.tank.inside_height
    answer: Answer = {
        "knots": knots, "ordinates": ordinates, "nodes": curve_nodes(tank, 9),
        "table": table_at(file, levels[::6], False),
        "budget": budget_at(file, at), "limits": limits_of(tank), "outline": tank.shape.outline(),
        "device": fit_device(file.tank, 8, 0.001) if int(case) % 6 == 0 else None,
    }  # fmt: skip
    try:
        answer["tilt"] = tilt_map(tank, 4.0, 6.0, (0.4, 0.7), (7, 5))
    except InputError as error:
        answer["tilt"] = str(error)
    return None, {**_tank(file, 5), **answer}


def _gauge(case: str, entries: Entries, system: System) -> tuple[Any, Answer]:
    plan = read_gauge_plan(entries, FILES[case], VENT, MODELS, system)
    verdicts = [
        {
            "key": key,
            "verdict": one.verdict,
            "reasons": [f"{r.weight} {r.code}" for r in one.reasons],
            "u95": one.expected,
        }
        for key, one in plan.verdicts
    ]
    form = Form(entries, system)
    tilt = read_tilt(form)
    parts = {"placement": plan.placement, "probe": plan.probe, "cable": plan.cable, "rods": plan.rods}
    more: Answer = {}
    if plan.model is not None:
        got = read_arrived(Form(entries, system))
        output = plan.output or next(iter(plan.model.outputs), "")
        cable = plan.cable.need_m if plan.cable is not None else None
        more = {
            "received": receiving_check(plan.model, output, cable, got),
            "kit": kit_list(case, plan.model, "current", "2 in", True),
        }
    return plan, {"verdicts": verdicts, "minded": all_judgements(plan), "tilt": tilt, **parts, **more}


def _wiring(case: str, entries: Entries, system: System) -> tuple[Any, Answer]:
    found = read_wiring(entries, system)
    circuit = found.circuit
    drawing = draw_circuit(circuit, {wire.id: (wire.a, wire.b) for wire in circuit.wires})
    return found, {
        "judgements": judge_circuit(circuit, True), "terminals": terminal_list(circuit), "drawing": drawing,
        "budget": loop_budget(circuit, 50.0, system == "us"),
    }  # fmt: skip


def _chain(case: str, entries: Entries, system: System) -> tuple[Any, Answer]:
    file = file_of(case)
    found = read_chain(entries, ground(file), system)
    if found.chain is None:
        return found, {}
    c = found.chain
    lines = [read_chain_line(c, file, share * file.tank.inside_height) for share in (0.0, 0.37, 1.0)]
    other = chain(case, sensor__quantity="pressure", sensor__high="0.4 bar")
    meters: Answer = {}
    for unit in METER_UNITS:
        try:
            meters[unit] = meter_ends(c, unit, 4)
        except InputError as error:
            meters[unit] = str(error)
    answer: Answer = {
        "judgements": judge_chain(c, system), "lines": lines, "meters": meters,
        "sheet": sheet_document(make_items(c, (), system), {}),
        "gauge": [said(one, system) for one in _against_gauge(c)],
    }  # fmt: skip
    try:
        answer["rescale"] = rescale(other, c, 0.8, system)
    except InputError as error:
        answer["rescale"] = str(error)
    return found, answer


def _against_gauge(c: Chain) -> list[Judgement]:
    from rasante.core.scaling.chain_judge import judge_gauge

    told = [judge_gauge(c, model(technology)) for technology in ("hydrostatic", "radar")]
    return [one for one in told if one is not None]


def _marks(case: str, entries: Entries, system: System) -> tuple[Any, Answer]:
    c = chain(case)
    around = Surroundings(0.3, {"start": 0.5, "stop": 1.0, "cutout": 0.2})
    found = read_marks(entries, c.screen.volumes.tank, c, around, system)
    return found, {key: one for key, one in vars(found).items() if key != "form"}


def _slopes(case: str, entries: Entries, system: System) -> tuple[Any, Answer]:
    found = read_slopes(entries, system, (0.0, 3.0))
    return found, {key: one for key, one in vars(found).items() if key != "form"}


def _parting(case: str, entries: Entries, system: System) -> tuple[Any, Answer]:
    c = _parted(case)
    former = chain(case, sensor__quantity="pressure", sensor__high="0.25 bar")
    found = read_parting(entries, c, system, (former,))
    told = [
        {
            "share": getattr(one, "share", None),
            "guesses": [guess_text(c, one, at, system) for at in range(len(one.hypotheses))],
        }
        for one in found.parting.explanations
    ]
    return found, {"says": found.says, "told": told, "stretches": found.parting.stretches}


def _wet(case: str, entries: Entries, system: System) -> tuple[Any, Answer]:
    found = read_wet_ends(entries, system, case)
    return found, {key: one for key, one in vars(found).items() if key != "form"}


def _bare(case: str, entries: Entries, system: System) -> tuple[Any, Answer]:
    found = read_bare(entries, system)
    return found, {key: one for key, one in vars(found).items() if key not in ("form", "parting")}


def _load(case: str, entries: Entries, system: System) -> tuple[Any, Answer]:
    tank = (10.0, 0.8, Sensed(4.2, 0.06, False)) if case == "tank" else (None, None, Sensed())
    found = read_load(entries, *tank, system)
    return found, {key: one for key, one in vars(found).items() if key != "form"}


def _run(case: str, entries: Entries, system: System) -> tuple[Any, Answer]:
    document = all_documents()[int(case)]
    tank = check_document(document).tank
    found = read_run(entries, Vessel(document, 0.95 * tank.capacity, tank.capacity, product_of("diesel")), system)
    return found, {key: one for key, one in vars(found).items() if key not in ("form", "joined", "patterns")}


def _source(case: str, entries: Entries, system: System) -> tuple[Any, Answer]:
    found = read_source(
        entries, lambda number: chain("lying") if number == "1" else None, {"1": "A", "2": "B"}, system
    )
    return found, {key: one for key, one in vars(found).items() if key != "form"}


def _case(case: str, entries: Entries, system: System) -> tuple[Any, Answer]:
    at = AT[list(AT)[int(case)]]
    found = read_case(entries, at, system)
    advice = found.advice
    first = advice.choices[0].test if advice.choices else None
    return found, {
        "verdict": advice.verdict, "says": verdict_text(advice), "minutes": found.minutes, "steps": found.steps,
        "parts": advice.belief.by_part, "choices": [[c.test.key, c.bits, c.minutes] for c in advice.choices[:9]],
        "means": [] if first is None else meanings(found, first, system),
        "ahead": [[one.reads, one.means, one.verdict] for one in look_ahead(found, system, steps=0)],
    }  # fmt: skip


def _procedure(case: str, entries: Entries, system: System) -> tuple[Any, Answer]:
    facts = settle({"job": "install", "method": "hydrostatic", **PLAIN, **dict.fromkeys(HAZARDS, "no"), **entries})
    against = clash(facts)
    found = compose(facts)
    over = [step.key for step in found.steps[:3]]
    finishes = three_finishes(found, over, {}, {})
    return None, {
        "against": against,
        "steps": [[step.key, *step.minutes, *sorted(found.before[step.key])] for step in found.steps],
        "gates": sorted(found.gates), "finishes": finishes,
    }  # fmt: skip


def _week(case: str, entries: Entries, system: System) -> tuple[Any, Answer]:
    """A made-up week, and a tail of it under some expectation."""
    seed = int(case)
    rng = np.random.default_rng(seed)
    week = random_week(seed, deliveries=seed % 2 == 0, draws=seed % 3 != 0)
    times, volumes = week.times - MONDAY, week.volumes
    count = int(rng.integers(3, 200))
    begin = int(rng.integers(0, len(times) - count))
    when, read = times[begin : begin + count], volumes[begin : begin + count].copy()
    step = float(rng.choice([0.0, 1e-4, 1e-2]))
    if step:
        read = np.round(read / step) * step
    kind = seed % 7
    if kind == 1:
        read[-3:] += 0.3
    elif kind == 2:
        read[:] = read[0]
    elif kind == 3:
        read += 0.05 * np.sin(when / (40 * float(np.median(np.diff(when)))) * 25)
    elif kind == 4:
        read += rng.normal(0, 0.05, count)
    elif kind == 5 and count > 9:
        read[count // 2] += 2.0
    period = float(np.median(np.diff(when)))
    expected = Expected(period, 0.0, 30.0, step, 1e-3 * (seed % 4), 1e-4 if seed % 5 == 0 else float("inf"))
    age = float(rng.choice([0.2, 1.5, 4.0, 40.0])) * period
    answer: Answer = {
        "condition": tell(when, read, float(when[-1]) + age, expected, seed % 11 == 0),
        "still": judge_stillness(when, read, 1e-6, step), "rate": rate_now(when, read, step),
    }  # fmt: skip
    if seed % 4 == 0:
        answer["came"] = find_changes(times, volumes, 0.2)
        answer["went"] = find_changes(times, volumes, 0.1, -1)
    return None, answer


def _parted(case: str) -> Chain:
    return chain(case, sensor__quantity="pressure", counts__bits="15", register__type="int16")


#: The readers alone, without what follows from what was read.
FORMS: dict[str, Callable[[str, Entries, System], Any]] = {
    "survey": lambda case, entries, system: read_survey(entries, system),
    "gauge": lambda case, entries, system: read_gauge_plan(entries, FILES[case], VENT, MODELS, system),
    "wiring": lambda case, entries, system: read_wiring(entries, system),
    "chain": lambda case, entries, system: read_chain(entries, ground(file_of(case)), system),
}

#: What is beyond whatever anybody takes, or so near to nothing that it is none.
EXTREMES = ("1000000000", "-1000000000", "0.000000001", "999999999 m", "0.0000001 mm")


def _limits(case: str, entries: Entries, system: System) -> tuple[Any, Answer]:
    """What is said of every field of a reader where something extreme stands in it, with its limit."""
    name, _, of = case.partition(":")
    read = FORMS.get(name) or (lambda *asked: READERS[name][0](*asked)[0])
    told: Answer = {}
    for path in sorted(fields_of(read(of, entries, system))):
        said_of = []
        for text in EXTREMES:
            try:
                field = fields_of(read(of, {**entries, path: text}, system)).get(path)
            except InputError as error:
                said_of.append(str(error))
                continue
            said_of.append(field.problem if field is not None else "")
        told[path] = " | ".join(dict.fromkeys(one for one in said_of if one))
    return None, told


#: Every reader, and the cases it is asked with.
READERS: dict[str, tuple[Callable[[str, Entries, System], tuple[Any, Answer]], tuple[str, ...]]] = {
    "survey": (_survey, ("",)),
    "documents": (_document, tuple(map(str, range(len(all_documents()))))),
    "gauge": (_gauge, tuple(FILES)),
    "wiring": (_wiring, ("",)),
    "chain": (_chain, ("upright", "lying")),
    "marks": (_marks, ("upright", "lying")),
    "slopes": (_slopes, ("",)),
    "parting": (_parting, ("upright", "lying")),
    "wet-ends": (_wet, ("diesel", "water")),
    "line": (_bare, ("",)),
    "load": (_load, ("tank", "bare")),
    "pours": (_run, ("2", "8")),
    "source": (_source, ("",)),
    "trouble": (_case, tuple(map(str, range(len(AT))))),
    "procedure": (_procedure, ("",)),
    "limits": (_limits, ("",)),
    "week": (_week, tuple(map(str, range(1, 200)))),
}


def answers(name: str, case: str, entries: Entries, system: System) -> dict[str, Any]:
    """What a reader answers, in plain things."""
    reader, _ = READERS[name]
    try:
        found, answer = reader(case, entries, system)
    except InputError as error:
        return {"refused": str(error)}
    fields = fields_of(found)
    said_of = {path: _said(one) for path, one in fields.items() if one.state != "empty" or getattr(one, "usual", "")}
    return {"fields": said_of, **{key: plain(one, system) for key, one in answer.items()}}


def fields_of(found: Any) -> Mapping[str, Any]:
    """The fields of whatever a reader returned."""
    holder = getattr(found, "form", found)
    return getattr(holder, "fields", {}) if holder is not None else {}


def _said(one: Any) -> str:
    told = (one.state, one.kept, one.says, one.problem, getattr(one, "usual", ""))
    return " | ".join(part for part in told if part)
