"""The simulated devices that ship with Fentro, each kind a service of its own on loopback."""

from __future__ import annotations

import subprocess
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from tools import children
from tools.say import Trouble, say
from tools.serving import answers, free_port
from tools.setup import PYTHON, ROOT


@dataclass(frozen=True)
class Kind:
    """A kind of device: its module in `fentro_standins`, where it answers, in what the demo finds its address, its usual port."""

    module: str
    path: str
    variable: str
    port: int
    words: str


KINDS = (
    Kind("probes", "/v1/probes", "FENTRO_DEMO_PROBES", 8045, "probes"),
    Kind("rooftop", "/v1/units", "FENTRO_DEMO_CONTROLLERS", 8047, "rooftop units"),
    Kind("zones", "/v1/boards", "FENTRO_DEMO_ZONE_BOARDS", 8048, "zone boards"),
    Kind("ventilator", "/v1/ventilators", "FENTRO_DEMO_VENTILATORS", 8049, "ventilators"),
)


class Device:
    """One of them, at a port of its own; it can be taken away and brought back."""

    def __init__(self, kind: Kind, log: Path, port: int) -> None:
        self.kind, self.log, self.port = kind, log, port
        self.process: subprocess.Popen[Any] | None = None

    @property
    def url(self) -> str:
        """Where it answers."""
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        """Start it and wait until it answers.

        Raises
        ------
        Trouble
            It does not, with its last words.
        """
        command = [str(PYTHON), "-m", f"fentro_standins.{self.kind.module}", "--port", str(self.port)]
        with self.log.open("ab") as output:
            process = children.start(command, cwd=ROOT, stdout=output, stderr=output)
        if not answers(f"{self.url}{self.kind.path}", process):
            children.end(process)
            words = self.log.read_text(errors="replace")[-1500:]
            raise Trouble(f"The simulated {self.kind.words} did not start. Last words:\n\n{words}")
        self.process = process

    def kill(self) -> None:
        """Pull its plug."""
        if self.process:
            self.process.kill()
            self.process.wait()

    def end(self) -> None:
        """End it in peace."""
        if self.process:
            children.end(self.process)


class Devices:
    """All of them. `name`: begins the names of their logs; `usual`: at their usual ports where those are free."""

    def __init__(self, directory: Path, name: str = "", *, usual: bool = False) -> None:
        self.all = tuple(
            Device(kind, directory / f"{name}{kind.module}.log", free_port(kind.port) if usual else free_port()) for kind in KINDS
        )

    @property
    def environment(self) -> dict[str, str]:
        """Where the demo finds them."""
        return {each.kind.variable: each.url for each in self.all}

    def named(self, module: str) -> Device:
        """One of them."""
        return next(each for each in self.all if each.kind.module == module)

    def start(self) -> None:
        """All of them."""
        for each in self.all:
            each.start()

    def keep(self) -> None:
        """Start again what went away."""
        for each in self.all:
            if each.process is not None and each.process.poll() is not None:
                say(f"the simulated {each.kind.words} went away; starting them again")
                each.start()

    def end(self) -> None:
        """All of them."""
        for each in self.all:
            each.end()
