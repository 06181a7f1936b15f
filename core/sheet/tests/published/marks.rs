//! The corner marks, module by module, against `tag36h11.csv`: drawn by OpenCV 4.10.0 (Apache 2.0) and
//! read as upright by the AprilTag library (BSD), script beside it.

use sheet::corner_marks;

#[test]
fn the_corner_marks_are_those_of_the_reference_library() {
    let table = include_str!("tag36h11.csv");
    let expected: Vec<&str> =
        table.lines().skip(1).filter_map(|line| line.split(',').nth(2)).collect();
    let text = |row: &[bool; 8]| row.map(|dark| if dark { '1' } else { '0' }).iter().collect();
    let found: Vec<String> = corner_marks().iter().flatten().map(text).collect();
    assert_eq!(found, expected);
}
