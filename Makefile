# Inner Compass: every task, from a fresh clone. Needs Go, Node 20 and a C compiler.
PORT ?= 8080
DATA ?=
VERSION := $(shell git describe --always --dirty 2>/dev/null || echo dev)
GO_SOURCES := $(shell find cmd core internal knowledge web/embed.go -type f)
WEB_SOURCES := $(shell find web/src web/public -type f) web/index.html web/vite.config.ts web/tsconfig.json
NPM_CI := npm ci --ignore-scripts --no-audit --no-fund --loglevel=error

.PHONY: demo dev build test test-go test-race test-e2e bench lint generate screenshots soak versions vulnerabilities clean

demo: build
	exec ./bin/innercompass demo --addr 127.0.0.1:$(PORT) $(if $(DATA),--data $(DATA))

# The page on http://127.0.0.1:5173 follows every change at once; the server is built and started anew when its code or the knowledge
# changes. Data stays in data/dev, or where DATA says.
dev: web/dist/index.html
	mkdir -p bin data
	cd web && npx concurrently --kill-others --names page,server "vite --host 127.0.0.1" \
		"nodemon --cwd .. --watch cmd --watch core --watch internal --watch knowledge --ext go,yaml --signal SIGTERM \
		--exec 'go build -o bin/innercompass-dev ./cmd/innercompass && exec bin/innercompass-dev demo --data $(or $(DATA),data/dev) --addr 127.0.0.1:8080 || exit 1'"

build: bin/innercompass

bin/innercompass: $(GO_SOURCES) web/dist/index.html go.mod
	go build -ldflags "-X main.version=$(VERSION)" -o $@ ./cmd/innercompass

web/dist/index.html: $(WEB_SOURCES) web/node_modules/.installed
	cd web && npm run --silent build

web/node_modules/.installed: web/package-lock.json
	cd web && $(NPM_CI) && touch node_modules/.installed

e2e/node_modules/.installed: e2e/package-lock.json
	cd e2e && $(NPM_CI) && touch node_modules/.installed

test: build lint versions test-go test-race test-e2e

test-go: web/node_modules/.installed
	COMPASS_KILLS=200 go test ./...

# What eight people do at once, a hundred times over, under the race detector (make soak: 200 times).
AT_ONCE := AtOnce|OneOfEight|WithoutARevision|BehindTheShopsBack|Event|CustomersDoor
ROUNDS ?= 100
test-race:
	COMPASS_ROUNDS=$(ROUNDS) go test -race -parallel 6 -timeout 25m -run '$(AT_ONCE)' ./internal/cases ./internal/takein ./internal/quoting ./internal/shop ./internal/httpapi

test-e2e: build e2e/node_modules/.installed
	./e2e/chromium.sh
	cd e2e && npx playwright test

bench: build e2e/node_modules/.installed
	go test -run '^$$' -bench . -benchmem ./...
	./e2e/chromium.sh
	cd e2e && npx playwright test --config playwright.bench.config.ts

lint: web/dist/index.html e2e/node_modules/.installed
	test -z "$$(gofmt -l cmd core internal knowledge web/embed.go)"
	go vet ./...
	go tool staticcheck $$(go list ./... | grep -v /httpapi/gen)
	cd web && npm run --silent typecheck && npm run --silent lint && npm run --silent format && npm run --silent contract
	cd e2e && npm run --silent typecheck && npm run --silent lint && npm run --silent format

generate: web/node_modules/.installed
	cd web && npm run --silent bundle
	cd api && go tool oapi-codegen --config codegen.yaml bundle.yaml
	cd web && npm run --silent generate

# The whole program under load and faults, on this machine alone: fifty people for MINUTES minutes, a hundred kills under load, fifty inside upgrades, slow clients, twenty thousand cases, a full drive.
MINUTES ?= 10
soak: web/dist/index.html
	COMPASS_SOAK=$(MINUTES) go test -count=1 -timeout 90m -v ./cmd/innercompass/soak
	$(MAKE) test-race ROUNDS=200
	COMPASS_KILLS=50 go test -count=1 -v -run 'Kill|AnEndedLink|TimeDoesNot' ./internal/store ./internal/clock

screenshots: build e2e/node_modules/.installed
	./e2e/chromium.sh
	command -v pdftoppm >/dev/null || apt-get install -y -qq poppler-utils
	cd e2e && npx playwright test --config playwright.screenshots.config.ts

# Every library that the app is made of, with its version and, for Go's, the day of its release: what a list of vulnerabilities is held against.
versions: web/node_modules/.installed
	@go list -deps -f '{{with .Module}}{{if not .Main}}go   {{.Path}} {{.Version}} {{with .Time}}{{.Format "2006-01-02"}}{{end}}{{end}}{{end}}' ./cmd/innercompass | sort -u
	@cd web && node -p 'Object.entries(require("./package-lock.json").packages).filter(([k, v]) => k && !v.dev).map(([k, v]) => "npm  " + k.replace(/^.*node_modules\//, "") + " " + v.version).sort().join("\n")'

# Against the published list; it has to be reachable (vuln.go.dev, or GOVULNDB=file:///a/copy).
vulnerabilities:
	go run golang.org/x/vuln/cmd/govulncheck@latest ./...

clean:
	rm -rf bin web/dist/assets web/dist/*.html* web/dist/*.svg* web/node_modules e2e/node_modules
