"""Checks OTIO files against a JSON Schema that was set down from the facts of the format alone. Run: otio_check.py SCHEMA FILE...; exit 1 where there is something wrong."""
import json
import sys

import jsonschema

with open(sys.argv[1], encoding="utf-8") as f:
    validator = jsonschema.Draft7Validator(json.load(f))
wrong = 0
for path in sys.argv[2:]:
    with open(path, encoding="utf-8") as f:
        document = json.load(f)
    for error in sorted(validator.iter_errors(document), key=lambda e: list(map(str, e.path)))[:20]:
        wrong += 1
        print(f"{path}: {'/'.join(map(str, error.path))}: {error.message[:200]}")
sys.exit(1 if wrong else 0)
