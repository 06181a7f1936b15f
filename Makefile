# make demo: build and start with the demo data.   make test: everything that is tested.
# make check: formats, lints and the long checks.   make bench: the figures of docs/benchmarks.md.

.PHONY: demo test check bench tools sqlx

demo:
	cargo build --profile demo
	target/demo/upright-swatch serve --demo

test: tools
	cargo test --workspace --lib --bins --tests --no-run
	scripts/run-tests

check: tools
	cargo fmt --all --check
	cargo clippy --workspace --all-targets -- --deny warnings
	scripts/sqlx-check
	cargo test --workspace --test tests -- --ignored --nocapture
	cargo test --workspace --test program large_file -- --ignored

bench:
	cargo bench -p benches
	@python3 benches/compare.py || true
	@python3 benches/recipes.py || true

# Chromium and ChromeDriver drive the pages; transicc (Little CMS) reads the CGATS export,
# pdftoppm (Poppler) the printed sheets.
tools:
	@scripts/install-tools

# Refreshes the committed query data after a change in edge/store.
sqlx:
	scripts/sqlx-prepare .sqlx
