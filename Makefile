.PHONY: start stop build test bench generate format lint

start: build
	@scripts/start

stop:
	@scripts/stop

build:
	@scripts/install
	@scripts/build

test:
	@scripts/test

bench:
	@scripts/install bench
	@scripts/build
	@scripts/bench

generate:
	go tool oapi-codegen -config api/generate.yaml api/openapi.yaml
	cd web && npx openapi-typescript ../api/openapi.yaml -o src/api/schema.d.ts

format:
	gofmt -w api blobs cmd core demo docs fonts intake jobs ocr output pictures press raster server store web workstation
	cd web && npx prettier --log-level warn --write .
	cd e2e && npx prettier --log-level warn --write .
