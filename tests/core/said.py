"""Judgements in words, as somebody would read them."""

from __future__ import annotations

from rasante.core.quantities.judgement import Judgement, Phrase
from rasante.core.quantities.units import System
from rasante.core.quantities.words import Words


def said(one: Judgement | Phrase, system: System = "metric") -> str:
    return Words(system).say(one)
