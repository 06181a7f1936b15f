//! The program as it is started: its commands, and its pages in a browser. One file a subject, all in one program, so that
//! they are linked once and run beside each other.

mod analyse;
mod architecture;
mod bench;
mod common;
mod compare;
mod decide;
mod deciding;
mod full_disk;
mod large_file;
mod phones;
mod pictures;
mod read;
mod reference;
mod serve;
