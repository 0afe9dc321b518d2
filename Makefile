# make demo    installs what is missing, starts PostgreSQL, builds, makes the demo school and serves it
# make school  the same with a school of your own, empty at first
# make test    everything that CI does
export CGO_ENABLED := 0
export GOFLAGS := -trimpath

.PHONY: demo demo-reset school test build api screenshots bench behind licences

demo:
	@scripts/packages demo
	@$(MAKE) --no-print-directory build
	@scripts/demo

school:
	@scripts/packages demo
	@$(MAKE) --no-print-directory build
	@scripts/school

demo-reset:
	@scripts/postgres remove demo
	@$(MAKE) --no-print-directory demo

test:
	@scripts/packages test
	@$(MAKE) --no-print-directory build
	@scripts/test

build: web/dist/index.html
	go build -o bin/solfeggio ./cmd/solfeggio

web/node_modules/.package-lock.json: web/package-lock.json
	cd web && npm ci --no-audit --no-fund

web/dist/index.html: web/node_modules/.package-lock.json $(shell find docs/guide docs/screenshots web/src web/public web/index.html web/vite.config.ts web/tsconfig.json -type f)
	cd web && npm run build
	@touch web/dist/.gitkeep

# The typed client of the front end, from the Go types of the API.
api: web/node_modules/.package-lock.json
	go run ./cmd/solfeggio openapi > openapi.json
	cd web && npm run api

# The pictures of the README, from the demo school with the clock fixed.
screenshots: build
	@scripts/packages test
	@scripts/test screenshots

# The figures of docs/performance.md.
bench: build
	@scripts/packages test
	@scripts/test bench

# Which packages we use under which licences, for the help page; after a package was added or its edition changed.
licences: web/node_modules/.package-lock.json
	@scripts/licences

# Which of the packages that we use have newer editions.
behind: web/node_modules/.package-lock.json
	@go list -m -f '{{if not (or .Indirect .Main)}}{{.Path}}{{end}}' all | sed '/^$$/d' | xargs -n 1 go list -m -u -f '{{if .Update}}{{.Path}} {{.Version}}, there is {{.Update.Version}}{{end}}' 2>/dev/null | sed '/^$$/d'
	@cd web && npm outdated || true
