.PHONY: start stop build test busy bench hostile kills browsers generate format

start: build
	@scripts/start

stop:
	@scripts/stop

build:
	@scripts/install
	@scripts/build

test:
	@scripts/test

# The tests three times beside two programs that never rest.
busy:
	@proof/busy

bench:
	@scripts/install bench
	@scripts/build
	@scripts/bench

# What docs/security.md promises, tried on a server of its own: 15 minutes, and 5.
hostile: build
	@scripts/attack hostile

kills: build
	@scripts/attack kills

# The main path in Debian's Firefox and WebKitGTK.
browsers:
	@scripts/install browsers
	@scripts/build
	@scripts/attack browsers

generate:
	go tool oapi-codegen -config api/generate.yaml api/openapi.yaml
	cd web && npx openapi-typescript ../api/openapi.yaml -o src/base/api/schema.d.ts

format:
	gofmt -w $$(find . -name node_modules -prune -o -name "*.go" -print)
	cd web && npx prettier --log-level warn --write .
	cd proof/e2e && npx prettier --log-level warn --write . ../browsers
	cd recorder && npx prettier --log-level warn --write .
