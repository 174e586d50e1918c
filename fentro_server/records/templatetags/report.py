"""What a report's template says numbers, sentences and times with, in the reader's units and hours."""

from __future__ import annotations

from typing import Any

from django import template
from django.template.context import Context
from django.utils.html import format_html
from django.utils.safestring import SafeString, mark_safe

from fentro_core.base.quantity import Quantity
from fentro_core.base.quantity import say as say_quantity
from fentro_core.base.sentence import Sentence
from fentro_core.system.nameplate import NameplateLine

register = template.Library()

MARKS = {
    "holds": "as it should be",
    "watch": "to be watched",
    "off": "not as it should be",
    "too_close": "could not be told today",
    "not_measured": "not measured",
}
"""Marks in a customer's words."""

NAMES = {"holds": "Holds", "watch": "Watch", "off": "Off", "too_close": "Too close to call", "not_measured": "Not measured"}
"""Marks as everywhere else."""

SIGNS = {
    "holds": '<circle cx="8" cy="8" r="6" fill="currentColor"/>',
    "watch": '<circle cx="8" cy="8" r="5.4" fill="none" stroke="currentColor" stroke-width="1.6"/>'
    '<path d="M8 2.6a5.4 5.4 0 0 1 0 10.8z" fill="currentColor"/>',
    "off": '<circle cx="8" cy="8" r="5.4" fill="none" stroke="currentColor" stroke-width="1.8"/>'
    '<path d="M2 14L14 2" stroke="currentColor" stroke-width="1.8"/>',
    "too_close": '<circle cx="5.6" cy="8" r="4" fill="none" stroke="currentColor" stroke-width="1.5"/>'
    '<circle cx="10.4" cy="8" r="4" fill="none" stroke="currentColor" stroke-width="1.5"/>',
    "not_measured": '<circle cx="8" cy="8" r="5.4" fill="none" stroke="currentColor" stroke-width="1.5" '
    'stroke-dasharray="1.6 2"/>',
}


@register.simple_tag(takes_context=True)
def say(context: Context, said: Any) -> str:
    """A sentence, a quantity or a nameplate's line in the reader's units; nothing for None."""
    system = context["system"]
    if isinstance(said, Sentence):
        return said.say(system)
    if isinstance(said, Quantity):
        return say_quantity(said, system)
    if isinstance(said, NameplateLine):
        return say_quantity(Quantity(said.number.value, 0.0, said.number.kind), system) if said.number else said.text
    return "" if said is None else str(said)


@register.simple_tag(takes_context=True)
def moment(context: Context, at: Any) -> str:
    """A time in the reader's hours."""
    said: str = context["reader"].moment(at)
    return said


@register.simple_tag
def mark(key: str | None, plain: bool = False) -> SafeString:
    """A mark's sign and name; `plain`: in a customer's words."""
    if not key:
        return mark_safe("")
    words = (MARKS if plain else NAMES)[key]
    sign = mark_safe(f'<svg class="sign" viewBox="0 0 16 16" width="14" height="14" aria-hidden="true">{SIGNS[key]}</svg>')
    return format_html('<span class="mark {}">{}{}</span>', key.replace("_", "-"), sign, words)


@register.simple_tag
def phase(key: str) -> str:
    """As found, as left."""
    return {"as_found": "As found", "as_left": "As left"}.get(key, "")


@register.simple_tag
def drawn(strokes: Any) -> SafeString:
    """A signature as it was drawn."""
    lines = "".join(
        f'<polyline points="{" ".join(f"{float(x) * 300:.1f},{float(y) * 90:.1f}" for x, y in line)}"/>' for line in strokes
    )
    look = 'class="drawn" viewBox="0 0 300 90" width="200" height="60" fill="none" stroke="#1C2624" stroke-width="2"'
    return mark_safe(f'<svg {look} stroke-linecap="round" stroke-linejoin="round" aria-hidden="true">{lines}</svg>')


@register.filter
def safe_svg(drawing: str) -> SafeString:
    """A drawing of the core: every word in it is escaped there."""
    return mark_safe(drawing)
