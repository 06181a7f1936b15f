//! Pictures as devices write them, whole and broken.

use std::io::Cursor;

use formats::picture::{ending, is_drawn, read, write, write_drawn};
use image::{DynamicImage, ImageFormat, Luma, Rgb, RgbImage};

const WIDE: u32 = 320;
const HIGH: u32 = 240;

/// Every pixel tells its place.
fn picture() -> RgbImage {
    RgbImage::from_fn(WIDE, HIGH, |x, y| Rgb([(x * 255 / WIDE) as u8, (y * 255 / HIGH) as u8, 90]))
}

fn saved(image: &DynamicImage, format: ImageFormat) -> Vec<u8> {
    let mut bytes = Cursor::new(Vec::new());
    image.write_to(&mut bytes, format).expect("written");
    bytes.into_inner()
}

fn message(bytes: &[u8]) -> String {
    read(bytes).expect_err("refused").to_string()
}

/// A sheet's worth of squares with the grain that a sensor leaves; sides are whole numbers of blocks.
fn sheet_like(seed: u32) -> RgbImage {
    let mut bits = seed | 1;
    RgbImage::from_fn(960, 640, |x, y| {
        bits = bits.wrapping_mul(1_664_525).wrapping_add(1_013_904_223);
        let square = (x / 96 + y / 80) * 24 % 200;
        let grain = (bits >> 24) % 5;
        Rgb([40 + square as u8 + grain as u8, 240 - square as u8 - grain as u8, 90 + grain as u8])
    })
}

/// A picture that a simulated device drew says so however it is saved, and is read as any other (its checksum is right,
/// or no decoder would take it).
#[test]
fn a_drawn_picture_says_so_however_it_is_saved() {
    let is_drawn = |bytes: &[u8]| is_drawn(bytes, &read(bytes).expect("a picture").raster);
    let size = (960, 640);
    let jpeg = |image: &DynamicImage| {
        let mut bytes = Vec::new();
        let encoder = image::codecs::jpeg::JpegEncoder::new_with_quality(&mut bytes, 85);
        image.write_with_encoder(encoder).expect("written");
        bytes
    };
    for (as_jpeg, name) in [(false, "png"), (true, "jpg")] {
        let plain = write(size, sheet_like(7).as_raw(), as_jpeg).expect("written");
        let drawn = write_drawn(size, sheet_like(7).as_raw(), as_jpeg).expect("written");
        assert!(is_drawn(&drawn) && !is_drawn(&plain), "{name}");
        assert_eq!((ending(&drawn), ending(&plain)), (name, name));
        // Nobody sees it: no pixel is moved by more than a step, and no square at all.
        let [one, other] =
            [&plain, &drawn].map(|bytes| image::load_from_memory(bytes).expect("read").into_rgb8());
        let off =
            one.iter().zip(other.iter()).map(|(one, other)| f64::from(*other) - f64::from(*one));
        assert!(as_jpeg || off.clone().all(|off| off.abs() <= 1.0));
        assert!(as_jpeg || (off.sum::<f64>() / one.len() as f64).abs() < 0.02);
        // Saved anew by another program the comment is gone, and the pixels are there.
        let other = DynamicImage::ImageRgb8(other);
        let ways =
            [other.clone(), other.rotate90(), other.rotate180(), other.rotate270(), other.fliph()];
        for (way, image) in ways.iter().enumerate() {
            let files = match way {
                0 => vec![saved(image, ImageFormat::Png), jpeg(image)],
                _ => vec![saved(image, ImageFormat::Tiff)],
            };
            assert!(files.iter().all(|bytes| is_drawn(bytes)), "{name} {way}");
        }
        // A comment behind others, however long they are.
        let long = [&drawn[..2], &[0xff, 0xfe, 0x80, 0], &[b' '; 0x7ffe], &drawn[2..]].concat();
        assert!(!as_jpeg || is_drawn(&long));
    }
    for seed in 0..20 {
        let plain = picture::Raster::new(960, 640, sheet_like(seed).into_raw()).expect("a raster");
        assert!(!formats::picture::is_drawn(b"", &plain), "{seed}");
    }
    assert_eq!(ending(b"II*\0"), "tif");
}

#[test]
fn eight_and_sixteen_bits_colour_and_grey_are_read() {
    let eight = DynamicImage::ImageRgb8(picture());
    let sixteen = DynamicImage::ImageRgb16(eight.to_rgb16());
    let grey = DynamicImage::ImageLuma8(eight.to_luma8());
    let grey_sixteen =
        DynamicImage::ImageLuma16(image::ImageBuffer::from_fn(WIDE, HIGH, |x, _| {
            Luma([(x * 200) as u16])
        }));
    for format in [ImageFormat::Png, ImageFormat::Tiff] {
        for image in [&eight, &sixteen, &grey, &grey_sixteen] {
            let file = read(&saved(image, format)).expect("a picture");
            assert_eq!((file.raster.width(), file.raster.height()), (320, 240));
            let same = image.to_rgb8().into_raw();
            assert_eq!(file.raster.rgb(), &same[..], "{format:?}");
        }
    }
    let jpeg = write((320, 240), picture().as_raw(), true).expect("a JPEG");
    let file = read(&jpeg).expect("a picture");
    let off = file.raster.rgb().iter().zip(picture().as_raw()).map(|(a, b)| a.abs_diff(*b)).max();
    assert!(off < Some(30));
}

/// Scans as scanner programs save them: packed or not, in strips or in one piece, with floating point; and an A4 page at
/// 600 dpi, which no library buffer holds twice.
#[test]
fn tiffs_are_read_however_they_are_packed() {
    use tiff::encoder::{Compression, DeflateLevel, TiffEncoder, colortype};
    let image = picture();
    let packed = |compression: Compression, rows: u32| {
        let mut bytes = Cursor::new(Vec::new());
        let mut encoder =
            TiffEncoder::new(&mut bytes).expect("a file").with_compression(compression);
        let mut strips = encoder.new_image::<colortype::RGB8>(WIDE, HIGH).expect("a picture");
        strips.rows_per_strip(rows).expect("rows");
        strips.write_data(image.as_raw()).expect("written");
        bytes.into_inner()
    };
    let deflate = Compression::Deflate(DeflateLevel::Balanced);
    for (name, compression) in [
        ("plain", Compression::Uncompressed),
        ("LZW", Compression::Lzw),
        ("deflate", deflate),
        ("packbits", Compression::Packbits),
    ] {
        for rows in [1, 7, HIGH] {
            let read = read(&packed(compression, rows)).expect("a picture");
            assert_eq!(read.raster.rgb(), image.as_raw(), "{name} {rows}");
        }
    }
    let mut bytes = Cursor::new(Vec::new());
    let floats: Vec<f32> = image.as_raw().iter().map(|it| f32::from(*it) / 255.0).collect();
    let mut encoder = TiffEncoder::new(&mut bytes).expect("a file");
    encoder.write_image::<colortype::RGB32Float>(WIDE, HIGH, &floats).expect("written");
    assert_eq!(read(bytes.get_ref()).expect("a picture").raster.rgb(), image.as_raw());
    // Cut off, it says so.
    let whole = packed(Compression::Uncompressed, HIGH);
    assert!(read(&whole[..whole.len() / 2]).is_err());
    let (wide, high) = (4960_u32, 7016_u32);
    let page: Vec<u8> = (0..3 * wide as usize * high as usize).map(|at| (at % 251) as u8).collect();
    let mut bytes = Cursor::new(Vec::new());
    let mut encoder = TiffEncoder::new(&mut bytes).expect("a file");
    encoder.write_image::<colortype::RGB8>(wide, high, &page).expect("written");
    let read = read(bytes.get_ref()).expect("a picture");
    assert!(read.raster.rgb() == &page[..]);
}

/// What a phone puts behind the picture, a film with a JPEG's markers in it or not, is no part of it; a progressive one
/// too large to be read as a whole is told by its header.
#[test]
fn a_film_behind_a_photo_is_no_part_of_it() {
    let plain = write((320, 240), picture().as_raw(), true).expect("a JPEG");
    for film in [&b"\0\0\0\x18ftypmp42 \xff\xda\0\x0c more"[..], &[0; 4000], b"\xff\xd9\xff\xda"] {
        let photo = [&plain[..], film].concat();
        assert_eq!(
            read(&photo).expect("a picture").raster.rgb(),
            read(&plain).expect("one").raster.rgb()
        );
        assert!(message(&photo[..plain.len() / 2]).contains("ends too early"));
    }
    let frame = [
        0xff, 0xd8, 0xff, 0xc2, 0, 17, 8, 0x1d, 0x4c, 0x1d, 0x4c, 3, 1, 0x11, 0, 2, 0x11, 0, 3,
        0x11, 0,
    ];
    let large = [&frame[..], &[0xff, 0xd9]].concat();
    assert!(
        message(&large).contains("56 megapixels and is stored coarse first"),
        "{}",
        message(&large)
    );
}

/// A JPEG with an EXIF note that says how it is turned (CIPA DC-008, tag 0x0112).
fn turned(orientation: u8) -> Vec<u8> {
    let tiff = [
        b"II*\0\x08\0\0\0".as_slice(),
        &[1, 0, 0x12, 0x01, 3, 0, 1, 0, 0, 0, orientation, 0, 0, 0, 0, 0, 0, 0],
    ]
    .concat();
    with_note(&tiff)
}

/// One that says which device took it (tags 0x010f and 0x0110), in texts of more than three letters.
fn taken_by(maker: &str, model: &str) -> Vec<u8> {
    let texts = [maker, model].map(|text| [text.as_bytes(), b"\0"].concat());
    let mut place = 8 + 2 + 2 * 12 + 4;
    let mut tiff = [b"II*\0\x08\0\0\0".as_slice(), &[2, 0]].concat();
    for (tag, text) in [0x0f, 0x10].into_iter().zip(&texts) {
        tiff.extend([tag, 1, 2, 0]);
        tiff.extend(u32::try_from(text.len()).expect("short").to_le_bytes());
        tiff.extend(u32::try_from(place).expect("short").to_le_bytes());
        place += text.len();
    }
    with_note(&[&tiff[..], &[0; 4], &texts.concat()].concat())
}

fn with_note(tiff: &[u8]) -> Vec<u8> {
    let plain = write((320, 240), picture().as_raw(), true).expect("a JPEG");
    let note = [b"Exif\0\0".as_slice(), tiff].concat();
    let length = u16::try_from(note.len() + 2).expect("short").to_be_bytes();
    [&plain[..2], &[0xff, 0xe1], &length, &note, &plain[2..]].concat()
}

/// A scan that says which scanner made it, and that it lay on its side (TIFF 6.0, tags 272 and 274).
fn scan(model: Option<&str>) -> Vec<u8> {
    use tiff::encoder::{TiffEncoder, colortype};
    use tiff::tags::Tag;
    let mut bytes = Cursor::new(Vec::new());
    let mut encoder = TiffEncoder::new(&mut bytes).expect("a file");
    let mut page = encoder.new_image::<colortype::RGB8>(WIDE, HIGH).expect("a picture");
    if let Some(model) = model {
        page.encoder().write_tag(Tag::Model, model).expect("a name");
        page.encoder().write_tag(Tag::Orientation, 6_u16).expect("a turn");
    }
    page.write_data(picture().as_raw()).expect("written");
    bytes.into_inner()
}

/// Which device took a picture is said by its file, whatever else stands there.
#[test]
fn the_device_is_named_by_the_file() {
    let long = "x".repeat(300);
    for (maker, model, told) in [
        ("Tidewell", "Pocket 3", Some("Tidewell Pocket 3".to_owned())),
        ("Tidewell", "Tidewell Pocket 3", Some("Tidewell Pocket 3".into())),
        ("Tidewell Optics", "\u{7}     ", Some("Tidewell Optics".into())),
        ("      ", "  \u{7}   ", None),
        ("      ", &long, Some("x".repeat(60))),
    ] {
        assert_eq!(read(&taken_by(maker, model)).expect("a picture").device, told, "{maker:?}");
    }
    assert_eq!(read(&turned(1)).expect("a picture").device, None);
    assert_eq!(read(&scan(None)).expect("a picture").device, None);
    let scanned = read(&scan(Some("Tidewell Flatbed"))).expect("a picture");
    assert_eq!(scanned.device.as_deref(), Some("Tidewell Flatbed"));
    assert_eq!(scanned.size_shown(), [HIGH as usize, WIDE as usize], "a quarter turned");
    // Half a note says nothing, and the picture is read all the same.
    let mut broken = taken_by("Tidewell", "Pocket 3");
    broken[30] = 0xff;
    assert!(read(&broken).is_ok());
}

/// The eight ways a phone can be held: a place of the sensor comes to stand where a viewer shows it.
#[test]
fn every_rotation_is_honoured() {
    for orientation in 1..=8_u8 {
        let bytes = turned(orientation);
        let file = read(&bytes).expect("a picture");
        // What a viewer shows: the library turns the pixels themselves.
        let mut decoder = image::ImageReader::with_format(Cursor::new(&bytes), ImageFormat::Jpeg)
            .into_decoder()
            .expect("a decoder");
        let wanted = image::ImageDecoder::orientation(&mut decoder).expect("a note");
        let mut shown = DynamicImage::from_decoder(decoder).expect("pixels");
        shown.apply_orientation(wanted);
        let shown = shown.into_rgb8();
        for (x, y) in [(20, 30), (300, 30), (20, 200), (160, 120)] {
            let at = 3 * (y * file.raster.width() + x);
            let [u, v] = file.shown([x as f64 + 0.5, y as f64 + 0.5]);
            let pixel = shown.get_pixel(u as u32, v as u32);
            for (one, other) in file.raster.rgb()[at..at + 3].iter().zip(pixel.0) {
                assert!(one.abs_diff(other) <= 2, "{orientation}: {x}, {y} is shown at {u}, {v}");
            }
        }
    }
}

#[test]
fn what_cannot_be_read_is_said() {
    let png = saved(&DynamicImage::ImageRgb8(picture()), ImageFormat::Png);
    let jpeg = turned(1);
    // A header that promises more pixels than anybody has memory for.
    let mut bomb = png.clone();
    bomb[16..24].copy_from_slice(&[0, 1, 0, 0, 0, 1, 0, 0]);
    let crc = crc(&bomb[12..29]);
    bomb[29..33].copy_from_slice(&crc.to_be_bytes());
    let tiny = saved(&DynamicImage::ImageRgb8(RgbImage::new(1, 1)), ImageFormat::Png);
    // A frame of four components, as printers' programs write it.
    let mut cmyk = jpeg.clone();
    let frame = cmyk.windows(2).position(|pair| pair == [0xff, 0xc0]).expect("a frame");
    cmyk[frame + 9] = 4;
    for (bytes, said) in [
        (b"\0\0\0\x18ftypheic".as_slice(), "Most compatible"),
        (b"GIF89a\x40\x01\xf0\0\0\0\0", "no PNG, JPEG or TIFF"),
        (b"", "no PNG, JPEG or TIFF"),
        (b"hello, I am no picture", "no PNG, JPEG or TIFF"),
        (&bomb, "4294 megapixels"),
        (&tiny, "1 × 1 pixels"),
        (&jpeg[..jpeg.len() / 2], "ends too early"),
        (&png[..png.len() / 2], "ends too early"),
        (&cmyk, "CMYK"),
        (&png[..40], ""),
        (&jpeg[..30], ""),
    ] {
        let told = message(bytes);
        assert!(told.contains(said) && !told.is_empty(), "{said}: {told}");
    }
}

/// CRC-32 of a PNG chunk (ISO/IEC 15948, annex D).
fn crc(bytes: &[u8]) -> u32 {
    !bytes.iter().fold(u32::MAX, |crc, byte| {
        (0..8).fold(crc ^ u32::from(*byte), |crc, _| {
            if crc & 1 == 1 { crc >> 1 ^ 0xedb8_8320 } else { crc >> 1 }
        })
    })
}
