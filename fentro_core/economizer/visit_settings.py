"""The settings of a visit: as found, planned, as left; with what the climate zone proposes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Number, Sentence
from fentro_core.economizer.changeover import (
    FIXED_LIMIT_F,
    METHOD_REASONS,
    NOT_DIFFERENTIAL_DRY_BULB,
    SWITCHING_DIFFERENTIAL_K,
    default_method,
    enthalpy_limit,
)
from fentro_core.economizer.configuration import (
    CHOICES,
    LABELS,
    Configuration,
    check_configuration,
    said,
    with_setting,
)
from fentro_core.economizer.entries import (
    PlanSetting,
    SavedConfiguration,
)
from fentro_core.economizer.proof.settings import settings_signs
from fentro_core.economizer.results import (
    MethodLine,
    SettingLine,
    SettingValue,
)
from fentro_core.logbook.entry import Entry
from fentro_core.logbook.snapshot import Snapshot
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.packaged_rooftop import RooftopNameplate


def economizer_of(snapshot: Snapshot) -> RooftopNameplate | None:
    """The nameplate of a unit with an economizer; None of any other."""
    nameplate = snapshot.system.nameplate
    return nameplate if nameplate.has_economizer and isinstance(nameplate, RooftopNameplate) else None


def running(visit: VisitContext, phase: str) -> Configuration | None:
    """The configuration that runs in a phase; None where nobody read it or said anything of it then."""
    nameplate = economizer_of(visit.snapshot)
    saved = _saved(visit)
    typed = _typed(visit, phase)
    if nameplate is None or not (_read_then(saved, phase) or typed):
        return None
    start = (
        saved[-1 if phase == "as_left" else 0].document
        if saved
        else _usual(nameplate, visit.snapshot.site.climate_zone, visit.pressure_pa)
    )
    return _with(start, typed, phase)


def against_plan(visit: VisitContext, planned: Configuration, phase: str) -> Mapping[str, bool] | None:
    """Which settings that run in a phase are other than planned, by sign; None where nothing is known of what runs."""
    runs, saved = running(visit, phase), _saved(visit)
    if runs is None:
        return None
    if not _read_then(saved, phase):
        return settings_signs(planned, runs, {entry.body.setting for entry in _typed(visit, phase)})
    return None if saved[-1].source == "unconfirmed" and phase == "as_left" else settings_signs(planned, runs)


def _saved(visit: VisitContext) -> list[SavedConfiguration]:
    return [entry.body for entry in visit.others if isinstance(entry.body, SavedConfiguration)]


def _read_then(saved: list[SavedConfiguration], phase: str) -> bool:
    """The first revision says what runs as found, the last of several what runs as left."""
    return len(saved) > 1 if phase == "as_left" else bool(saved)


def _typed(visit: VisitContext, phase: str) -> list[Entry]:
    return [entry for entry in visit.others if isinstance(entry.body, PlanSetting) and entry.body.stage == phase]


def planned_settings(
    nameplate: RooftopNameplate, zone: str, pressure_pa: float, entries: list[Entry]
) -> tuple[Configuration, Configuration]:
    """The configuration as found, and as planned."""
    saved = next((entry.body.document for entry in entries if isinstance(entry.body, SavedConfiguration)), None)
    said_settings = [entry for entry in entries if isinstance(entry.body, PlanSetting)]
    as_found = _with(saved or _usual(nameplate, zone, pressure_pa), said_settings, "as_found")
    return as_found, _with(as_found, said_settings, "planned")


def _usual(nameplate: RooftopNameplate, zone: str, pressure_pa: float) -> Configuration:
    """What is assumed of a controller until its configuration is read or typed."""
    method = nameplate.changeover or (default_method(zone)[0] if zone in FIXED_LIMIT_F else "fixed_dry_bulb")
    limit = (FIXED_LIMIT_F[zone] - 32) / 1.8 if zone in FIXED_LIMIT_F and "dry_bulb" in method else Configuration().high_limit_c
    return Configuration(model="", changeover=method, high_limit_c=limit, high_limit_j_per_kg=enthalpy_limit(pressure_pa))


def _with(start: Configuration, said_settings: list[Entry], stage: str) -> Configuration:
    """The configuration with what was written down at a stage; what does not fit by itself is left aside, and said elsewhere."""
    document = start
    for entry in said_settings:
        body = entry.body
        if isinstance(body, PlanSetting) and body.stage == stage:
            document = _set(document, body.setting, body.value)
    return document


def _set(document: Configuration, key: str, value: float | str | bool) -> Configuration:
    try:
        return with_setting(document, key, value)
    except Refused:
        return replace(document, **{key: value}) if key in LABELS else document  # type: ignore[arg-type]


def fights_itself(planned: Configuration) -> Sentence | None:
    """Why no controller takes these settings together; None where one does."""
    try:
        check_configuration(planned)
    except Refused as refusal:
        return refusal.sentence
    return None


def changeover_methods(zone: str) -> tuple[MethodLine, ...]:
    """Every way to change over, whether the energy standard takes it in this climate zone, and its usual limit there."""
    default = default_method(zone)[0] if zone in FIXED_LIMIT_F else ""
    lines = []
    for key, reason in METHOD_REASONS.items():
        allowed = key != "differential_dry_bulb" or zone not in NOT_DIFFERENTIAL_DRY_BULB
        limit = (
            Number((FIXED_LIMIT_F[zone] - 32) / 1.8, "temperature") if key == "fixed_dry_bulb" and zone in FIXED_LIMIT_F else None
        )
        lines.append(MethodLine(key, said(key), reason, allowed, key == default, limit))
    return tuple(lines)


def setting_lines(as_found: Configuration, said_settings: list[Entry], zone: str, pressure_pa: float) -> tuple[SettingLine, ...]:
    """Every setting as found, planned and left, with what is proposed."""
    last: dict[tuple[str, str], Entry] = {}
    for entry in said_settings:
        if isinstance(entry.body, PlanSetting):
            last[entry.body.setting, entry.body.stage] = entry
    proposals = _proposals(zone, pressure_pa)
    lines = []
    for key, (name, kind) in LABELS.items():
        stages = [_value(last.get((key, stage)), kind) for stage in ("as_found", "planned", "as_left")]
        found = stages[0] or _plain(getattr(as_found, key), kind)
        lines.append(SettingLine(key, name, kind, CHOICES.get(key, {}), found, stages[1], stages[2], proposals.get(key)))
    return tuple(lines)


def _value(entry: Entry | None, kind: str) -> SettingValue | None:
    if entry is None or not isinstance(entry.body, PlanSetting):
        return None
    plain = _plain(entry.body.value, kind)
    return SettingValue(plain.text, plain.number, entry.body.reason, entry.id)


def _plain(value: float | str | bool, kind: str) -> SettingValue:
    if kind and kind != "count" and not isinstance(value, str):
        return SettingValue("", Number(float(value), kind))
    return SettingValue(said(value))


def _proposals(zone: str, pressure_pa: float) -> dict[str, SettingValue]:
    """What the climate zone proposes, with its reason."""
    if zone not in FIXED_LIMIT_F:
        return {}
    method, reason = default_method(zone)
    proposed = {"changeover": SettingValue(method, why=reason)}
    if method == "fixed_dry_bulb":
        limit = Number((FIXED_LIMIT_F[zone] - 32) / 1.8, "temperature")
        words = f"High limit of zone {zone} after the usual energy standard (2019 edition); local code rules."
        proposed["high_limit_c"] = SettingValue(number=limit, why=Sentence.of(words))
    if method == "fixed_enthalpy":
        words = "Enthalpy limit after the usual energy standard, at this site's air pressure; local code rules."
        proposed["high_limit_j_per_kg"] = SettingValue(
            number=Number(enthalpy_limit(pressure_pa), "enthalpy"), why=Sentence.of(words)
        )
    for key, (value, kind, words) in _ALWAYS_PROPOSED.items():
        proposed[key] = SettingValue(number=Number(value, kind), why=Sentence.of(words))
    return proposed


_ALWAYS_PROPOSED = {
    "differential_k": (
        SWITCHING_DIFFERENTIAL_K,
        "temperature_difference",
        "Without a differential the dampers hunt on a mild day.",
    ),
    "mixed_low_limit_c": ((45 - 32) / 1.8, "temperature", "Keeps the coil from freezing."),
    "freeze_c": ((38 - 32) / 1.8, "temperature", "Below this for five minutes, and the fan must stop; reset by hand."),
}
