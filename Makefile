# Everything a newcomer needs: make demo, make test. See README.md.
ADDR ?= 127.0.0.1:8080
TODAY ?=
export ADDR TODAY
GO ?= go
TOOLS := $(CURDIR)/.cache/bin
BIN := bin/uzzel

.PHONY: demo demo-reset test lint build dev api bench soak load screenshots check-fresh chromium clean

demo: build ## build, make the demo company where there is none, and serve it
	@$(BIN) demo

demo-reset: build ## make the demo company's data anew
	@$(BIN) demo --reset

build: web/dist/index.html
	@$(GO) build -o $(BIN) ./cmd/uzzel

web/node_modules/.package-lock.json: web/package.json web/package-lock.json
	cd web && npm ci --no-audit --no-fund --loglevel=error
	@touch $@

WEB := $(shell find web/src web/public web/index.html web/vite.config.ts web/vite.render.config.ts -type f)
web/dist/index.html: web/node_modules/.package-lock.json $(WEB)
	cd web && npm run --silent build -- --logLevel warn

api: ## write the API's document and the front end's client types anew
	$(GO) run ./cmd/uzzel openapi > docs/openapi.json
	cd web && npm run --silent api

chromium: ## install Debian's headless Chromium where there is none
	@sh scripts/chromium.sh

test: web/dist/index.html chromium ## all tests: Go, front end, browser journey
	@sh scripts/test.sh

lint: web/node_modules/.package-lock.json $(TOOLS)/golangci-lint ## golangci-lint with the arrows of docs/architecture.md, biome
	$(TOOLS)/golangci-lint run ./...
	cd web && npm run --silent lint

$(TOOLS)/golangci-lint: tools/go.mod tools/go.sum
	@mkdir -p $(TOOLS)
	cd tools && $(GO) build -o $@ github.com/golangci/golangci-lint/v2/cmd/golangci-lint

dev: web/node_modules/.package-lock.json ## the server, and the front end with reload on :5173
	$(GO) run ./cmd/uzzel demo & cd web && npm run dev

BENCH := .cache/bench-100000.db .cache/bench-1000000.db .cache/bench-3000000.db
.cache/bench-%.db:
	@mkdir -p .cache
	$(GO) run ./cmd/uzzel seed --deals $* --db $@ --today 2026-05-14

bench: $(BENCH) ## measure the engine against SQL at a million deals, updates, growth (the files are made once)
	$(GO) run ./bench -db .cache/bench-1000000.db -grow $$(echo $(BENCH) | tr ' ' ,)
	$(GO) run ./bench/bringin
	$(GO) run ./bench/fields
.PRECIOUS: $(BENCH)

SOAK ?= 10m
soak: web/dist/index.html ## random briefs against SQL, mutated requests, kills at random moments: SOAK=1h each
	SOAK=$(SOAK) SEED=$$(date +%s) $(GO) test ./difftest ./internal/httpapi ./cmd/uzzel -run 'TestAgainstSQL|TestHidden|TestOddRequests|TestKills' -count=1 -v -p 1 -timeout 100h

load: build ## people at work, alone and beside people who mean harm: docs/limits.md
	@sh scripts/load.sh

screenshots: web/dist/index.html chromium ## take the pictures of docs/screenshots anew
	SHOTS=$(CURDIR)/docs/screenshots $(GO) test ./e2e -run 'TestScreens$$|TestFromAnEmptyFile|TestOwnRecords' -count=1

check-fresh: ## both commands, as a newcomer has them, from a fresh clone
	@sh scripts/check-fresh.sh

clean:
	rm -rf bin .cache web/dist/assets web/dist/index.html web/node_modules
