"""One run in many dresses: what meters, chargers, telemetry and spreadsheets make of the same samples."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from coldstack.core.logs.reader import WattLog


@dataclass(frozen=True)
class Run:
    """A made-up run, five samples a second; shape (T,)."""

    name: str
    time_s: np.ndarray
    volts: np.ndarray
    amps: np.ndarray
    cells: int

    @property
    def log(self) -> WattLog:
        """The samples themselves, as if read without any loss."""
        return WattLog(self.time_s, self.volts, self.amps, (), "comma", False, 0)

    def __iter__(self):
        return zip(self.time_s.tolist(), self.volts.tolist(), self.amps.tolist(), strict=True)


def run(
    name: str, cells: int, base_a: float, peak_a: float, every_s: float, peak_s: float, minutes: float
) -> Run:
    """Base and peaks with noise, volts sagging by the amps and falling with the charge."""
    noise = np.random.default_rng(len(name))
    t = np.arange(0, 60 * minutes, 0.2)
    amps = np.where(t % every_s >= every_s - peak_s, peak_a, base_a) * noise.normal(1, 0.03, len(t))
    volts = cells * (4.1 - 0.45 * t / t[-1] - 0.0035 * amps) + noise.normal(0, 0.01, len(t))
    return Run(name, t, volts, np.maximum(amps, 0.0), cells)


RUNS = (
    run("sailplane", 5, 8.0, 46.0, 45, 6, 6),
    run("racer", 4, 32.0, 85.0, 12, 3, 4),
    run("tug", 3, 11.0, 12.5, 30, 5, 8),
)


def clock(t: float, places: int = 1, start: float = 14 * 3600 + 62) -> str:
    s = round(t + start, places)
    width = 3 + places if places else 2
    return f"{int(s // 3600) % 24:02d}:{int(s // 60) % 60:02d}:{s % 60:0{width}.{places}f}"


def table(header: str, row: Callable[[float, float, float], str], *, above: str = "", comma: bool = False):
    def write(r: Run) -> bytes:
        body = [row(*x) for x in r]
        if comma:
            body = [b.replace(".", ",") for b in body]
        return (above + (header + "\n" if header else "") + "\n".join(body) + "\n").encode()

    return write


def cells_of(r: Run) -> bytes:
    lines = ["Time (s);" + ";".join(f"Cell {k + 1} (V)" for k in range(6)) + ";Current (A)"]
    for t, v, a in r:
        each = [f"{v / r.cells + 0.004 * (k % 2 * 2 - 1):.3f}" if k < r.cells else "0.000" for k in range(6)]
        lines.append(f"{t:.1f};" + ";".join(each) + f";{a:.2f}")
    return "\n".join(lines).encode()


def spiked(r: Run) -> bytes:
    rows = [[f"{t:.1f}", f"{v:.2f}", f"{a:.2f}"] for t, v, a in r]
    rows[400][2] = "900"
    return ("time s,voltage V,current A\n" + "\n".join(map(",".join, rows))).encode()


DIALECTS: dict[str, Callable[[Run], bytes]] = {
    "plain": table("time s,voltage V,current A", lambda t, v, a: f"{t:.1f},{v:.2f},{a:.2f}"),
    "brackets, semicolons, decimal commas": table(
        "Zeit [s];Spannung [V];Strom [A]", lambda t, v, a: f"{t:.1f};{v:.2f};{a:.2f}", comma=True
    ),
    "tabs": table("Time\tVolts\tAmps", lambda t, v, a: f"{t:.1f}\t{v:.2f}\t{a:.2f}"),
    "bars": table("t|U|I", lambda t, v, a: f"{t:.1f}|{v:.2f}|{a:.2f}"),
    "blanks": table("time volts amps", lambda t, v, a: f"{t:7.1f}  {v:6.2f}  {a:6.2f}"),
    "milli by prefix": table(
        "Time(ms),Voltage(mV),Current(mA)", lambda t, v, a: f"{1000 * t:.0f},{1000 * v:.0f},{1000 * a:.0f}"
    ),
    "milli by suffix": table(
        "time_ms,voltage_mv,current_ma", lambda t, v, a: f"{1000 * t:.0f},{1000 * v:.0f},{1000 * a:.0f}"
    ),
    "milli in words": table(
        "milliseconds,millivolts,milliamps", lambda t, v, a: f"{1000 * t:.0f},{1000 * v:.0f},{1000 * a:.0f}"
    ),
    "a row of units": table(
        "Time;Voltage;Current\nms;mV;mA", lambda t, v, a: f"{1000 * t:.0f};{1000 * v:.0f};{1000 * a:.0f}"
    ),
    "units in the cells": table(
        "time,voltage,current", lambda t, v, a: f"{t:.1f} s,{v:.2f} V,{1000 * a:.0f} mA"
    ),
    "no units, but thousandths": table(
        "time,voltage,current", lambda t, v, a: f"{1000 * t:.0f},{1000 * v:.0f},{1000 * a:.0f}"
    ),
    "date and clock in two columns": table(
        "Date,Time,Voltage (V),Current (A)", lambda t, v, a: f"2026-05-03,{clock(t)},{v:.2f},{a:.2f}"
    ),
    "date and clock in one": table(
        "Timestamp,Voltage (V),Current (A)", lambda t, v, a: f"2026-05-03T{clock(t, 3)}Z,{v:.2f},{a:.2f}"
    ),
    "day first, with a blank": table(
        "Datum Uhrzeit;Spannung (V);Strom (A)", lambda t, v, a: f"03.05.2026 {clock(t)};{v:.2f};{a:.2f}"
    ),
    "clock of whole seconds": table(
        "Time,Voltage,Current", lambda t, v, a: f"{clock(int(t), 0)},{v:.2f},{a:.2f}"
    ),
    "over midnight": table(
        "Clock,Volt,Ampere", lambda t, v, a: f"{clock(t, 1, 86400 - 100)},{v:.2f},{a:.2f}"
    ),
    "two dates": table(
        "date;time;volts;amps",
        lambda t, v, a: (
            f"{'2026-05-03' if t < 100 else '2026-05-04'};{clock(t, 1, 86400 - 100)};{v:.2f};{a:.2f}"
        ),
    ),
    "half-day clock": table(
        "Time,Volts,Amps",
        lambda t, v, a: f"{int(2 + t // 3600)}:{int(t // 60) % 60:02d}:{t % 60:04.1f} PM,{v:.2f},{a:.2f}",
    ),
    "minutes and seconds": table(
        "elapsed,volts,amps", lambda t, v, a: f"{int(t // 60)}:{t % 60:04.1f},{v:.2f},{a:.2f}"
    ),
    "minutes": table("Time (min);Voltage (V);Current (A)", lambda t, v, a: f"{t / 60:.4f};{v:.2f};{a:.2f}"),
    "epoch": table("epoch,volt,amp", lambda t, v, a: f"{1_790_000_000 + t:.1f},{v:.2f},{a:.2f}"),
    "epoch in milliseconds": table(
        "unixtime ms,volt,amp", lambda t, v, a: f"{1_790_000_000_000 + 1000 * t:.0f},{v:.2f},{a:.2f}"
    ),
    "volts by cell": cells_of,
    "watts instead of amps": table(
        "Time (s),Voltage (V),Power (W)", lambda t, v, a: f"{t:.1f},{v:.2f},{v * a:.1f}"
    ),
    "watts and amps": table("s;Leistung W;Strom A", lambda t, v, a: f"{t:.1f};{v * a:.1f};{a:.2f}"),
    "french": table(
        "Temps (s);Tension (V);Intensité (A)", lambda t, v, a: f"{t:.1f};{v:.2f};{a:.2f}", comma=True
    ),
    "spanish": table("Tiempo;Voltaje;Corriente", lambda t, v, a: f"{t:.1f};{v:.2f};{a:.2f}", comma=True),
    "italian": table("Tempo,Tensione,Corrente", lambda t, v, a: f"{t:.1f},{v:.2f},{a:.2f}"),
    "dutch": table("Tijd;Spanning;Stroom", lambda t, v, a: f"{t:.1f};{v:.2f};{a:.2f}", comma=True),
    "swedish": table(
        "Tid [s]\tSpänning [V]\tStröm [A]", lambda t, v, a: f"{t:.1f}\t{v:.2f}\t{a:.2f}", comma=True
    ),
    "polish": table("Czas;Napięcie;Prąd", lambda t, v, a: f"{t:.1f};{v:.2f};{a:.2f}", comma=True),
    "a spreadsheet's days": table(
        "Time,Voltage,Current", lambda t, v, a: f"{46145.5 + t / 86400:.9f},{v:.2f},{a:.2f}"
    ),
    "clock with a decimal comma": table(
        "Uhrzeit;Spannung;Strom", lambda t, v, a: f"{clock(t, 2)};{v:.2f};{a:.2f}", comma=True
    ),
    "no header": table("", lambda t, v, a: f"{t:.1f},{v:.2f},{a:.2f}"),
    "titles above, more columns": table(
        "t (s),Pack V,BEC V,Current (A),Used (mAh),Power (W),Temp (C),Throttle %",
        lambda t, v, a: f"{t:.1f},{v:.2f},5.02,{a:.2f},{a * t / 3.6:.0f},{v * a:.1f},31,{50 + a / 2:.0f}",
        above="My meter 2\nRun of 3 May\n\n",
    ),
    "amps negative": table("time,voltage,current", lambda t, v, a: f"{t:.1f},{v:.2f},{-a:.2f}"),
    "quoted, decimal commas": table(
        '"time","voltage","current"', lambda t, v, a: f'"{t:.1f}","{v:.2f}","{a:.2f}"'.replace(".", ",")
    ),
    "thousands grouped": table(
        "Zeit ms;Spannung mV;Strom mA",
        lambda t, v, a: f"{1000 * t:.0f};{1000 * v:,.0f};{1000 * a:,.1f}".replace(",", "'"),
    ),
    "a comma at the end": table("time s,voltage V,current A,", lambda t, v, a: f"{t:.1f},{v:.2f},{a:.2f},"),
    "sixteen bits": lambda r: b"\xff\xfe" + DIALECTS["plain"](r).decode().encode("utf-16-le"),
    "old line ends": lambda r: DIALECTS["plain"](r).replace(b"\n", b"\r"),
    "remarks and a footer": table(
        "time s,voltage V,current A",
        lambda t, v, a: f"{t:.1f},{v:.2f},{a:.2f}",
        above="# made by a meter\n// twice\nsep=,\n",
    ),
    "one spike of 900 A": spiked,
    "words run together": table(
        "elapsedTime,packVoltage,motorCurrent", lambda t, v, a: f"{t:.1f},{v:.2f},{a:.2f}"
    ),
}
