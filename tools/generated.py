"""Files made from the server and the core for the interface: units and readable quantities, and the API's types.

python tools/generated.py            write them
python tools/generated.py --check    fail when they are not what they would be
python tools/generated.py --migrations   fail when a model changed without a migration
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))
WEB = ROOT / "web"
TABLES = WEB / "src" / "units" / "tables.gen.ts"
TYPES = WEB / "src" / "api" / "schema.gen.d.ts"
CALCULATIONS = ROOT / "docs" / "calculations.md"


def tables() -> str:
    """Units, readable quantities, names and limits of the core, as a typed module."""
    from fentro_core.reference import tables as made

    written = json.dumps(made(), indent=1, ensure_ascii=False)
    head = '/** Written by tools/generated.py from the core. */\nimport type { Tables } from "./tables";\n\n'
    return f"{head}export const tables: Tables = {written};\n"


def calculations() -> str:
    """Every calculation by its name, as its docstring tells it: a book that can't lack one."""
    from fentro_core.reference import calculations as made

    return made()


def api_types() -> str:
    """TypeScript types of the API, from its OpenAPI description."""
    import django

    django.setup()
    from fentro_server.api.root import api

    with tempfile.TemporaryDirectory() as folder:
        described = Path(folder) / "openapi.json"
        described.write_text(json.dumps(api.get_openapi_schema(), default=str))
        made = Path(folder) / "schema.d.ts"
        command = ["npx", "openapi-typescript", str(described), "-o", str(made), "--default-non-nullable", "false"]
        subprocess.run(command, cwd=WEB, check=True, capture_output=True)
        return made.read_text()


def main() -> int:
    """Write, or compare."""
    os.environ["DJANGO_SETTINGS_MODULE"] = "fentro_server.settings.demo"
    os.environ.setdefault("FENTRO_SECRET_KEY", "not a secret: nothing is served")
    os.environ.setdefault("FENTRO_DATABASE_URL", "postgresql://nobody@127.0.0.1:1/none")
    if "--migrations" in sys.argv:
        command = [sys.executable, "manage.py", "makemigrations", "--check", "--dry-run"]
        return subprocess.run(command, cwd=ROOT, check=False).returncode
    stale = []
    for path, make in ((TABLES, tables), (CALCULATIONS, calculations), (TYPES, api_types)):
        fresh = make()
        if "--check" in sys.argv:
            if not path.exists() or path.read_text() != fresh:
                stale.append(str(path.relative_to(ROOT)))
        else:
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_text(fresh)
    if stale:
        print(f"Out of date: {', '.join(stale)}. Run: .venv/bin/python tools/generated.py")
    return 1 if stale else 0


if __name__ == "__main__":
    raise SystemExit(main())
