"""The API's own description, tried out on a running server: nothing it takes breaks it, and no answer is one it does not tell."""

from __future__ import annotations

import os
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pytest
import requests
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import response_schema_conformance, status_code_conformance

from fentro_server.api.root import api
from tests.patience import PATIENCE_S
from tools import children, serving
from tools.postgres import Cluster

CHECKS = [not_a_server_error, status_code_conformance, response_schema_conformance]
EXAMPLES = 10
NOT_TRIED = {
    ("delete", "/api/v1/session"),
    ("delete", "/api/v1/session/everywhere"),
    ("get", "/api/v1/visits/{visit_id}/live"),
    ("post", "/api/v1/visits/{visit_id}/controller/run"),
}
"""They end the session that tries, or answer without end."""


@dataclass
class Running:
    """A server with the demo, and a lead signed in."""

    base: str
    session: requests.Session
    ids: dict[str, str]
    schema: Any


@pytest.fixture(scope="module")
def running(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Running]:
    """On a cluster of its own."""
    with Cluster(f"described-{os.getpid()}", throwaway=True) as cluster:
        environment = serving.demo_environment(cluster)
        serving.bring_up_to_date(cluster, environment)
        serving.manage(environment, "load_demo")
        port = serving.free_port()
        server = serving.start_server(environment, port, Path(tmp_path_factory.mktemp("described")) / "log")
        try:
            yield signed_in(f"http://127.0.0.1:{port}")
        finally:
            children.end(server)


def signed_in(base: str) -> Running:
    session = requests.Session()
    session.trust_env = False
    session.get(f"{base}/api/v1/session")
    session.headers["X-CSRFToken"] = session.cookies["csrftoken"]
    lead = next(each for each in session.get(f"{base}/api/v1/demo/people").json() if each["role"] == "lead")
    session.post(f"{base}/api/v1/demo/session", json={"person": lead["id"]}).raise_for_status()
    session.headers["X-CSRFToken"] = session.cookies["csrftoken"]
    day = session.get(f"{base}/api/v1/day").json()
    instrument = session.get(f"{base}/api/v1/instruments").json()[0]["id"]
    ids = {
        "visit_id": day["open"][0]["id"],
        "system_id": day["systems"][0]["id"],
        "instrument_id": instrument,
        "name": "air.state",
    }
    schema = schemathesis.openapi.from_dict(session.get(f"{base}/api/v1/openapi.json").json())
    return Running(base, session, ids, schema)


OPERATIONS = sorted(
    (method, path)
    for path, methods in api.get_openapi_schema()["paths"].items()
    for method in methods
    if (method, path) not in NOT_TRIED
)


@pytest.mark.xdist_group("described")
@pytest.mark.filterwarnings("ignore::Warning")
@pytest.mark.parametrize("operation", OPERATIONS, ids=lambda operation: " ".join(operation))
def test_nothing_it_describes_breaks_it(running: Running, operation: tuple[str, str]) -> None:
    method, path = operation
    here = running.schema[path][method]

    @settings(
        max_examples=EXAMPLES,
        deadline=None,
        database=None,
        derandomize=True,
        phases=[Phase.explicit, Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    @given(case=here.as_strategy())
    def try_out(case: Any) -> None:
        known = running.ids.keys() & dict(case.path_parameters or {}).keys()
        case.path_parameters.update({name: running.ids[name] for name in known})
        case.cookies = {}
        case.call_and_validate(base_url=running.base, session=running.session, checks=CHECKS, timeout=PATIENCE_S)

    try_out()
