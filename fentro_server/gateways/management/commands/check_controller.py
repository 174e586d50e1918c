"""``manage.py check_controller ADDRESS UNIT``: does this gateway's unit speak our protocol?"""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from fentro_core.base.refusal import Refused
from fentro_server.controllers.conformance import conformance
from fentro_server.controllers.gateway import HttpController
from fentro_server.gateways.addresses import reach

MARKS = {True: "holds", False: "DOES NOT", None: "open"}


class Command(BaseCommand):
    """Tries what docs/controller.md asks of a gateway, and says what holds; ends with 1 where something does not."""

    help = "Try a gateway of controllers against the protocol of docs/controller.md. Needs no database."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        """Where it is, and whether anything may be held."""
        parser.add_argument("address", help="the gateway's, http://127.0.0.1:8047 say; allowed by FENTRO_GATEWAY_HOSTS")
        parser.add_argument("unit", help="as the gateway calls it, RTU-1 say")
        parser.add_argument("--token", default="", help="where the gateway wants one")
        parser.add_argument(
            "--hold", action="store_true", help="also hold the cooling setpoint at the value it has, and release it"
        )

    def handle(self, *args: Any, **options: Any) -> None:
        """Line by line."""
        try:
            reached = reach(options["address"], options["token"])
        except Refused as refused:
            raise CommandError(refused.sentence.say()) from None
        device = HttpController("tried", reached, options["unit"])
        try:
            lines = []
            for line in conformance(device, hold=options["hold"]):
                lines.append(line)
                self.stdout.write(f"{MARKS[line.holds]:<9}{line.what}{f'. {line.words}' if line.words else ''}")
        finally:
            device.close()
        wrong = sum(line.holds is False for line in lines)
        if wrong:
            raise CommandError(f"{wrong} of {len(lines)} do not hold. docs/controller.md says what is due.")
        self.stdout.write("Everything that was tried holds.")
