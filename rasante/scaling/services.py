"""What can be done with transmitters and proofs."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from ..accounts.models import name_of
from ..core.errors import InputError
from ..core.gauges.model import check_model
from ..core.gauges.plan import judge_reports
from ..core.judgement import Judgement
from ..core.scaling.proof import Proof as CoreProof
from ..core.scaling.proof import judge_proof
from ..core.scaling.proof_csv import read_proof_csv
from ..core.scaling.proof_entries import blank_proof, check_entries
from ..core.scaling.transmitter import Transmitter as CoreTransmitter
from ..core.scaling.transmitter import judge_range, read_transmitter
from ..core.tanks.tank_file import check_document
from ..core.units import System, with_unit
from ..gauges.services import gauge_of
from ..http import Conflict
from ..tanks.models import Tank
from . import present
from .models import NEVER, Proof, Transmitter

NOT_SCALED = "this tank is not scaled yet: set its transmitter at Scale first"


def transmitter_of(tank: Tank) -> Transmitter | None:
    """Return a tank's transmitter, or None before it is scaled."""
    return Transmitter.objects.filter(tank=tank).first()


@transaction.atomic
def scale_tank(
    tank: Tank, entries: Mapping[str, str], system: System, serial: str, person: User, revision: int
) -> Transmitter:
    """Set a tank's transmitter.

    Parameters
    ----------
    tank, person
        The tank and who scales it.
    entries, system, serial
        The fields as typed, what a bare number means, and what tells the instrument from others.
    revision : int
        The revision that the change began from; 0 where there was none.

    Raises
    ------
    InputError
        At the fields that lack something.
    Conflict
        If someone else has scaled it meanwhile.
    """
    document = read_transmitter(entries, system)
    kept = {key: with_unit(entries.get(key, "") or "0", "length", system) for key in document}
    old = Transmitter.objects.filter(tank=tank).first()
    if (old.revision if old else 0) != revision:
        raise Conflict("someone else has scaled this tank meanwhile: look at the newer scale before you keep yours")
    transmitter = old or Transmitter(tank=tank, revision=0)
    changed = transmitter.document != document or transmitter.serial != serial
    transmitter.document, transmitter.entries, transmitter.serial = document, kept, serial
    transmitter.revision += 1 if changed else 0
    transmitter.changed_by = person
    transmitter.save()
    return transmitter


def judge_scale(tank: Tank, scaled: CoreTransmitter, system: System) -> list[Judgement]:
    """Judge how a scale fits a tank, and whether it takes what the tank's gauge sends."""
    found = judge_range(scaled, tank.file.tank, system)
    gauge = gauge_of(tank)
    if gauge is not None and gauge.document.get("model"):
        differs = judge_reports(check_model(gauge.document["model"]), scaled.reports)
        found += [differs] if differs else []
    order = {"stop": 0, "watch": 1, "good": 2}
    return sorted(found, key=lambda judgement: order[judgement.weight])


@transaction.atomic
def begin_proof(tank: Tank, system: System, person: User) -> Proof:
    """Begin a proof: 4, 8, 12, 16 and 20 mA against level, nothing read yet.

    Raises
    ------
    InputError
        If the tank is not scaled.
    """
    if transmitter_of(tank) is None:
        raise InputError.at("tank", NOT_SCALED)
    proof = Proof(tank=tank, system=system, entries=blank_proof(), made_by=person)
    proof.save()
    return proof


def result_of(proof: Proof) -> CoreProof:
    """Judge a draft as it stands."""
    transmitter = transmitter_of(proof.tank)
    if transmitter is None:
        raise InputError.at("tank", NOT_SCALED)
    return judge_proof(proof.entries, proof.tank.file.tank, transmitter.scaled, proof.system)


def _draft(proof: Proof, kept: int) -> Proof:
    proof = Proof.objects.select_related("tank__site").get(pk=proof.pk)
    if proof.state == Proof.SIGNED:
        raise Conflict(NEVER)
    if proof.kept != kept:
        raise Conflict("this proof was changed on another device meanwhile: load it again to go on from there")
    return proof


@transaction.atomic
def keep_draft(proof: Proof, entries: Any, kept: int) -> Proof:
    """Keep what has been typed into a draft, right or wrong.

    Parameters
    ----------
    proof : Proof
        The draft.
    entries : mapping
        All of its entries.
    kept : int
        The count of keepings that this one follows.

    Raises
    ------
    InputError
        If the entries have not the form of a proof's.
    Conflict
        If the proof is signed, or was kept by another device since.
    """
    proof = _draft(proof, kept)
    proof.entries = check_entries(entries)
    proof.kept += 1
    proof.save()
    return proof


@transaction.atomic
def import_readings(proof: Proof, text: str, kept: int) -> Proof:
    """Replace a draft's points by those of a CSV file; everything else stays.

    Raises
    ------
    InputError
        With the row and the column; the draft stays as it was.
    """
    proof = _draft(proof, kept)
    proof.entries = check_entries({**proof.entries, **read_proof_csv(text)})
    proof.kept += 1
    proof.save()
    return proof


@transaction.atomic
def sign_proof(proof: Proof, signature: str, kept: int, person: User) -> Proof:
    """Sign a proof. From then on it never changes.

    Parameters
    ----------
    proof, kept
        The draft and the count of keepings that was seen when signing.
    signature : str
        The signer's own name, typed.
    person : User
        Who is signed in.

    Raises
    ------
    InputError
        If something is missing or cannot be read, or the name is not the person's own.
    """
    proof = _draft(proof, kept)
    result = result_of(proof)
    if result.problems:
        raise InputError(*result.problems)
    if result.missing:
        raise InputError.at("", f"cannot be signed yet: {'; '.join(result.missing)}")
    if signature.strip().casefold() != name_of(person).casefold():
        raise InputError.at("signature", f"type your own name as it is known here: {name_of(person)}")
    transmitter = transmitter_of(proof.tank)
    assert transmitter is not None
    proof.record = {
        "tank": {
            "site": proof.tank.site.name,
            "document": proof.tank.document,
            "revision": proof.tank.revision,
        },
        "transmitter": {
            "document": transmitter.document,
            "serial": transmitter.serial,
            "revision": transmitter.revision,
        },
        "result": present.proof_result(
            result, proof.entries, check_document(proof.tank.document).tank, transmitter.scaled, proof.system
        ),
        "made_by": name_of(proof.made_by),
        "signed_by": name_of(person),
    }
    proof.state, proof.signed_by, proof.signed_at = Proof.SIGNED, person, timezone.now()
    proof.save()
    return proof
