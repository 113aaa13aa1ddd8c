# Fjell: commands. Everything runs on a fresh Debian machine with Go and Node.

SHELL := /bin/bash
.SHELLFLAGS := -eu -o pipefail -c
.DEFAULT_GOAL := help

BIN := bin/fjell
DATA := .fjell
GO_SOURCES := $(shell find cmd core internal -name '*.go' -o -name '*.sql' -o -name '*.json' -path 'core/*')
WEB_SOURCES := $(shell find web/src web/public web/index.html web/vite.config.ts web/svelte.config.js -type f -not -name core.wasm -not -name wasm_exec.js 2>/dev/null)
DIST := internal/httpapi/dist/index.html

help: ## this list
	@grep -hE '^[a-z-]+:.*## ' $(MAKEFILE_LIST) | sed -E 's/:.*## /\t/' | expand -t 14

web/node_modules/.package-lock.json: web/package.json web/package-lock.json
	cd web && npm install --no-save --loglevel=error # keeps to the lock file; npm ci refuses it where a registry lacks other platforms
	touch $@

CORE := web/src/core/core.wasm
CORE_SOURCES := $(shell find cmd/fjell-core core -name '*.go' -not -name '*_test.go' -o -name '*.json' -path 'core/reference/*')

$(CORE): $(CORE_SOURCES) go.mod go.sum
	cp "$$(go env GOROOT)/lib/wasm/wasm_exec.js" web/src/core/wasm_exec.js
	GOOS=js GOARCH=wasm go build -trimpath -ldflags='-s -w' -o $@ ./cmd/fjell-core

$(DIST): web/node_modules/.package-lock.json $(WEB_SOURCES) $(CORE)
	rm -rf internal/httpapi/dist/assets internal/httpapi/dist/sw.js internal/httpapi/dist/workbox-*.js
	cd web && npx vite build --logLevel warn

$(BIN): $(DIST) $(GO_SOURCES) go.mod go.sum
	go build -o $@ ./cmd/fjell

build: $(BIN) ## the one binary, web app and all

demo: $(BIN) ## the demo farm, at one printed address
	@scripts/mariadb.sh start $(DATA)/demo
	@scripts/mariadb.sh keep $(DATA)/demo & trap "kill $$! 2>/dev/null" EXIT; FJELL_DATABASE=$$(cat $(DATA)/demo/url) flock -n $(DATA)/demo/running $(BIN) demo || { flock -n $(DATA)/demo/running true || echo "a demo is running already" >&2; exit 1; }

demo-reset: ## forget the demo's data; the next make demo starts over
	@mkdir -p $(DATA)/demo && flock -n $(DATA)/demo/running true || { echo "a demo is running: stop it first (Ctrl-C where it runs)" >&2; exit 1; }
	@scripts/mariadb.sh stop $(DATA)/demo
	rm -rf $(DATA)/demo

stop: ## stop the private databases
	@scripts/mariadb.sh stop $(DATA)/demo
	@scripts/mariadb.sh stop $(DATA)/test

dev: web/node_modules/.package-lock.json $(CORE) ## the web app with hot reload against the demo's API
	@scripts/mariadb.sh start $(DATA)/demo
	go build -o $(BIN) ./cmd/fjell
	FJELL_DATABASE=$$(cat $(DATA)/demo/url) $(BIN) demo --address 127.0.0.1:8080 & trap "kill $$!" EXIT; cd web && npx vite

generate: web/node_modules/.package-lock.json ## the API document, its TypeScript client and the table of units
	@mkdir -p $(DATA)/api
	go run ./cmd/fjell openapi > $(DATA)/api/openapi.json
	go run ./cmd/fjell openapi --units > $(DATA)/api/units.json
	cd web && npx openapi-typescript ../$(DATA)/api/openapi.json -o ../$(DATA)/api/schema.d.ts
	@for f in openapi.json units.json schema.d.ts; do cmp -s $(DATA)/api/$$f web/src/api/$$f || cp $(DATA)/api/$$f web/src/api/$$f; done

lint: web/node_modules/.package-lock.json $(CORE) ## format, vet, staticcheck, types, stale generated files
	@test -z "$$(gofmt -l cmd core internal e2e scripts | tee /dev/stderr)"
	go vet ./...
	go tool staticcheck ./...
	cd web && npm run --silent lint && npm run --silent check
	@! grep -q '"resolved": "http' web/package-lock.json || { echo 'web/package-lock.json records download addresses: take its "resolved" lines out' >&2; exit 1; }
	@before=$$(cat web/src/api/openapi.json web/src/api/units.json web/src/api/schema.d.ts | sha256sum); \
	  $(MAKE) --no-print-directory generate; \
	  after=$$(cat web/src/api/openapi.json web/src/api/units.json web/src/api/schema.d.ts | sha256sum); \
	  test "$$before" = "$$after" || { echo "generated files were stale: make generate, and commit" >&2; exit 1; }

chromium-and-gdal:
	@for p in chromium:chromium ogr2ogr:gdal-bin; do command -v $${p%:*} >/dev/null || { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq $${p#*:} >/dev/null; }; done

test-database:
	@scripts/mariadb.sh start $(DATA)/test --fast

test: $(BIN) lint chromium-and-gdal test-database ## everything: lint, web modules, Go tests, browser tests
	cd web && npm run --silent test
	@trap 'scripts/mariadb.sh stop $(DATA)/test' EXIT; \
	  FJELL_TEST_DATABASE=$$(cat $(DATA)/test/url) FJELL_BINARY=$(CURDIR)/$(BIN) go test -timeout 45m ./...

bench: $(BIN) chromium-and-gdal test-database ## speeds, and the weight of the first screen
	FJELL_TEST_DATABASE=$$(cat $(DATA)/test/url) go test -p 1 -run '^$$' -bench . ./core/... ./internal/...
	FJELL_TEST_DATABASE=$$(cat $(DATA)/test/url) FJELL_BINARY=$(CURDIR)/$(BIN) go test -run '^$$' -bench . -benchtime 3x ./e2e
	@scripts/weight.sh

fuzz: ## a minute for every reader of foreign input
	go test -fuzz FuzzReckon -fuzztime 60s ./core/reckon
	go test -fuzz FuzzRead -fuzztime 60s ./core/rotation/plan
	for reader in GeoJSON KML KMZ GPX Corners Shapes Heights Table Waypoints; do go test -run '^$$' -fuzz FuzzRead$$reader\$$ -fuzztime 60s ./internal/exchange; done

faults: $(BIN) test-database ## kill servers and database among writes, for minutes; die at every statement of every migration
	@trap 'scripts/mariadb.sh stop $(DATA)/test' EXIT; export FJELL_TEST_DATABASE=$$(cat $(DATA)/test/url) FJELL_BINARY=$(CURDIR)/$(BIN) FJELL_FAULTS=all; \
	  go test -count=1 -timeout 30m -v -run NothingIsLost ./e2e && go test -count=1 -timeout 30m -run 'WhereverItWas|LostCommit' ./internal/store ./internal/httpapi

soak: $(BIN) test-database ## a minute of a device's readings; ten minutes of forty requests a second
	@trap 'scripts/mariadb.sh stop $(DATA)/test' EXIT; export FJELL_TEST_DATABASE=$$(cat $(DATA)/test/url) FJELL_SOAK_SECONDS=60 FJELL_SOAK_MINUTES=10; \
	  go test -count=1 -timeout 30m -v -run 'IngestKeeps|SteadyUnderLoad' ./internal/httpapi

mutate: ## change one line of core at a time, and see a test fail
	@go run ./scripts/mutate

shots: $(BIN) chromium-and-gdal ## refresh docs/screenshots from a fresh demo
	@scripts/mariadb.sh stop $(DATA)/shots && rm -rf $(DATA)/shots
	@scripts/mariadb.sh start $(DATA)/shots --fast
	@FJELL_DATABASE=$$(cat $(DATA)/shots/url) $(BIN) demo --address 127.0.0.1:8091 & pid=$$!; \
	  trap "kill $$pid; scripts/mariadb.sh stop $(DATA)/shots; rm -rf $(DATA)/shots" EXIT; \
	  for i in $$(seq 100); do (exec 3<>/dev/tcp/127.0.0.1/8091) 2>/dev/null && break; sleep 0.2; done; \
	  go run ./scripts/shots -url http://127.0.0.1:8091

.PHONY: help build demo demo-reset stop dev generate lint chromium-and-gdal test-database test bench fuzz faults soak mutate shots
