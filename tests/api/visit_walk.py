"""Walks a visit to its end as a person would: every step in its order, every field with something true to type."""

from __future__ import annotations

import base64
import io
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4

from PIL import Image

from rasante.core.gauges.model import technologies
from rasante.core.procedures.step import procedure_data
from rasante.tanks.models import Tank

from .base import ApiTest

#: Something true for the fields of a visit that have limits, or that another step is held against.
TRUE = {
    "visit:dip": "1200 mm", "visit:supply": "24.1 V", "visit:lel": "0", "visit:tilt": "1.2", "visit:quality": "86",
    "visit:quality_after": "84", "visit:air_ma": "4.02 mA", "visit:float_pct": "52", "visit:sensor_pct": "52",
    "visit:courses": "6", "visit:course": "400 mm", "visit:bench_zero": "0.500 V", "visit:bench_depth": "300 mm",
    "visit:bench_one": "0.620 V", "visit:bench_two": "0.741 V",
    "gauge:cut.depth": "2350 mm", "gauge:cut.done": "2323 mm",
    "gauge:cable.run": "2 m", "gauge:cable.off_floor": "60 mm", "gauge:site.sediment": "10 mm",
    "gauge:site.riser": "100 mm",
    "survey:reference_height_mm": "2560 mm", "wet_ends:full[0].counts": "52100", "wet_ends:empty[0].counts": "11200",
}  # fmt: skip
BY_QUANTITY = {
    "text": "SK-77",
    "reading": "1200 mm",
    "number": "19660",
    "count": "6",
    "length": "300 mm",
    "percent": "50",
}


def picture(width: int = 60, height: int = 40, **kept: Any) -> bytes:
    """A small JPEG."""
    out = io.BytesIO()
    Image.new("RGB", (width, height), (11, 110, 122)).save(out, "JPEG", **kept)
    return out.getvalue()


def plain_facts(job: str, method: str, **facts: str) -> dict[str, str]:
    """Facts as chosen, those not named as plain as can be."""
    below = technologies()[method].mount == "below"
    chosen = {key: next(iter(row["options"])) for key, row in procedure_data()["facts"].items()}
    return chosen | {"job": job, "method": method, "port": "none" if below else "spare"} | facts


class VisitTest(ApiTest):
    """Opens visits and walks them."""

    def opened(self, tank: Tank, **facts: str) -> dict[str, Any]:
        """Open a visit and return it as answered."""
        answer = self.send("post", "visits/", {"tank": tank.pk, "facts": facts})
        self.assertEqual(answer.status_code, 201, answer.content[:600])
        return answer.json()

    def entered(self, visit: dict[str, Any], step: str, did: str = "done", **more: Any):
        """Enter something; the answer."""
        now = datetime.now(UTC)
        body = {"uid": str(uuid4()), "step": step, "did": did, "at": now.isoformat(), **more}
        body.setdefault("begun_at", (now - timedelta(minutes=2)).isoformat())
        return self.send("post", f"visits/{visit['id']}/entries/", body)

    def photographed(self, visit: dict[str, Any], step: str, content: bytes | None = None, **more: Any):
        """Add a photograph; the answer."""
        picture_ = base64.b64encode(content or picture()).decode()
        body = {"uid": str(uuid4()), "step": step, "picture": picture_, "at": datetime.now(UTC).isoformat(), **more}
        return self.send("post", f"visits/{visit['id']}/photos/", body)

    def values_of(self, step: dict[str, Any]) -> dict[str, str]:
        """Something true to type at a step."""
        found = {
            field["to"]: TRUE.get(field["to"], BY_QUANTITY.get(field["quantity"], "1"))
            for field in step["fields"]
            if not field["optional"]
        }
        return found | ({"visit:choice": step["options"][0]["key"]} if step["kind"] == "choose" else {})

    def walked(self, visit: dict[str, Any]) -> tuple[dict[str, Any], list[str]]:
        """Walk a visit up to its signature; return it, and the steps that only a lead's word got over."""
        overridden = []
        for step in visit["steps"]:
            if step["kind"] == "sign":
                continue
            if step["kind"] == "photo":
                self.assertEqual(self.photographed(visit, step["key"]).status_code, 201)
            if step["kind"] == "wait":
                self.assertEqual(self.entered(visit, step["key"], "begin").status_code, 200)
            values = self.values_of(step)
            answer = self.entered(visit, step["key"], values=values)
            if answer.status_code != 200:
                problems = self.refused(answer)
                self.assertIn("step", problems, (step["key"], problems))
                self.client.force_login(self.lead)
                answer = self.entered(visit, step["key"], "override", values=values, reason="Agreed by telephone")
                self.assertEqual(answer.status_code, 200, (step["key"], answer.content[:600]))
                self.client.force_login(self.technician)
                overridden.append(step["key"])
        return self.client.get(f"/api/visits/{visit['id']}/").json(), overridden

    def signs(self, visit: dict[str, Any], **changes: Any):
        """Sign a visit as it was answered."""
        seen = self.client.get(f"/api/visits/{visit['id']}/record/").json()["seen"]
        body = {"signature": "Tess Till", "password": "a-long-secret", "seen": seen}
        return self.send("post", f"visits/{visit['id']}/sign/", body | changes)
