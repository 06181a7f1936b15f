//! What `make bench` runs; the figures stand in docs/benchmarks.md.
