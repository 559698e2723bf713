"""The yard's own page: plain HTML, for a person to play the outside world."""

from __future__ import annotations

import html
import math
import time
import urllib.parse
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

from ..core.quantities.errors import InputError
from .unit import Unit
from .world import EDITS, World

_POLICY = "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'"
_STYLE = """
body { font: 16px/1.4 system-ui, sans-serif; margin: 1rem auto; max-width: 70rem; padding: 0 1rem; color: #222; }
h1 { font-size: 1.4rem; } h2 { font-size: 1.1rem; margin: 1.4rem 0 .3rem; }
table { border-collapse: collapse; width: 100%; } th, td { text-align: left; padding: .3rem .6rem .3rem 0; }
td, th { border-bottom: 1px solid #ccc; } form { display: inline; } button, input, select { font: inherit; }
.told { background: #eee; padding: .4rem .7rem; }
"""


def _button(action: str, words: str, **fields: str) -> str:
    hidden = "".join(
        f'<input type="hidden" name="{html.escape(key)}" value="{html.escape(value)}">'
        for key, value in fields.items()
    )
    return f'<form method="post" action="/{action}">{hidden}<button>{html.escape(words)}</button></form> '


class Yard:
    """What the page shows and does."""

    def __init__(self, world: World, units: dict[str, Unit]) -> None:
        self.world, self.units = world, units

    def do(self, action: str, form: dict[str, str]) -> str:
        """Do what a button asks for; returns what to say.

        Raises
        ------
        InputError, KeyError, ValueError
            If it cannot be done.
        """
        world = self.world
        if action == "hand":
            world.hand(form["name"], {"open": True, "shut": False, "self": None}[form["to"]])
            return f"{form['name']}: {form['to']}"
        if action == "put":
            world.put(form["tank"], float(form["litres"].replace(",", ".")) / 1000)
            return f"{form['tank']} holds {form['litres']} L now"
        if action == "dip":
            return f"The dip of {form['tank']} reads {world.level(form['tank']) * 1000:.0f} mm"
        if action == "speed":
            speed = float(form["times"])
            if not 0.1 <= speed <= 3600:
                raise ValueError("0.1 to 3600 times")
            world.run_at(speed)
            return f"The clock runs {speed:g} times as fast"
        if action == "edit":
            made = EDITS[form["kind"]](form["a"].strip(), form.get("b", "").strip(), form.get("c", "").strip())
            world.edit(form["tank"], (*world.edits.get(form["tank"], ()), made))
            return f"{form['tank']}: {made}"
        if action == "mend":
            world.edit(form["tank"], ())
            return f"{form['tank']} is as it should be"
        if action == "press":
            self.units[form["unit"]].press()
            return f"{form['unit']}: button pressed"
        if action == "move":
            sensor = self.units[form["unit"]].sensor
            moved = [float(form[key]) for key in ("x", "y", "slide")]
            if not all(math.isfinite(one) and abs(one) <= 2000 for one in moved):
                raise ValueError("degrees and millimetres")
            sensor.tilt_x, sensor.tilt_y, sensor.slide_mm = moved
            return f"{form['unit']}: tilt {moved[0]:g}°, {moved[1]:g}°, slid {moved[2]:g} mm"
        raise KeyError(action)

    def page(self, told: str) -> str:
        """Write the page."""
        world = self.world
        here = world.go_on()
        clock = time.strftime("%A %d %B, %H:%M:%S UTC", time.gmtime(here))
        parts = [
            f"<h1>The yard</h1><p>{clock}, clock × {world.speed:g} ",
            *(_button("speed", f"× {times}", times=str(times)) for times in (1, 10, 60, 600)),
            '<a href="/">look again</a></p>',
            f'<p class="told" role="status">{html.escape(told)}</p>' if told else "",
            "<h2>Tanks</h2><table><tr><th>Tank</th><th>Truly in it</th><th></th><th>Wrong with its gauge</th></tr>",
            *(self._tank_row(vessel.name) for vessel in world.plant.vessels),
            "</table><h2>Valves and pumps</h2><table>",
            *(self._flow_row(one.name, one.rate) for one in (*world.plant.flows, *world.plant.pumps)),
            "</table>",
            *(self._unit_part(name, unit) for name, unit in self.units.items()),
            self._edit_part(),
        ]
        head = f'<!doctype html><html lang="en"><meta charset="utf-8"><title>The yard</title><style>{_STYLE}</style>'
        return head + "<body>" + "".join(parts) + "</body></html>"

    def _tank_row(self, name: str) -> str:
        volume, tank = self.world.volume(name), self.world.plant.vessel(name).tank
        wrong = "; ".join(html.escape(str(edit)) for edit in self.world.edits.get(name, ()))
        put = (
            f'<form method="post" action="/put"><input type="hidden" name="tank" value="{html.escape(name)}">'
            f'<input name="litres" size="8" aria-label="Litres in {html.escape(name)}">'
            "<button>fill to, L</button></form> "
        )
        mend = _button("mend", "mend", tank=name) if wrong else ""
        return (
            f"<tr><td>{html.escape(name)}</td><td>{volume * 1000:.0f} L, {volume / tank.capacity * 100:.1f} %</td>"
            f"<td>{_button('dip', 'dip', tank=name)}{put}</td><td>{wrong} {mend}</td></tr>"
        )

    def _flow_row(self, name: str, rate: float) -> str:
        running = self.world.running(name)
        by_hand = name in self.world.state.hands
        state = ("open" if running else "shut") + (", by hand" if by_hand else "")
        buttons = _button("hand", "open", name=name, to="open") + _button("hand", "shut", name=name, to="shut")
        itself = _button("hand", "leave it to itself", name=name, to="self") if by_hand else ""
        return (
            f"<tr><td>{html.escape(name)}</td><td>{rate * 60_000:.0f} L/min</td><td>{state}</td>"
            f"<td>{buttons}{itself}</td></tr>"
        )

    def _unit_part(self, name: str, unit: Unit) -> str:
        said = "<br>".join(html.escape(one) for one in unit.said)
        move = ""
        if unit.device.get("sonar"):
            sensor = unit.sensor
            fields = "".join(
                f'<label>{words} <input name="{key}" size="5" value="{value:g}"></label> '
                for key, words, value in (
                    ("x", "tilt along, °", sensor.tilt_x),
                    ("y", "tilt across, °", sensor.tilt_y),
                    ("slide", "slid, mm", sensor.slide_mm),
                )
            )
            move = (
                f'<form method="post" action="/move"><input type="hidden" name="unit" value="{html.escape(name)}">'
                f"{fields}<button>move it</button></form> echo quality {sensor.quality:.0f} %"
            )
        return (
            f"<h2>{html.escape(name)}</h2><p>{unit.state}, lamp {unit.lamp}; {len(unit.kept)} readings waiting "
            f"{_button('press', 'press its button', unit=name)}</p><p>{move}</p><p>{said}</p>"
        )

    def _edit_part(self) -> str:
        tanks = "".join(f"<option>{html.escape(name)}</option>" for name in self.world.yard.instruments)
        kinds = "".join(f"<option>{kind}</option>" for kind in EDITS)
        return (
            '<h2>Break something</h2><form method="post" action="/edit">'
            f'<select name="tank" aria-label="Tank">{tanks}</select> '
            f'<select name="kind" aria-label="What">{kinds}</select> '
            '<input name="a" aria-label="Station, setting, wire or terminal" placeholder="station, setting or wire"> '
            '<input name="b" size="10" aria-label="Value or other terminal" placeholder="value"> '
            '<input name="c" size="8" aria-label="Third" placeholder="high, ohm"> <button>put it in</button></form>'
        )


class _Server(ThreadingHTTPServer):
    yard: Yard
    daemon_threads = True


class _Handler(BaseHTTPRequestHandler):
    server: _Server
    told = ""

    def log_message(self, *args: Any) -> None:
        """Say nothing."""

    def do_GET(self) -> None:
        """Give the page."""
        asked = urllib.parse.urlsplit(self.path)
        if asked.path != "/":
            self._send(404, "There is nothing here.")
            return
        told = urllib.parse.parse_qs(asked.query).get("told", [""])[0]
        self._send(200, self.server.yard.page(told))

    def do_POST(self) -> None:
        """Do what a button asks for."""
        # Only its own page may do something here.
        origin = self.headers.get("Origin")
        if origin and urllib.parse.urlsplit(origin).netloc != self.headers.get("Host"):
            self._send(403, "Only from the yard's own page.")
            return
        length = min(int(self.headers.get("Content-Length") or 0), 10_000)
        form = dict(
            urllib.parse.parse_qsl(self.rfile.read(length).decode("utf-8", "replace"), keep_blank_values=True)
        )
        try:
            told = self.server.yard.do(urllib.parse.urlsplit(self.path).path.strip("/"), form)
        except (InputError, KeyError, ValueError) as error:
            told = f"That cannot be done: {error}"
        self.send_response(303)
        self.send_header("Location", "/?" + urllib.parse.urlencode({"told": told}))
        self.end_headers()

    def _send(self, status: int, body: str) -> None:
        content = body.encode()
        self.send_response(status)
        self.send_header("Content-Type", "text/html; charset=utf-8")
        self.send_header("Content-Length", str(len(content)))
        self.send_header(
            "Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'"
        )
        self.end_headers()
        self.wfile.write(content)


def make_server(world: World, units: dict[str, Unit], host: str, port: int) -> ThreadingHTTPServer:
    """Make the server of the page; it is not running yet."""
    server = _Server((host, port), _Handler)
    server.yard = Yard(world, units)
    return server
