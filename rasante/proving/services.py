"""What can be done with proofs: begun, kept as drafts, read from a file, signed."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from ..accounts.models import name_of
from ..conflict import Conflict
from ..core.proving.places import READ
from ..core.proving.proof import judge_proof, places
from ..core.proving.proof_csv import read_proof_csv, with_readings
from ..core.proving.proof_entries import blank_proof, check_entries
from ..core.proving.result import Proof as CoreProof
from ..core.quantities.errors import InputError
from ..core.quantities.units import System
from ..core.scaling.chain import Chain
from ..core.scaling.chain_settings import texts_of
from ..scaling.chains import NOT_SCALED, chain_of, ends_of, newest_table, scaled_chain
from ..seals.services import seal
from ..tanks.models import Tank
from ..wiring.services import wiring_of
from .models import NEVER, Proof
from .record import result_document


def proved_chain(tank: Tank, system: System) -> Chain:
    """The kept chain of a tank, which a proof is taken of.

    Raises
    ------
    InputError
        If none is kept, or it no longer fits the tank.
    """
    if chain_of(tank) is None:
        raise InputError.at("tank", NOT_SCALED)
    return scaled_chain(tank, system)


@transaction.atomic
def begin_proof(tank: Tank, system: System, person: User) -> Proof:
    """Begin a proof: the signal at five values against what the screen shows, nothing read yet.

    Raises
    ------
    InputError
        If no chain is kept of the tank.
    """
    proof = Proof(tank=tank, system=system, entries=blank_proof(proved_chain(tank, system), system), made_by=person)
    proof.save()
    return proof


def result_of(proof: Proof, chain: Chain, tank: Tank | None = None) -> CoreProof:
    """Judge a draft as it stands, against a chain; its tank may be at hand already."""
    return judge_proof(proof.entries, chain, (tank or proof.tank).file.tank, proof.system)


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
    """Put the readings of a CSV file into a draft; another run's readings and everything else stay.

    Raises
    ------
    InputError
        With the row and the column; the draft stays as it was.
    """
    proof = _draft(proof, kept)
    proof.entries = check_entries(with_readings(proof.entries, read_proof_csv(text)))
    proof.kept += 1
    proof.save()
    return proof


@dataclass(frozen=True)
class Basis:
    """What a draft is judged against: revisions of the tank, its chain and its wiring, and the table it reads by.

    Parameters
    ----------
    tank, chain, wiring : int
        Their revisions; 0 where none is kept.
    table : int
        The number of the newest issued table; 0 where there is none.
    """

    tank: int
    chain: int
    wiring: int
    table: int


def basis_of(tank: Tank) -> Basis:
    """Return what a draft of a tank is judged against today."""
    chain, wiring, issued = chain_of(tank), wiring_of(tank), newest_table(tank)
    return Basis(
        tank.revision,
        chain.revision if chain else 0,
        wiring.revision if wiring else 0,
        issued.number if issued else 0,
    )


def _refuse_other_basis(tank: Tank, seen: Basis) -> None:
    now = basis_of(tank)
    moved = []
    if now.tank != seen.tank:
        moved.append(f"the tank was surveyed again, revision {now.tank}")
    if now.chain != seen.chain:
        moved.append(f"its chain was kept again, revision {now.chain}")
    if now.wiring != seen.wiring:
        moved.append(f"its wiring was kept again, revision {now.wiring}")
    if now.table != seen.table:
        moved.append(f"table {now.table} was issued")
    if moved:
        raise Conflict(f"since you looked at this proof {', and '.join(moved)}: look at its result anew, then sign")


@transaction.atomic
def sign_proof(proof: Proof, signature: str, kept: int, person: User, seen: Basis) -> Proof:
    """Sign a proof. From then on it never changes.

    Parameters
    ----------
    proof, kept
        The draft and the count of keepings that was seen when signing.
    signature : str
        The signer's own name, typed.
    person : User
        Who is signed in, and has just shown it by the password.
    seen : Basis
        What the result that was looked at was judged against.

    Raises
    ------
    InputError
        If something is missing or cannot be read, or the name is not the person's own.
    Conflict
        If the draft, the tank, its chain or its table is newer than what was looked at.
    """
    proof = _draft(proof, kept)
    _refuse_other_basis(proof.tank, seen)
    chain = proved_chain(proof.tank, proof.system)
    result = result_of(proof, chain)
    if result.problems:
        raise InputError(*result.problems)
    if result.missing:
        raise InputError.at("", f"cannot be signed yet: {'; '.join(result.missing)}")
    if signature.strip().casefold() != name_of(person).casefold():
        raise InputError.at("signature", f"type your own name as it is known here: {name_of(person)}")
    kept_chain, issued = chain_of(proof.tank), newest_table(proof.tank)
    assert kept_chain is not None
    proof.record = {
        "tank": {
            "site": proof.tank.site.name,
            "document": proof.tank.document,
            "revision": proof.tank.revision,
        },
        "chain": {
            "settings": texts_of(chain, "metric"),
            "ends_mm": ends_of(chain),
            "serial": kept_chain.entries.get("sensor.serial", ""),
            "revision": kept_chain.revision,
            "table": issued.number if issued is not None else 0,
        },
        "applied": places(chain)[0][proof.entries["applied_as"]],
        "read": READ[proof.entries["read_as"]],
        "result": result_document(result, proof.tank.file.tank),
        "made_by": name_of(proof.made_by),
        "signed_by": name_of(person),
    }
    proof.state, proof.signed_by, proof.signed_at = Proof.SIGNED, person, timezone.now()
    proof.save()
    seal(proof)
    return proof
