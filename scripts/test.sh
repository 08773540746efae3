#!/bin/sh
# Runs every test and says at the end what ran.
set -e
cd "$(dirname "$0")/.."
out=$(mktemp -d)
trap 'rm -rf "$out"' EXIT

echo "== contract and client types"
go run ./cmd/uzzel openapi > "$out/openapi.json"
cmp -s "$out/openapi.json" docs/openapi.json || { echo "docs/openapi.json is stale: run make api"; exit 1; }
(cd web && npx --no-install openapi-typescript ../docs/openapi.json -o "$out/schema.gen.ts" >/dev/null 2>&1)
cmp -s "$out/schema.gen.ts" web/src/api/schema.gen.ts || { echo "web/src/api/schema.gen.ts is stale: run make api"; exit 1; }

echo "== Go"
go test -timeout 30m $(go list ./... | grep -v '/e2e$') 2>&1 | tee "$out/go.txt"
if grep -q '^\(FAIL\|panic\)' "$out/go.txt"; then exit 1; fi

echo "== front end: types, tests"
(cd web && npm run --silent check && npm run --silent test) 

echo "== browser journey"
go test ./e2e -count=1 -timeout 40m 2>&1 | tee "$out/e2e.txt"
if ! grep -q '^ok' "$out/e2e.txt"; then exit 1; fi

echo
echo "Ran: contract check; $(grep -c '^ok' "$out/go.txt") Go packages; front-end types and tests; browser journey. All passed."
