"""Two people's edits of the same documents."""

from __future__ import annotations

import random

from .base import LEAD, TECHNICIAN, Person, checked, demo

#: A field of each kind of document, and how a change is written there so that it can be found again.
EDITED = {
    "survey": ("name", "{who}{number}"),
    "gauge": ("choice.reason", "{who}{number}"),
    "wiring": ("cable[0].name", "{who}{number}"),
    "chain": ("sensor.serial", "{who}{number}"),
    "wet-ends": ("fuel", "{who}{number}"),
    "marks": ("fill_rate", "{number}.5 L"),
    "slopes": ("readings[0].level", "{number} mm"),
    "proof": ("remarks", "{who}{number}"),
}


def edits(count: int = 200) -> str:
    """Two people's interleaved edits of every kind of document: kept in their turn or refused, none lost unseen."""
    with demo() as server:
        people = [Person(server, *LEAD), Person(server, *TECHNICIAN)]
        tank = people[0].ask("GET", "tanks/?search=Process water").json()["results"][0]["id"]
        made = people[0].ask("POST", f"tanks/{tank}/proofs/", {"system": "metric"})
        path = {kind: f"tanks/{tank}/{kind}/" for kind in EDITED}
        path |= {"survey": f"tanks/{tank}/", "proof": f"proofs/{made.json()['id']}/"}
        revision = {kind: "kept" if kind == "proof" else "revision" for kind in EDITED}
        known = [{kind: one.ask("GET", path[kind]).json() for kind in EDITED} for one in people]
        kept: dict[str, list[tuple[int, str]]] = {kind: [] for kind in EDITED}
        refused = 0
        for number in range(count):
            kind, who = random.choice(list(EDITED)), random.randrange(2)
            now, (field, text) = known[who][kind], EDITED[kind]
            mark = text.format(who="AB"[who], number=number + 1)
            entries = {**now["entries"], field: mark}
            if kind == "slopes":
                entries["readings[0].signal"] = "10 mA"
            body = {"entries": entries, "system": "metric", revision[kind]: now[revision[kind]]}
            if kind == "survey":
                body |= {"ports": now["ports"], "notes": now["notes"]}
            answer = people[who].ask("PUT", path[kind], body)
            if answer.status_code == 200:
                kept[kind].append((answer.json()[revision[kind]], mark))
                known[who][kind] = answer.json()
            else:
                assert answer.status_code == 409, f"{kind}: {answer.status_code} {answer.text[:300]}"
                refused += 1
                known[who][kind] = people[who].ask("GET", path[kind]).json()
        for kind, changes in kept.items():
            numbers = [at for at, _ in changes]
            assert numbers == sorted(set(numbers)), f"{kind}: two were kept as one revision"
            last = people[0].ask("GET", path[kind]).json()
            assert changes and last[revision[kind]] == numbers[-1], f"{kind}: {last[revision[kind]]}, {numbers[-3:]}"
            assert last["entries"][EDITED[kind][0]] == changes[-1][1], f"{kind}: {last['entries']}"
        found = "".join(
            people[0].ask("GET", f"tanks/{tank}/history/?page={page}").text for page in range(1, 2 + count // 20)
        )
        # A draft's readings have no history: its revisions and its last words were looked at above.
        lost = [mark for kind in kept if kind != "proof" for _, mark in kept[kind] if f'"{mark}"' not in found]
        assert not lost, f"not in the history: {lost}"
        checked(server)
    total = sum(len(one) for one in kept.values())
    kinds = ", ".join(EDITED)
    return f"{count} edits of {kinds} by two people: {total} kept in their turn, {refused} refused as conflicts"
