#!/bin/sh
# Fails if openapi.json or the TypeScript types are older than the code they come from.
set -e
fresh=$(mktemp -d)
trap 'rm -rf "$fresh"' EXIT
.venv/bin/python manage.py export_openapi_schema --api coldstack.server.api.api.api --sorted --indent 1 > "$fresh/openapi.json"
cmp -s "$fresh/openapi.json" coldstack/server/api/openapi.json || { echo "openapi.json is out of date: run 'make types'." >&2; exit 1; }
.venv/bin/python scripts/house_figures.py --check || { echo "The house figures of docs/model.md are out of date: run 'make types'." >&2; exit 1; }
.venv/bin/python manage.py export_fields > "$fresh/fields.ts"
cmp -s "$fresh/fields.ts" web/src/api/fields.ts || { echo "fields.ts is out of date: run 'make types'." >&2; exit 1; }
.venv/bin/python manage.py export_fields --units > "$fresh/units.ts"
cmp -s "$fresh/units.ts" web/src/api/units.ts || { echo "units.ts is out of date: run 'make types'." >&2; exit 1; }
cd web
npx --no-install openapi-typescript ../coldstack/server/api/openapi.json -o "$fresh/schema.d.ts" --default-non-nullable false >/dev/null 2>&1
cmp -s "$fresh/schema.d.ts" src/api/schema.d.ts || { echo "schema.d.ts is out of date: run 'make types'." >&2; exit 1; }
cd ..
.venv/bin/python manage.py makemigrations --check --dry-run >/dev/null || { echo "A migration is missing." >&2; exit 1; }
