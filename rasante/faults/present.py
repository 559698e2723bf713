"""How a case of trouble is written for the API."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from ..core.faults.advice import WORTH, Choice, gates_of, words_of
from ..core.faults.case_ahead import Branch, look_ahead, meanings, school_minutes
from ..core.faults.case_form import DIALS, SCHOOLS, CaseForm
from ..core.faults.case_words import because_text, reading_text, verdict_text
from ..core.faults.fault import fault_kinds, parts
from ..core.faults.fault_test import FaultTest, acts, gates, places, rigs, test_between
from ..core.faults.installation import points
from ..core.faults.unlisted import UNKNOWN
from ..core.gauges.model import technologies
from ..core.quantities.units import System
from ..core.quantities.words import Words
from ..core.scaling.chain import STATIONS
from ..planned.present import fields
from ..wiring.present import drawing
from . import answers
from .models import FaultCase
from .services import Along, moved


def case(
    found: CaseForm,
    live: tuple[str, str] | None,
    along: tuple[datetime | None, Sequence[Along]],
    system: System,
) -> answers.CaseReading:
    """Write a case as far as it has been typed, with what to do next."""
    advice, table = found.advice, found.table
    shares = sorted(advice.belief.by_part.items(), key=lambda one: -one[1])
    first = advice.choices[0].test if advice.choices else None
    circuit = found.at.wired
    return answers.CaseReading(
        fields_read=fields(found.form),
        technologies={key: one.name for key, one in technologies().items()},
        places={key: one.says for key, one in places().items()},
        schools=SCHOOLS,
        school_minutes={key: round(value) for key, value in school_minutes(found).items()},
        kit=sorted({one for test in table.every_test for one in test.kit}),
        gates=gates(),
        at=found.standing.place,
        verdict=advice.verdict,
        because=because_text(advice),
        says=list(verdict_text(advice)),
        parts=[
            answers.Suspect(
                part=part,
                says=words_of(part),
                share=share,
                at=list(parts()[part].at) if part != UNKNOWN else [],
                hop=parts()[part].hop if part != UNKNOWN else advice.astray,
            )
            for part, share in shares
        ],
        fault_key=advice.fault.kind.key,
        why=advice.fault.kind.why,
        drawing=None if circuit is None else drawing(circuit, {w.id: (w.a, w.b) for w in circuit.wires}),
        choices=[_choice(found, choice, system) for choice in advice.choices],
        means=[]
        if first is None
        else [
            answers.FaultMeaning(share=one.share, reads=one.read, means=one.means)
            for one in meanings(found, first, system)
        ],
        tests=[_test(found, test) for test in table.every_test],
        dial_gates={dial: _gates(found, test_between(f"{dial}||")) for dial in DIALS},
        terminals={} if circuit is None else {point: circuit.name(point) for point in circuit.points},
        stations={key: STATIONS[key] for key in found.at.sound.stations},
        faults={key: kind.says for key, kind in fault_kinds().items() if found.at.fits(kind.when)},
        steps=[
            answers.FaultStep(
                row=one.row,
                do=one.do,
                read=one.read,
                says=one.says,
                doubtful=one.doubtful,
                gates=[gate.says for gate in one.gates if not gate.ticked_at],
            )
            for one in found.steps
        ],
        series=None
        if found.series is None
        else answers.SeriesLook(look=found.series.look, says=Words(system).say(found.series.says)),
        along_at=along[0],
        along=[
            answers.Along(
                test=one.test.key, label=STATIONS[str(one.test.reads["station"])], typed=one.typed, says=one.says
            )
            for one in along[1]
        ],
        live=None if live is None else answers.SeriesLook(look=live[0], says=live[1]),
        minutes=found.minutes,
        restore=moved(found),
    )


def ahead(found: CaseForm, system: System) -> answers.Ahead:
    """Write the next tests for whatever the advised one finds."""
    choices = found.advice.choices
    return answers.Ahead(
        do=choices[0].test.do if choices else "",
        branches=[answers.Branch(**vars(_branch(one))) for one in look_ahead(found, system)],
    )


def _branch(one: Branch) -> answers.NearBranch:
    return answers.NearBranch(
        reads=one.reads,
        means=one.means,
        verdict=one.verdict,
        then="" if one.then is None else f"{one.then.do} ({places()[one.then.place].says})",
        minutes=one.minutes,
        branches=[_branch(other) for other in one.branches],
    )


def _test(found: CaseForm, test: FaultTest) -> answers.FaultTest:
    return answers.FaultTest(
        key=test.key,
        do=test.do,
        place=test.place,
        outcomes=list(test.outcomes),
        gates=_gates(found, test),
        injects=test.injects,
    )


def _gates(found: CaseForm, test: FaultTest) -> list[answers.TestGate]:
    return [answers.TestGate(key, says) for key, says in gates_of(test, found.at).items()]


def _choice(found: CaseForm, choice: Choice, system: System) -> answers.FaultChoice:
    test = choice.test
    return answers.FaultChoice(
        test=test.key,
        do=test.do,
        place=places()[test.place].says,
        set_up=rigs()[test.rig].says if test.rig else "",
        minutes=choice.minutes,
        bits=choice.bits,
        worth=choice.bits >= WORTH,
        gates=_gates(found, test),
        acts=[acts()[key].says for key in test.acts if key != "climbs"],
        kit=list(test.kit),
        dial=_dial(test),
        leads=_leads(found, test),
        put_in=_put_in(found, test, system),
        outcomes=list(test.outcomes),
        station=str(test.reads["station"]) if set(test.reads) == {"station"} else "",
    )


def _dial(test: FaultTest) -> str:
    """What the meter is set to."""
    if "volts" in test.reads:
        return "V"
    if "ohms" in test.reads:
        return "Ω"
    return "mA or V, as the signal is" if test.rig in ("series", "alone") else ""


def _leads(found: CaseForm, test: FaultTest) -> list[str]:
    """The terminals that the leads touch, red before black."""
    circuit = found.at.wired
    pair = test.reads.get("volts") or test.reads.get("ohms")
    if circuit is None or pair is None:
        return []
    named = points(circuit)
    return [named.get(one, one) for one in pair]


def _put_in(found: CaseForm, test: FaultTest, system: System) -> str:
    """What the calibrator is set to."""
    signal = found.at.sound.signal
    if not test.injects or signal is None:
        return ""
    value = test.reads.get("put_in")
    if value is None:
        value = signal.low + float(test.reads.get("inject", test.reads.get("simulate"))) * signal.span
    return reading_text(found.at, _SENT, value, system)


#: A test that reads what is sent: for the words of what is put in.
_SENT = FaultTest("", "", "panel", "", 1.0, (), (), {"station": "sent"}, 0.004, (), (), "")


def record(one: FaultCase) -> answers.FaultCase:
    """Write a closed case, from what was frozen in it."""
    said = one.document
    return answers.FaultCase(
        id=one.pk,
        number=one.number,
        closed_at=one.closed_at,
        closed_by=said["closed_by"],
        was=said["was"],
        part=said["part"],
        did=said["did"],
        minutes=said["minutes"],
        trail=[
            # Before gates were ticked none were kept.
            answers.Trail(
                one["did"], one["read"], one["says"], [answers.TestGateTick(**g) for g in one.get("gates", ())]
            )
            for one in said["trail"]
        ],
    )
