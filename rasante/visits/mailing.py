"""A record sent by e-mail, and what was sent where the mail goes into files."""

from __future__ import annotations

from email import message_from_bytes, policy
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.mail import EmailMessage

from ..core.quantities.errors import InputError
from .models import VisitRecord
from .sheets import visit_pdf

MOST_SHOWN = 50


def send_record(record: VisitRecord, to: str, note: str) -> None:
    """Send the record of a visit as a PDF.

    Raises
    ------
    InputError
        If the mail server does not take it.
    """
    said = record.document
    name = said["tank"].get("name", "")
    lines = [note.strip(), *said["office"], "The record is attached. It is only read by people: do not answer it."]
    message = EmailMessage(f"{name}: record of visit {said['number']}", "\n\n".join(filter(None, lines)), to=[to])
    message.attach(f"{name} visit {said['number']}.pdf", visit_pdf(record), "application/pdf")
    try:
        message.send()
    except OSError as error:
        raise InputError.at("to", f"the mail server did not take it: {error}") from None


def sent() -> list[dict[str, Any]]:
    """Return what was written into files instead of being sent, the newest first; empty where mail is sent."""
    folder = Path(getattr(settings, "EMAIL_FILE_PATH", None) or "/nonexistent")
    if "filebased" not in settings.EMAIL_BACKEND or not folder.is_dir():
        return []
    found = []
    for path in sorted(folder.glob("*.log"), key=lambda one: one.stat().st_mtime, reverse=True)[:MOST_SHOWN]:
        content = path.read_bytes().rsplit(b"\n" + b"-" * 79, 1)[0]
        message = message_from_bytes(content, policy=policy.default)
        body = message.get_body(("plain",))
        found.append(
            {
                "to": str(message["To"]),
                "subject": str(message["Subject"]),
                "date": str(message["Date"]),
                "text": body.get_content() if body is not None else "",
                "attached": [part.get_filename() or "" for part in message.iter_attachments()],
            }
        )
    return found
