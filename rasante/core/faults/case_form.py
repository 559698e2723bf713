"""A case of trouble as it is typed: what was found so far, and in words what to do next and why."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from ..gauges.model import technologies
from ..quantities.errors import InputError
from ..quantities.form import Form, FormField
from ..quantities.typed import read_quantity
from ..quantities.units import System, show
from ..scaling.chain_values import read_value, value_text
from .advice import WORTH, Advice, Standing, advise, doubtful, gates_of, given_by
from .belief import Belief, Finding
from .case_words import finding_text, moved_text, reading_text, station_of
from .fault_test import FaultTest, fault_tests, gates, places, test_between
from .installation import Installation
from .loops import OPEN_OHM
from .predict import reader_station
from .series import Series, judge_series, read_series
from .table import Table, table_of

#: So many findings make a case; who has more should begin anew.
MOST_FINDINGS = 60
#: What somebody writes for a meter or a screen that shows nothing, and for an open circuit.
NOTHING_SHOWN = ("nothing", "none", "no reading", "blank", "----", "---", "--", "-", "err", "error")
OPEN_SHOWN = ("ol", "open", "inf", "∞", "1.", "overload")
#: The dials of readings between any two terminals.
DIALS = {"volts": "Volts across", "ohms": "Ohms across, power off"}
SCHOOLS = {"": "whatever tells most by the minute", "sensor": "the sensor first", "input": "the input first"}


@dataclass(frozen=True)
class Step:
    """One finding, in words.

    Parameters
    ----------
    row : int
        Its row of the form.
    do, read : str
        What was done, and what was read.
    says : str
        What it ruled out, and what it made likelier.
    doubtful : bool
        Whether it fits nothing that is listed and likely now, and was done once: to be done again.
    gates : tuple of GateTick
        What had to be so before it.
    """

    row: int
    do: str
    read: str
    says: str
    doubtful: bool
    gates: tuple[GateTick, ...] = ()


@dataclass(frozen=True)
class GateTick:
    """A gate of a test, in words, with when it was ticked; empty where it was not."""

    key: str
    says: str
    ticked_at: str


@dataclass(frozen=True)
class CaseForm:
    """A case, as far as it has come.

    Parameters
    ----------
    form : Form
        Its fields.
    at : Installation
    table : Table
    standing : Standing
    school : str
        One of `SCHOOLS`.
    advice : Advice
    steps : tuple of Step
    series : Series or None
        What pasted readings look like.
    minutes : float
        What has been spent by the tests' own times [min].
    """

    form: Form
    at: Installation
    table: Table
    standing: Standing
    school: str
    advice: Advice
    steps: tuple[Step, ...]
    series: Series | None
    minutes: float

    @property
    def findings(self) -> tuple[Finding, ...]:
        """What was found so far."""
        return self.advice.belief.found


def read_case(entries: Mapping[str, str], at: Installation, system: System) -> CaseForm:
    """Read a case as far as it has been typed, and say what to do next.

    Parameters
    ----------
    entries : mapping of str to str
        ``technology``, ``age``, ``hazardous``, ``radio``, ``floats``: what kind of installation it is;
        ``expected`` and ``expected.half``: where the level should be by the book; ``school``; ``place``;
        ``lacks.KIT`` and ``barred.GATE``: yes for what is not at hand or not so; ``rows[i].test`` with
        ``rows[i].value`` or ``rows[i].outcome``, for what was put in ``rows[i].put_in``, for two terminals of one's
        own ``rows[i].red`` and ``.black``, and when each gate was ticked, ``rows[i].gate.GATE``;
        ``now.test`` and so on: the same of what is being typed, and does not count yet;
        ``series`` and ``series.every``: pasted readings.
    at : Installation
        As it is kept.
    system : {"metric", "us"}
        What a bare number means, and the units of the words.

    Returns
    -------
    CaseForm
        Never raises for what is typed: problems stand at the fields.
    """
    form = Form(entries, system)
    at = _read_kind(form, at)
    table = table_of(at)
    expected = _read_expected(form, at)
    series = _read_series(form, at)
    standing = _read_standing(form, table)
    belief = Belief.prior(table, expected)
    steps: list[Step] = []
    minutes = 0.0
    count = form.count("rows", "test", MOST_FINDINGS)
    rows: list[tuple[int, Finding]] = []
    for row in range(count):
        found = _read_finding(form, table, f"rows[{row}]", [one for _, one in rows])
        if found is not None:
            rows.append((row, found))
    # What is being typed of the test under way is read, and counts only once it is entered.
    _read_finding(form, table, "now", [one for _, one in rows])
    _ticks(form, table.at, form.entries.get("now.test", ""), "now")
    here = Standing("desk", "", standing.kit, standing.barred)
    for row, found in rows:
        test = table.column(found.test, found.put_in).test
        minutes += here.minutes(test)
        here = here.at(test)
        after = belief.updated(found)
        text = finding_text(table, found, system)
        ticks = _ticks(form, at, found.test, f"rows[{row}]")
        steps.append(Step(row, test.do, text, moved_text(belief, after), False, ticks))
        belief = after
    if form.entries.get("place", "") not in places():
        standing = replace(standing, place=here.place, rig=here.rig)
    again = doubtful(belief)
    steps = [replace(step, doubtful=found.test in again) for step, found in zip(steps, belief.found, strict=True)]
    school = form.choice("school", SCHOOLS)
    advice = advise_as(school, belief, standing)
    return CaseForm(form, at, table, standing, school, advice, tuple(steps), series, minutes)


def _read_kind(form: Form, at: Installation) -> Installation:
    technology = form.choice("technology", {key: one.name for key, one in technologies().items()}, at.technology)
    age = form.number("age", 0.0, 100.0, "years")
    form.stand_in("age", f"{at.age_years:.3g}")
    return replace(
        at,
        technology=technology,
        age_years=at.age_years if age is None else age,
        hazardous=form.flag("hazardous", at.hazardous),
        radio=form.flag("radio", at.radio),
        floats=form.flag("floats", at.floats),
    )


def _read_expected(form: Form, at: Installation) -> tuple[float, float] | None:
    level = form.quantity("expected", "length", 0.0, at.sound.top_m)
    half = form.quantity("expected.half", "length", 0.001, at.sound.top_m)
    form.stand_in("expected.half", show(0.05 * at.sound.top_m, "length", form.system))
    return None if level is None else (level, 0.05 * at.sound.top_m if half is None else half)


def _read_standing(form: Form, table: Table) -> Standing:
    kit = sorted({one for test in table.every_test for one in test.kit})
    lacks = {one for one in kit if form.flag(f"lacks.{one}")}
    barred = frozenset(key for key in gates() if form.flag(f"barred.{key}"))
    place = form.choice("place", {key: one.says for key, one in places().items()}, "desk")
    return Standing(place, "", frozenset(kit) - lacks if lacks else None, barred)


def _read_series(form: Form, at: Installation) -> Series | None:
    text = form.text("series", 60_000)
    every = form.number("series.every", 0.01, 86_400.0, "s")
    form.stand_in("series.every", "1")
    if not text:
        return None
    try:
        values = read_series(text)
    except InputError as error:
        form.blame("series", error.problems[0].what)
        return None
    station = reader_station(at)
    ends = [at.sound.at(level, exact=False)[station] for level in (0.0, at.sound.top_m)]
    if station == "counts" and at.sound.card is not None:
        ends = [0.0, at.sound.card.most]
    return judge_series(values, every or 1.0, min(ends), max(ends), abs(ends[1] - ends[0]) * 1e-3)


def _ticks(form: Form, at: Installation, key: str, path: str) -> tuple[GateTick, ...]:
    """The gates of a test, with when each was ticked."""
    test = test_between(f"{key}||") if key in DIALS else fault_tests().get(key)
    if test is None and "|" in key:
        test = test_between(key)
    if test is None:
        return ()
    gates_here = gates_of(test, at).items()
    return tuple(GateTick(gate, says, form.text(f"{path}.gate.{gate}", 40)) for gate, says in gates_here)


def _read_finding(form: Form, table: Table, path: str, before: Sequence[Finding]) -> Finding | None:
    options = {test.key: test.do for test in table.every_test} | DIALS
    key = form.choice(f"{path}.test", options)
    if not key:
        return None
    if key in DIALS:
        circuit = table.at.wired
        if circuit is None:
            form.blame(f"{path}.test", "no circuit is kept of this tank: keep it at Wiring first")
            return None
        named = {point: circuit.name(point) for point in circuit.points}
        red, black = (form.choice(f"{path}.{lead}", named) for lead in ("red", "black"))
        key = f"{key}|{red}|{black}"
        if not red or not black or red == black:
            form.text(f"{path}.value")
            return None
        test = table.column(key).test
    else:
        test = fault_tests()[key]
    if test.outcomes:
        outcome = form.choice(f"{path}.outcome", {one: one.replace("-", " ") for one in test.outcomes})
        return Finding(key, outcome=outcome) if outcome else None
    found = _read_number(form, table, test, f"{path}.value")
    if not test.injects:
        return found
    put_in, wrong = _read_put_in(form, table, test, f"{path}.put_in", before)
    return None if found is None or wrong else replace(found, put_in=put_in)


def _read_put_in(
    form: Form, table: Table, test: FaultTest, path: str, before: Sequence[Finding]
) -> tuple[float | None, bool]:
    """What was put in [A or V], and whether that cannot be told; as the test has it where nothing is typed."""
    typed, signal = str(form.entries.get(path, "")).strip(), table.at.sound.signal
    same = test.reads.get("inject") == "same"
    usual = given_by(table, before) if same else None
    if signal is None:
        return None, True
    if not typed:
        if not same:
            form.fields[path] = FormField(path, "empty")
            return None, False
        if usual is None:
            what = "say what was put in: before it nothing was read that the sensor gave"
            form.fields[path] = FormField(path, "wrong", "", problem=what)
        else:
            form.fields[path] = FormField(path, "empty")
        return usual, usual is None
    try:
        value = read_value(table.at.sound, "sent", typed, form.system)
        most = 1.2 * signal.fault_high
        if not 0 <= value <= most:
            raise InputError.at(
                path,
                f"no calibrator puts in so much here: 0 to {value_text(table.at.sound, 'sent', most, form.system)}",
            )
    except InputError as error:
        form.fields[path] = FormField(path, "wrong", typed, problem=error.problems[0].what)
        return None, True
    form.fields[path] = FormField(path, "read", typed, value_text(table.at.sound, "sent", value, form.system))
    return value, False


def _read_number(form: Form, table: Table, test: FaultTest, path: str) -> Finding | None:
    typed = str(form.entries.get(path, "")).strip()
    if not typed:
        form.fields[path] = FormField(path, "empty")
        return None
    word = typed.casefold()
    if word in NOTHING_SHOWN:
        form.fields[path] = FormField(path, "read", typed, "nothing is shown")
        return Finding(test.key, None)
    try:
        value = (
            OPEN_OHM if "ohms" in test.reads and word in OPEN_SHOWN else _value(table.at, test, typed, form.system)
        )
    except InputError as error:
        form.fields[path] = FormField(path, "wrong", typed, problem=error.problems[0].what)
        return None
    form.fields[path] = FormField(path, "read", typed, reading_text(table.at, test, value, form.system))
    return Finding(test.key, value)


def _value(at: Installation, test: FaultTest, typed: str, system: System) -> float:
    if "volts" in test.reads:
        return read_quantity(typed, "voltage", system)
    if "ohms" in test.reads:
        return read_quantity(typed, "resistance", system)
    return read_value(at.sound, station_of(at, test), typed, system)


def advise_as(school: str, belief: Belief, standing: Standing) -> Advice:
    """What to do next, one school's tests before the others as long as any is left that tells anything."""
    advice = advise(belief, standing)
    if not school:
        return advice
    own = [one for one in advice.choices if one.test.school == school and one.bits >= WORTH]
    if not own:
        return advice
    return replace(advice, choices=(own[0], *(one for one in advice.choices if one is not own[0])))
