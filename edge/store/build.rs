//! Rebuilds the embedded migrations when one is added.

fn main() {
    println!("cargo:rerun-if-changed=migrations");
}
