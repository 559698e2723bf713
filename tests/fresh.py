"""Whether what is written from the code is as it would be written now: migrations, the API's schema, the tank file's.

One process does for all of them: to start is most of what each takes.
"""

from __future__ import annotations

import difflib
import json
import os
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]


def moved(file: Path, now: str) -> list[str]:
    """The lines in which a file differs from what would be written now."""
    was = file.read_text("utf-8")
    return list(
        difflib.unified_diff(was.splitlines(), now.splitlines(), str(file.relative_to(ROOT)), "now", lineterm="")
    )


def main() -> int:
    """Say what is not fresh; ends with 1 where something is not."""
    import django
    from django.core.management import call_command

    from rasante.core.tanks.schema import make_schema

    django.setup()
    # Ends by itself where a migration is missing.
    call_command("makemigrations", check_changes=True, dry_run=True)
    with tempfile.NamedTemporaryFile("r", encoding="utf-8") as written:
        call_command("spectacular", validate=True, fail_on_warn=True, file=written.name)
        found = moved(ROOT / "web" / "src" / "api" / "schema.yaml", written.read())
    found += moved(ROOT / "rasante" / "core" / "tanks" / "tank_file.schema.json", json.dumps(make_schema(), indent=2))
    print("\n".join(found or ["What is written from the code is fresh"]))
    return 1 if found else 0


if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "rasante.settings")
    sys.exit(main())
