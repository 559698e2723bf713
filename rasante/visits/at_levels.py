"""What a step shows of a level: what should read there, by the tape, the dial, the screen, the unit itself."""

from __future__ import annotations

from ..core.procedures.checks import depth_ratio, judge_against_dial, judge_against_dip, judge_courses, judge_doubling
from ..core.quantities.errors import InputError
from ..core.quantities.judgement import Judgement, stop, watch
from ..core.readings.channels import UNIT_NAMES
from ..core.readings.condition import CONDITIONS
from ..core.scaling.chain import STATIONS, Chain
from ..core.scaling.line import find_line, read_line
from ..core.scaling.read_out import read_out
from ..readings.models import Channel
from ..readings.watching import channel_now, now_of
from ..scaling.chains import newest_table
from .shown import Context, Line, Shown

_BY_CHAIN = "the kept chain, hop by hop"


def now(c: Context) -> Shown:
    """What the tank's leading channel says now."""
    found = now_of(c.tank)
    if found is None:
        return Shown([], [watch("no-reading", "Nothing sends of this tank: read the screen.")], "watch")
    source = f"{found.channel.source.name}, {found.channel.name}"
    lines = [Line("Reads now", CONDITIONS[found.condition.key], source=source)]
    if found.level is not None:
        lines.append(Line("Level", c.words.length(found.level), source=source))
    if found.volume is not None:
        lines.append(Line("Volume", c.words.worth(found.volume, found.volume_u95), source=source))
    return Shown(lines, [], "watch")


def _by(c: Context) -> str:
    """By what volumes are read: the newest table where it is of today's survey."""
    table = newest_table(c.tank)
    alike = table is not None and table.document == c.tank.document
    return f"table {table.number}" if table is not None and alike else f"survey, revision {c.tank.revision}"


def _at(c: Context, innage: float, why: str, source: tuple[str, str]) -> list[Line]:
    """What reads at a level, all along the chain."""
    reading = read_line(c.tank.file, c.chain, innage)
    lines = [
        Line("Volume", c.words.worth(reading.volume_m3, reading.u95_m3), why, (source, ("By", _by(c)))),
        Line("Of its volume", f"{reading.volume_ratio:.1%}", "volume ÷ capacity", (source,)),
        Line("A linear gauge shows", f"{reading.linear_ratio:.1%}", "level ÷ inside height", (source,)),
    ]
    if c.chain is not None:
        lines += [
            Line(f"Should be {STATIONS[key]}", read_out(c.chain, key, value, c.system), _BY_CHAIN, (source,))
            for key, value in reading.stations.items()
            if key in ("sent", "counts", "shown", "read")
        ]
    return lines


def should(c: Context) -> Shown:
    """What everything should say at the dip, and what is typed against it."""
    dip = c.quantity("dip", "length")
    if dip is None:
        return Shown([], [watch("no-dip", "No dip is noted yet: what it should read is told from it.")], "scale")
    try:
        innage = find_line(c.tank.file, None, "innage", f"{dip * 1000} mm", c.system)
    except InputError as error:
        return Shown([], [stop("dip", "{what}", what=error.problems[0].what)], "scale")
    shown = Shown(_at(c, innage, "volume at the dip", ("Dip", c.words.length(dip))), [], "scale")
    typed = next((c.values[to] for to in _SHOWN_AT if c.values.get(to, "").strip()), "")
    if c.chain is None:
        text = "No chain is kept: what the screen should show is not known. Set it at Scale."
        shown.judgements.append(watch("no-chain", text))
    elif typed:
        shown.judgements.append(_judge_shown(c, c.chain, typed, dip))
    return shown


#: The fields in which a reading is typed that is held against the dip.
_SHOWN_AT = ("visit:shown", "visit:far", "visit:alone")


def _judge_shown(c: Context, chain: Chain, text: str, dip: float) -> Judgement:
    """Hold what a screen shows, or a meter reads, against a dip: by the level that it stands for."""
    order = ("sent", "shown", "read") if c.values.get("visit:alone") else ("read", "shown", "sent")
    for station in order:
        if station not in chain.stations:
            continue
        try:
            return judge_against_dip(find_line(c.tank.file, chain, station, text, c.system), dip)
        except InputError:
            continue
    said = "“{text}” stands for no level of this tank along its chain: type it with its unit, as it is shown."
    return watch("not-read", said, text=text[:24])


def linear(c: Context) -> Shown:
    """What a float's dial stands for, and a sensor against it by its linear reading."""
    dial, sensor = c.per_cent("float_pct"), c.per_cent("sensor_pct")
    if dial is None:
        return Shown([], [], "scale")
    tank = c.tank.file.tank
    try:
        innage = find_line(c.tank.file, None, "linear_pct", f"{dial * 100} %", c.system)
        shown = Shown(_at(c, innage, "volume at dial % of the inside height", ("Dial", f"{dial:.0%}")), [], "scale")
        if sensor is None:
            return shown
        height = find_line(c.tank.file, None, "volume_pct", f"{sensor * 100} %", c.system) / tank.inside_height
    except InputError as error:
        return Shown([], [stop("per-cent", "{what}", what=error.problems[0].what)], "scale")
    source = (("Sensor", f"{sensor:.0%}"), ("Dial", f"{dial:.0%}"))
    why = "level at the sensor's volume ÷ inside height"
    shown.lines.append(Line("The sensor's level, linear", f"{height:.1%}", why, source))
    shown.judgements.append(judge_against_dial(height, dial))
    return shown


def courses(c: Context) -> Shown:
    """The height to the overflow, by counting shell courses."""
    course, count = c.quantity("course", "length"), c.number("courses")
    if course is None or count is None:
        return Shown([], [], "survey")
    inputs = (("Courses", f"{count:g}"), ("One course", c.words.length(course)))
    height = count * course
    lines = [Line("Height to the overflow", c.words.length(height), "courses × one course", inputs)]
    return Shown(lines, [judge_courses(height, c.tank.file.tank.inside_height)], "survey")


def bench(c: Context) -> Shown:
    """A bench test of two depths."""
    dry, first, twice = (c.quantity(path, "voltage") for path in ("bench_zero", "bench_one", "bench_two"))
    if dry is None or first is None or twice is None:
        return Shown()
    ratio = depth_ratio(dry, first, twice)
    inputs = (("Dry", f"{dry:.3f} V"), ("First depth", f"{first:.3f} V"), ("Twice that", f"{twice:.3f} V"))
    why = "(twice − dry) ÷ (first − dry)"
    lines = [] if ratio is None else [Line("Twice the depth gives", f"× {ratio:.2f}", why, inputs)]
    return Shown(lines, [judge_doubling(ratio)])


def device(c: Context) -> Shown:
    """What the unit itself says: its largest tilt, quality, battery, temperature; live values can be taken."""
    kinds = ("tilt", "quality", "battery", "temperature")
    channels = Channel.objects.filter(tank=c.tank, on=True, kind__in=kinds).select_related("source")
    found: dict[str, list[tuple[float, Channel]]] = {}
    for channel in channels:
        state = channel_now(channel)
        if state is not None and state.raw is not None:
            found.setdefault(channel.kind, []).append((state.raw, channel))
    lines = []
    for kind in (kind for kind in kinds if kind in found):
        raw, channel = max(found[kind], key=lambda one: abs(one[0]))
        label = "Largest tilt" if kind == "tilt" else kind.capitalize()
        take = kind if kind in ("tilt", "quality") else ""
        source = f"{channel.source.name}, {channel.name}"
        lines.append(Line(label, f"{raw:.3g} {UNIT_NAMES[channel.unit]}".strip(), source=source, take=take))
    return Shown(lines, [], "watch")
