"""Files of any logger: delimiters, decimal commas, times, units, gaps, repeats, bad lines."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fentro_core.base.refusal import Refused
from fentro_core.measuring.logger_file import BadLine, FileMapping, MappedColumn, Row, Tally, check_mapping, read_rows
from fentro_core.measuring.logger_layout import decode, layout_of

PLAIN = ["Time,Return temp (C),Return RH (%)"] + [f"2026-07-01 10:00:{n:02d},{24 + n / 10},{50 + n}" for n in range(8)]


def mapped(lines: list[str], offset: int = 0) -> list[Row | BadLine]:
    layout = layout_of(lines)
    mapping = FileMapping(
        tuple(column.index for column in layout.columns if column.is_time),
        layout.time_format,
        tuple(
            MappedColumn(column.index, column.quantity, column.unit or "degC", column.station or "return")
            for column in layout.columns
            if column.quantity
        ),
    )
    return list(read_rows(lines, layout, mapping, offset))


def test_a_plain_file_is_understood_by_itself() -> None:
    layout = layout_of(PLAIN)
    assert [(c.quantity, c.unit, c.station, c.is_time) for c in layout.columns] == [
        ("", "", "", True),
        ("dry_bulb", "degC", "return", False),
        ("relative_humidity", "percent", "return", False),
    ]
    rows = mapped(PLAIN, 120)
    assert len(rows) == 8
    assert isinstance(rows[0], Row)
    assert rows[0].at == datetime(2026, 7, 1, 8, tzinfo=UTC)
    assert rows[0].values == (24.0, 0.5)


@pytest.mark.parametrize(
    ("lines", "at", "value"),
    [
        (["Zeit;Temp °C", "31.07.2026 14:05;13,4", "31.07.2026 14:06;13,5"], datetime(2026, 7, 31, 14, 5), 13.4),
        (
            ["Date\tClock\tT (°F)", "7/31/2026\t2:05:00 PM\t55.4", "7/31/2026\t2:05:10 PM\t55.4"],
            datetime(2026, 7, 31, 14, 5),
            13.0,
        ),
        (["stamp|temp", "1785506700|13", "1785506710|13"], datetime(2026, 7, 31, 14, 5), 13.0),
        (["stamp,temp", "1785506700000,13", "1785506701000,13"], datetime(2026, 7, 31, 14, 5), 13.0),
        (["t,Supply temp", "2026-07-31T14:05:00Z,13", "2026-07-31T14:05:01Z,13"], datetime(2026, 7, 31, 14, 5), 13.0),
        (
            ["Logger 7", "Serial,55", "", "time,temp", "31-07-2026 14:05,13", "31-07-2026 14:06,13"],
            datetime(2026, 7, 31, 14, 5),
            13.0,
        ),
        (['"time","temp (C)"', '"2026/07/31 14:05","1.013,0"', '"2026/07/31 14:06","13"'], datetime(2026, 7, 31, 14, 6), 13.0),
    ],
)
def test_times_units_and_commas_of_many_loggers(lines: list[str], at: datetime, value: float) -> None:
    rows = [row for row in mapped(lines) if isinstance(row, Row)]
    assert rows[0].at == at.replace(tzinfo=UTC)
    assert rows[0].values[0] == pytest.approx(value)


def test_a_day_that_could_be_a_month_is_asked_about() -> None:
    unsure = ["time,temp", "07/08/2026 10:00,20", "07/08/2026 10:01,20"]
    assert layout_of(unsure).time_unsure
    assert not layout_of([*unsure, "07/31/2026 10:00,20"]).time_unsure


def test_bad_lines_come_with_number_and_reason_and_the_rest_goes_on() -> None:
    lines = [
        *PLAIN,
        "2026-07-01 10:00:09,--,50",
        "2026-07-01 10:00:10,24.0",
        "yesterday,24.0,50",
        "2026-07-01 10:00:12,240,50",
        "2026-07-01 10:00:13,,51",
        "",
    ]
    found = mapped(lines)
    bad = {line.number: line.reason for line in found if isinstance(line, BadLine)}
    assert list(bad) == [10, 11, 12, 13]
    assert "not a number" in bad[10]
    assert "2 fields where 3" in bad[11]
    assert "not a time" in bad[12]
    assert "Is the unit right?" in bad[13]
    last = found[-1]
    assert isinstance(last, Row)
    assert last.values == (None, 0.51)


def test_gaps_and_repeats_are_counted() -> None:
    tally = Tally()
    moments = [*range(20), 19, 400, 401]
    start = datetime(2026, 7, 1, tzinfo=UTC)
    for number, second in enumerate(moments, 2):
        tally.take(Row(number, start + timedelta(seconds=second), (20.0,)))
    assert tally.repeated == 1
    assert tally.gaps == [(start + timedelta(seconds=19), start + timedelta(seconds=400))]
    assert (tally.rows, tally.bad) == (23, 0)
    assert tally.first == start


@pytest.mark.parametrize(
    ("mapping", "path"),
    [
        (FileMapping((), "iso", (MappedColumn(1, "dry_bulb", "degC", "return"),)), "mapping.time_columns"),
        (FileMapping((0,), "iso", ()), "mapping.columns"),
        (FileMapping((0,), "iso", (MappedColumn(9, "dry_bulb", "degC", "return"),)), "mapping.columns.0.index"),
        (FileMapping((0,), "iso", (MappedColumn(1, "mood", "degC", "return"),)), "mapping.columns.0.quantity"),
        (FileMapping((0,), "iso", (MappedColumn(1, "dry_bulb", "Pa", "return"),)), "mapping.columns.0.unit"),
        (
            FileMapping((0,), "iso", tuple(MappedColumn(n, "dry_bulb", "degC", "return") for n in (1, 2))),
            "mapping.columns",
        ),
    ],
)
def test_a_mapping_that_can_not_be_is_refused_at_its_field(mapping: FileMapping, path: str) -> None:
    with pytest.raises(Refused) as refused:
        check_mapping(mapping, 3)
    assert refused.value.path == path


def test_what_is_no_table_is_refused() -> None:
    with pytest.raises(Refused, match="No table"):
        layout_of(["Dear customer,", "thank you for your letter."])


def test_encodings() -> None:
    text = "Zeit;Temp °C"
    assert decode(text.encode("utf-8-sig")) == "utf-8-sig"
    assert decode(text.encode("cp1252")) == "cp1252"
    assert decode(text.encode("utf-8")[:-1]) == "utf-8-sig", "cut within a letter"


@given(st.lists(st.floats(-20, 60), min_size=3, max_size=30), st.sampled_from(";\t,|"), st.booleans())
@settings(max_examples=60)
def test_whatever_was_written_comes_back(values: list[float], delimiter: str, comma: bool) -> None:
    comma = comma and delimiter != ","
    start = datetime(2026, 7, 31, 12, tzinfo=UTC)
    lines = [f"time{delimiter}temp C"]
    for n, value in enumerate(values):
        shown = f"{value:.2f}".replace(".", ",") if comma else f"{value:.2f}"
        lines.append(f"{(start + timedelta(seconds=n)):%d.%m.%Y %H:%M:%S}{delimiter}{shown}")
    rows = mapped(lines)
    assert [row.values[0] for row in rows if isinstance(row, Row)] == pytest.approx([round(value, 2) for value in values])


@pytest.mark.parametrize(
    ("heading", "quantity", "unit"),
    [
        ("Temp (°F)", "dry_bulb", "degF"),
        ("Temperature F", "dry_bulb", "degF"),
        ("Return Temp [DegF]", "dry_bulb", "degF"),
        ("Supply temp deg. C", "dry_bulb", "degC"),
        ("Temp ℃", "dry_bulb", "degC"),
        ("Temp of return", "dry_bulb", ""),
        ("HVAC temp", "dry_bulb", ""),
        ("RH [%]", "relative_humidity", "percent"),
        ("Rel. humidity", "relative_humidity", "percent"),
        ("Static (in. w.c.)", "static_pressure", "inwc"),
        ("Static Pa", "static_pressure", "Pa"),
        ("Static", "static_pressure", ""),
        ("Flow CFM", "airflow", "cfm"),
        ("Flow", "airflow", ""),
    ],
)
def test_a_unit_is_read_from_its_heading_and_never_made_up(heading: str, quantity: str, unit: str) -> None:
    column = layout_of([f"Time,{heading}", "2026-07-01 10:00,24.5", "2026-07-01 10:01,24.6"]).columns[1]
    assert (column.quantity, column.unit) == (quantity, unit)


@pytest.mark.parametrize(
    ("heading", "quantity", "unit", "station"),
    [
        ("Temp (°F)", "dry_bulb", "degF", ""),
        ("RH [%]", "relative_humidity", "percent", ""),
        ("T_supply [degC]", "dry_bulb", "degC", "supply"),
        ("SAT (°F)", "dry_bulb", "degF", "supply"),
        ("RAT [F]", "dry_bulb", "degF", "return"),
        ("OAT", "dry_bulb", "", "outdoor"),
        ("SP [inH2O]", "static_pressure", "inwc", ""),
        ("Ch1 (deg F)", "dry_bulb", "degF", ""),
        ("DewPt °F", "dew_point", "degF", ""),
        ("Power (kW)", "electric_power", "kW", ""),
        ("Power, W", "electric_power", "W", ""),
        ("Airflow [m³/h]", "airflow", "m3/h", ""),
        ("Filter dP (Pa)", "", "", ""),
        ("Battery (V)", "", "", ""),
        ("Status", "", "", ""),
    ],
)
def test_headings_of_any_usual_form_are_understood(heading: str, quantity: str, unit: str, station: str) -> None:
    rows = [f"07/31/2026 14:00:{n:02d};{55 + n};x" for n in range(9)]
    column = layout_of([f"Time;{heading};x", *rows]).columns[1]
    assert (column.quantity, column.unit, column.station) == (quantity, unit, station)
    assert column.typical == 59


def test_a_column_without_numbers_has_no_typical_one() -> None:
    found = layout_of(["Time;State;Temp", "31.07.2026 14:00;on;1.055,4", "31.07.2026 14:01;off;nan"])
    assert [column.typical for column in found.columns] == [None, None, 1055.4]
