"""What the stations compute for a step of a visit: their own answers, each with its working."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cached_property

from ..core.gauges.plan import GaugePlan
from ..core.procedures.compose import kit_of
from ..core.procedures.step import Step
from ..core.quantities.errors import InputError
from ..core.quantities.judgement import Judgement, by_weight, good, stop, watch
from ..core.quantities.typed import read_number, read_quantity
from ..core.quantities.units import System
from ..core.quantities.words import Words
from ..core.readings.channels import UNIT_NAMES
from ..core.readings.condition import CONDITIONS
from ..core.scaling.chain import STATIONS, Chain
from ..core.scaling.line import find_line, read_line
from ..core.scaling.marks import Mark, mark_words
from ..core.scaling.read_out import read_out
from ..core.wiring.loop_budget import loop_budget
from ..devices.rescales import open_rescaling
from ..gauges.services import gauge_of, read_gauge
from ..readings.models import Channel
from ..readings.watching import channel_now, now_of
from ..register.services import missing_facts
from ..scaling.chains import kept_chain, newest_table
from ..scaling.marking import marks_of
from ..tanks.models import Tank
from ..wiring.received import read_received
from ..wiring.services import judge_wiring, read_tank_wiring, wiring_of
from .course import Course


@dataclass(frozen=True)
class Line:
    """One figure that a step shows.

    Parameters
    ----------
    label, text : str
        Its name and its value, in the visit's units.
    formula, inputs, source : str, tuple of (str, str), str
        Its working: how it comes about, from what, and where a rule or constant is from.
    take : str
        The start of the name of the visit's field that it may be taken into; empty for none.
    """

    label: str
    text: str
    formula: str = ""
    inputs: tuple[tuple[str, str], ...] = ()
    source: str = ""
    take: str = ""


@dataclass
class Shown:
    """What a step shows.

    Parameters
    ----------
    lines : list of Line
        Figures.
    judgements : list of Judgement
        What is to be minded, the heaviest first; a stop holds the step up.
    station : str
        Where on the tank's page it is worked out; empty for nowhere.
    """

    lines: list[Line] = field(default_factory=list)
    judgements: list[Judgement] = field(default_factory=list)
    station: str = ""


@dataclass(frozen=True)
class Context:
    """What a step's answers are computed from: the visit as it stands, with what is being typed."""

    course: Course
    values: Mapping[str, str]
    system: System

    @property
    def tank(self) -> Tank:
        """The visit's tank."""
        return self.course.visit.tank

    @property
    def words(self) -> Words:
        """The visit's units."""
        return Words(self.system)

    @cached_property
    def chain(self) -> Chain | None:
        """The chain kept of the tank, or None."""
        return kept_chain(self.tank, self.system)

    def value(self, path: str) -> str:
        """What is typed in a field of the visit now, or was."""
        return self.values.get(f"visit:{path}", "") or self.course.value(path)

    def quantity(self, path: str, quantity: str) -> float | None:
        """The same, read; None where nothing is or it cannot be."""
        try:
            return read_quantity(self.value(path), quantity, self.system, path) if self.value(path) else None
        except InputError:
            return None

    def per_cent(self, path: str) -> float | None:
        """The same as a share [1]."""
        try:
            return read_number(self.value(path).strip().removesuffix("%")) / 100 if self.value(path).strip() else None
        except InputError:
            return None


def _asset(c: Context) -> Shown:
    tank, lacking = c.tank, missing_facts(c.tank)
    lines = [
        Line("Site", tank.site.name),
        Line("Tank", tank.name),
        Line("Product", tank.product or "not noted"),
        Line("Holds", c.words.worth(tank.file.tank.capacity)),
    ]
    found = [watch("fact-lacking", "Still to note: {what}.", what=one) for one in lacking]
    return Shown(lines, found or [good("facts", "All that is required is noted.")], "survey")


def _kit(c: Context) -> Shown:
    wiring = wiring_of(c.tank)
    extra: list[str] = []
    if gauge_of(c.tank) is not None:
        form = read_tank_wiring(c.tank, wiring.entries if wiring is not None else {}, c.system)
        extra = read_received(c.tank, form, {}, c.system).kit
    return Shown([Line(name, f"× {count}") for name, count in kit_of(c.course.procedure, extra)], [], "wiring")


def _received(c: Context) -> Shown:
    wiring = wiring_of(c.tank)
    entries = wiring.entries if wiring is not None else {}
    got = {"got.range": c.value("got_range"), "got.cable": c.value("got_cable")}
    typed = {**entries, **{path: text for path, text in got.items() if text}}
    checks = read_received(c.tank, read_tank_wiring(c.tank, entries, c.system), typed, c.system).checks
    if not checks:
        text = "No gauge is planned: choose it at Gauge, and this list says what to look for."
        return Shown([], [watch("no-order", text)], "gauge")
    lines = [Line(one.label, c.words.say(one.ordered)) for one in checks]
    # A check that does not agree says in words of its own what to do.
    found = [stop(f"got-{one.key}", one.says.sentence, **one.says.numbers) for one in checks if one.agrees is False]
    return Shown(lines, found, "wiring")


def _now(c: Context) -> Shown:
    now = now_of(c.tank)
    if now is None:
        return Shown([], [watch("no-reading", "Nothing sends of this tank: read the screen.")], "watch")
    lines = [Line("Reads now", CONDITIONS[now.condition.key])]
    if now.level is not None:
        lines.append(Line("Level", c.words.length(now.level)))
    if now.volume is not None:
        lines.append(Line("Volume", c.words.worth(now.volume, now.volume_u95)))
    return Shown(lines, [], "watch")


def _at(c: Context, innage: float, why: str, source: tuple[str, str]) -> list[Line]:
    """What reads at a level, all along the chain."""
    reading = read_line(c.tank.file, c.chain, innage)
    table = newest_table(c.tank)
    by = f"table {table.number}" if table else f"survey, revision {c.tank.revision}"
    lines = [
        Line("Volume", c.words.worth(reading.volume_m3, reading.u95_m3), why, (source, ("By", by))),
        Line("Of its volume", f"{reading.volume_ratio:.1%}", "volume ÷ capacity", (source,)),
        Line("A linear gauge shows", f"{reading.linear_ratio:.1%}", "level ÷ inside height", (source,)),
    ]
    if c.chain is not None:
        lines += [
            Line(
                f"Should be {STATIONS[key]}",
                read_out(c.chain, key, value, c.system),
                "the kept chain, hop by hop",
                (source,),
            )
            for key, value in reading.stations.items()
            if key in ("sent", "counts", "shown", "read")
        ]
    return lines


#: How far a screen may be from a dip without a word, beside the chain's own: common practice, no published source.
_DIP_M = 0.010


def _should(c: Context) -> Shown:
    dip = c.quantity("dip", "length")
    if dip is None:
        return Shown([], [watch("no-dip", "No dip is noted yet: what it should read is told from it.")], "scale")
    try:
        innage = find_line(c.tank.file, None, "innage", f"{dip * 1000} mm", c.system)
    except InputError as error:
        return Shown([], [stop("dip", "{what}", what=error.problems[0].what)], "scale")
    shown = Shown(_at(c, innage, "volume at the dip", ("Dip", c.words.length(dip))), [], "scale")
    text = c.values.get("visit:shown") or c.values.get("visit:far") or c.values.get("visit:alone")
    if c.chain is None:
        shown.judgements.append(
            watch("no-chain", "No chain is kept: what the screen should show is not known. Set it at Scale.")
        )
    elif text and text.strip():
        shown.judgements.append(_judge_shown(c, c.chain, text, dip))
    return shown


def _judge_shown(c: Context, chain: Chain, text: str, dip: float) -> Judgement:
    """Hold what a screen shows, or a meter reads, against a dip: by the level that it stands for."""
    stations = [key for key in ("sent", "shown", "read") if key in chain.stations]
    order = stations if c.values.get("visit:alone") else stations[::-1]
    for station in order:
        try:
            level = find_line(c.tank.file, chain, station, text, c.system)
        except InputError:
            continue
        off = level - dip
        text_ = "It stands for {level:length}: {off:length} from the dip."
        judge = good if abs(off) <= _DIP_M else watch if abs(off) <= 5 * _DIP_M else stop
        return judge("against-dip", text_, value=abs(off), limit=_DIP_M, level=level, off=off)
    return watch(
        "not-read", "“{text}” cannot be read as anything along this chain: type it with its unit.", text=text[:24]
    )


def _linear(c: Context) -> Shown:
    dial, sensor = c.per_cent("float_pct"), c.per_cent("sensor_pct")
    if dial is None:
        return Shown([], [], "scale")
    tank = c.tank.file.tank
    try:
        innage = find_line(c.tank.file, None, "linear_pct", f"{dial * 100} %", c.system)
    except InputError as error:
        return Shown([], [stop("dial", "{what}", what=error.problems[0].what)], "scale")
    shown = Shown(_at(c, innage, "volume at dial % of the inside height", ("Dial", f"{dial:.0%}")), [], "scale")
    if sensor is not None:
        level = find_line(c.tank.file, None, "volume_pct", f"{sensor * 100} %", c.system)
        linear, off = level / tank.inside_height, level / tank.inside_height - dial
        source = (("Sensor", f"{sensor:.0%}"), ("Dial", f"{dial:.0%}"))
        shown.lines.append(
            Line(
                "The sensor's level, linear", f"{linear:.1%}", "level at the sensor's volume ÷ inside height", source
            )
        )
        # Float gauges are 5–10 % out: common practice, no published source.
        judge = good if abs(off) <= 0.05 else watch if abs(off) <= 0.10 else stop
        text = "By height the two are {off:.0%} apart; a float gauge may be 5–10 % out."
        shown.judgements.append(judge("against-float", text, value=abs(off), limit=0.05, off=abs(off)))
    return shown


def _plan(c: Context) -> GaugePlan:
    gauge = gauge_of(c.tank)
    typed = {to.partition(":")[2]: text for to, text in c.values.items() if to.startswith("gauge:")}
    entries = {
        **(gauge.entries if gauge is not None else {}),
        **{path: text for path, text in typed.items() if text.strip()},
    }
    return read_gauge(c.tank, entries, c.system)


def _spot(c: Context) -> Shown:
    plan = _plan(c)
    if plan.model is None:
        return Shown(
            [], [watch("no-gauge", "No gauge is planned: choose it at Gauge, and its spot is judged.")], "gauge"
        )
    return Shown([Line("Gauge", plan.model.name)], plan.at_the_spot, "gauge")


def _cut(c: Context) -> Shown:
    plan, w = _plan(c), c.words
    if plan.probe is not None:
        probe = plan.probe
        depth, gap = (
            ("Depth at the very spot", w.length(probe.depth_m)),
            ("Gap, by its school", w.length(probe.gap_m)),
        )
        lines = [
            Line(
                "Cut to", w.length(probe.cut_m), "depth − gap", (depth, gap), f"{probe.school.label}: common practice"
            )
        ]
        if len(probe.pieces_m) > 1:
            lines.append(Line("From pieces", " + ".join(w.length(piece) for piece in probe.pieces_m)))
        if probe.wet_m3 is not None:
            lines.append(
                Line(
                    "Fuel for its wet end",
                    w.worth(probe.wet_m3),
                    "what stands in its tube",
                    (("Length", w.length(probe.cut_m)),),
                )
            )
        return Shown(lines, list(probe.judgements), "gauge")
    if plan.cable is not None:
        cable = plan.cable
        inputs = (
            ("Down", w.length(cable.down_m)),
            ("Run", w.length(cable.run_m)),
            ("Drip loop", w.length(cable.loop_m)),
        )
        lines = [Line("Cable needed", w.length(cable.need_m), "down + run + drip loop", inputs)]
        if cable.stock_m is not None:
            lines.append(Line("Take", w.fill("{value:run}", {"value": cable.stock_m}), "the next stock length up"))
        lines.append(Line("Measures", w.fill("{value:length} of water", {"value": cable.range_m})))
        return Shown(lines, list(cable.judgements), "gauge")
    return Shown([], [watch("no-cut", "No gauge that is cut to length is planned: choose it at Gauge.")], "gauge")


def _rods(c: Context) -> Shown:
    rods = _plan(c).rods
    if rods is None:
        return Shown([], [watch("no-rods", "No rods are planned: choose them at Gauge.")], "gauge")
    w = c.words
    lines = [
        Line(rod.name, w.length(rod.length_m), "face − tip", (("Tip at", w.length(rod.tip_m)),)) for rod in rods.rods
    ]
    return Shown(
        [*lines, Line("Spacer above the lowest tip", w.length(rods.spacer_m))], list(rods.judgements), "gauge"
    )


def _wiring(c: Context) -> Shown:
    wiring = wiring_of(c.tank)
    if wiring is None:
        return Shown([], [watch("no-wiring", "No wiring is kept: draw it at Wiring.")], "wiring")
    form = read_tank_wiring(c.tank, wiring.entries, c.system)
    budget = loop_budget(form.circuit, form.hottest_c)
    lines, found = [], judge_wiring(c.tank, form)
    if budget is not None:
        at = budget.at[-1]
        lines.append(
            Line(
                "Margin at the sensor",
                f"{at.margin_v:.1f} V",
                "supply − I·R − lift-off, at its highest current",
                (),
                "IEC 60028 for copper",
            )
        )
        found = [*found, *budget.judgements]
    return Shown(lines, by_weight(found), "wiring")


def _chain(c: Context) -> Shown:
    if c.chain is None:
        return Shown([], [watch("no-chain", "No chain is kept of this tank: set both ends at Scale.")], "scale")
    lines = []
    for share, name in ((0.0, "Empty"), (0.5, "Half"), (1.0, "Full")):
        reading = read_line(c.tank.file, c.chain, share * c.tank.file.tank.inside_height)
        said = [
            read_out(c.chain, key, reading.stations[key], c.system)
            for key in ("sent", "shown")
            if key in reading.stations
        ]
        lines.append(
            Line(f"{name}, {c.words.length(reading.innage_m)}", " → ".join(said), "the kept chain, hop by hop")
        )
    return Shown(lines, [], "scale")


def _rescale(c: Context) -> Shown:
    rescaling = open_rescaling(c.tank)
    if rescaling is None:
        return Shown(
            [], [watch("no-rescale", "No change of a part is open: begin it at Scale, Change a part.")], "scale"
        )
    left = [task for task in rescaling.document["tasks"] if not task["done"]]
    found = [
        watch(
            "task-left",
            "{count} of {all} places still know the old range.",
            count=len(left),
            all=len(rescaling.document["tasks"]),
        )
    ]
    return Shown([], found if left else [good("rescaled", "Every place is changed: close it.")], "scale")


def _marks(c: Context) -> Shown:
    marks = marks_of(c.tank)
    if marks is None:
        return Shown([], [stop("no-marks", "No marks are kept of this tank: set them at Scale, Marks.")], "scale")
    kept = [Mark(**one) for one in marks.document["marks"]]
    lines = [Line(one.label, mark_words(one, c.words)) for one in kept]
    found = (
        [stop("marks", "{words}", words=marks.summary)] if marks.pressing else [good("marks-kept", "Marks are kept.")]
    )
    return Shown(lines, found, "scale")


def _table(c: Context) -> Shown:
    table = newest_table(c.tank)
    if table is None:
        return Shown([], [stop("no-table", "No table is issued of this tank: issue it at Table.")], "table")
    lines = [Line("Table", f"{table.number}, capacity {c.words.worth(table.capacity_l / 1000)}")]
    if table.document != c.tank.document:
        return Shown(lines, [stop("old-table", "The tank was surveyed again since: issue its table anew.")], "table")
    return Shown(lines, [good("table-issued", "It is of today's survey.")], "table")


def _proof(c: Context) -> Shown:
    proof = c.tank.proofs.filter(made_at__gte=c.course.visit.opened_at).first()
    if proof is None:
        return Shown([], [watch("no-proof", "No proof is begun at this visit: begin it at Prove.")], "prove")
    if proof.state != "signed":
        return Shown(
            [Line("Proof", "a draft")],
            [watch("draft", "The proof is a draft: read on, and sign it at Prove.")],
            "prove",
        )
    verdict = (proof.record or {})["result"]["verdict"]
    judge = good if verdict == "pass" else stop
    return Shown(
        [Line("Proof", str(proof.pk))], [judge("proof", "The signed proof: {verdict}.", verdict=verdict)], "prove"
    )


def _courses(c: Context) -> Shown:
    course = c.quantity("course", "length")
    try:
        count = read_number(c.value("courses")) if c.value("courses").strip() else None
    except InputError:
        count = None
    if course is None or count is None:
        return Shown([], [], "survey")
    inputs = (("Courses", f"{count:g}"), ("One course", c.words.length(course)))
    height, inside = count * course, c.tank.file.tank.inside_height
    lines = [Line("Height to the overflow", c.words.length(height), "courses × one course", inputs)]
    off = height - inside
    judge = good if abs(off) <= 0.02 * inside else watch
    text = "The survey says {inside:length}: {off:length} apart."
    return Shown(
        lines, [judge("courses", text, value=abs(off), limit=0.02 * inside, inside=inside, off=off)], "survey"
    )


#: What twice the depth may be off by: common practice, no published source.
_DOUBLE = 0.05


def _bench(c: Context) -> Shown:
    zero, one, two = (c.quantity(path, "voltage") for path in ("bench_zero", "bench_one", "bench_two"))
    if zero is None or one is None or two is None:
        return Shown()
    if abs(one - zero) < 1e-6:
        return Shown([], [stop("bench-dead", "It reads the same wet and dry: nothing is measured.")])
    ratio = (two - zero) / (one - zero)
    inputs = (("Dry", f"{zero:.3f} V"), ("First depth", f"{one:.3f} V"), ("Twice that", f"{two:.3f} V"))
    judge = good if abs(ratio - 2) <= 2 * _DOUBLE else stop
    text = "Twice the depth gives {ratio} times the reading above zero; 2 is right."
    lines = [Line("Twice the depth gives", f"× {ratio:.2f}", "(twice − dry) ÷ (first − dry)", inputs)]
    return Shown(lines, [judge("bench", text, value=ratio, limit=2.0, ratio=f"{ratio:.2f}")])


def _device(c: Context) -> Shown:
    """What the unit itself says: its largest tilt, quality, battery, temperature; live values can be taken."""
    kinds = ("tilt", "quality", "battery", "temperature")
    channels = Channel.objects.filter(tank=c.tank, on=True, kind__in=kinds).select_related("source")
    found: dict[str, list[tuple[float, Channel]]] = {}
    for channel in channels:
        now = channel_now(channel)
        if now is not None and now.raw is not None:
            found.setdefault(channel.kind, []).append((now.raw, channel))
    lines = []
    for kind in kinds:
        if kind not in found:
            continue
        raw, channel = max(found[kind], key=lambda one: abs(one[0]))
        label = "Largest tilt" if kind == "tilt" else kind.capitalize()
        take = kind if kind in ("tilt", "quality") else ""
        source = f"{channel.source.name}, {channel.name}"
        lines.append(Line(label, f"{raw:.3g} {UNIT_NAMES[channel.unit]}".strip(), source=source, take=take))
    return Shown(lines, [], "watch")


def _office(c: Context) -> Shown:
    return Shown([Line("Read out", text) for text in office_lines(c)], [], "")


def office_lines(c: Context) -> list[str]:
    """What is read to the office over the telephone: dimensions, product, depth and time at activation."""
    tank, w, dip = c.tank, c.words, c.quantity("dip", "length")
    shape = tank.file.tank
    found = [
        f"{tank.site.name}, {tank.name}.",
        f"Product {tank.product or 'not noted'}, capacity {w.worth(shape.capacity)}.",
        f"Inside height {w.length(shape.inside_height)}, reference height {w.length(shape.reference_height_m)}.",
    ]
    serial, address = c.value("serial"), c.value("address")
    if serial:
        found.append(f"Serial {serial}{', address ' + address if address else ''}.")
    if dip is not None:
        taken = c.course.steps.get("dip")
        at = f" at {taken.at:%H:%M} UTC" if taken is not None and taken.at is not None else ""
        reading = read_line(tank.file, None, min(dip, shape.inside_height))
        found.append(f"Depth {w.length(dip)}{at}, {w.worth(reading.volume_m3, reading.u95_m3)}.")
    elif c.value("float_pct"):
        found.append(f"Dial {c.value('float_pct')} by height.")
    return found


#: By what a step says it shows.
SHOWN: dict[str, Callable[[Context], Shown]] = {
    "asset": _asset,
    "kit": _kit,
    "received": _received,
    "now": _now,
    "should": _should,
    "linear": _linear,
    "spot": _spot,
    "cut": _cut,
    "rods": _rods,
    "wiring": _wiring,
    "chain": _chain,
    "rescale": _rescale,
    "marks": _marks,
    "table": _table,
    "proof": _proof,
    "office": _office,
    "courses": _courses,
    "bench": _bench,
    "device": _device,
}


def show_step(course: Course, step: Step, values: Mapping[str, str], system: System) -> Shown:
    """Compute what a step shows, with what is being typed at it."""
    context, shown = Context(course, values, system), Shown()
    for key in step.shows:
        found = SHOWN[key](context)
        shown.lines += found.lines
        shown.judgements += found.judgements
        shown.station = shown.station or found.station
    shown.judgements = by_weight(shown.judgements)
    return shown
