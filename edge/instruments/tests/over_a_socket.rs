//! The line protocol, from both ends: what goes right, and everything that can go wrong.

use std::io::Write as _;
use std::net::{SocketAddr, TcpListener};
use std::time::{Duration, Instant};

use bench::Tile;
use colour::{Conditions, Lab, Reflectance, ciede2000};
use instruments::simulated::{
    Fault, MeterDevice, MeterHabits, MixingTable, ScaleDevice, SimulatedBench, SimulatedMeter,
};
use instruments::{DeviceError, Meter, RemoteMeter, RemoteScale, Scale, Specimen};
use mixing::Geometry;
use study::{Backing, FilmKind, State, TubeLabel};

/// No question may take longer, whatever the device does.
const PATIENCE: Duration = Duration::from_secs(8);

fn meter(habits: MeterHabits) -> (MeterDevice, RemoteMeter) {
    let listener = TcpListener::bind("127.0.0.1:0").expect("a port");
    let simulated = SimulatedMeter::new(7, MixingTable::default());
    let device = MeterDevice::start(listener, simulated, habits).expect("start");
    let driver = RemoteMeter::at(device.running().address());
    (device, driver)
}

fn blue(occasion: u64) -> Specimen {
    let label = TubeLabel { name: "Blue".into(), maker: "Tidewell".into(), code: "PB29".into() };
    Specimen {
        swatch: 1,
        pile: 0,
        occasion,
        paints: vec![(label, 1.0)],
        by_eye: false,
        backing: Backing::Paper,
        film: FilmKind::Full,
        state: State::Dry,
    }
}

#[test]
fn a_reading_comes_through_the_socket_as_the_meter_took_it() {
    let (device, mut driver) = meter(MeterHabits::default());
    assert_eq!(driver.name(), "simulated meter");
    assert_eq!((driver.geometry(), driver.repeatability()), (Geometry::SphereIncluded, 0.03));
    let mut alone = SimulatedMeter::new(7, MixingTable::default());
    for occasion in 0..4 {
        let specimen = blue(occasion);
        let read = driver.read(&specimen).expect("a reading");
        assert_eq!(read, alone.read(&specimen).expect("a reading"));
        assert_eq!(device.given().last(), Some(&(specimen, read)));
    }
    assert_eq!(device.given().len(), 4);
}

/// The lamp fades by 0.4 % a reading: the white tile shows it after a few, and a calibration cures
/// it. Every fifth reading fails, and nothing is given then.
#[test]
fn a_meter_drifts_and_fails_now_and_then() {
    let (device, mut driver) = meter(MeterHabits { fails_every: 5, drift: 0.004 });
    let lab = |read: &Reflectance| Lab::from_reflectance(read, Conditions::D65_10);
    let tile = |driver: &mut RemoteMeter, at| driver.read(&Specimen::tile(Tile::White, at));
    let first = lab(&tile(&mut driver, 0).expect("a reading"));
    for occasion in 0..3 {
        driver.read(&blue(occasion)).expect("a reading");
    }
    let failed = tile(&mut driver, 1).expect_err("the fifth");
    assert!(matches!(&failed, DeviceError::Failed { device: "meter", .. }), "{failed}");
    let later = lab(&tile(&mut driver, 1).expect("tried once more"));
    assert!(ciede2000(first, later).value() > 0.3);
    device.drift(0.0);
    let cured = lab(&tile(&mut driver, 2).expect("a reading"));
    assert!(ciede2000(first, cured).value() < 0.15);
    assert_eq!(device.given().len(), 6);
}

#[test]
fn rubbish_is_told_apart_from_silence_and_neither_lasts() {
    let (device, mut driver) = meter(MeterHabits::default());
    driver.read(&blue(0)).expect("a reading");
    // The fault, and what is said of it; `None` is a silent meter.
    let cases = [
        (Fault::Unplugged, None),
        (Fault::Silent, None),
        (Fault::HalfLine, Some("half a line")),
        (Fault::NotANumber, Some("reflectance at 380 nm is NaN")),
        (Fault::Seven, Some("reflectance at 380 nm is 7")),
        (Fault::Flood, Some("a flood without end")),
    ];
    for (fault, said) in cases {
        device.running().set(fault);
        let began = Instant::now();
        let error = driver.read(&blue(1)).expect_err("nothing");
        assert!(began.elapsed() < PATIENCE, "{fault:?}");
        match (&error, said) {
            (DeviceError::Silent("meter"), None) => {}
            (DeviceError::Rubbish { device: "meter", found }, Some(said)) => {
                assert!(found.contains(said), "{fault:?}: {found}");
            }
            _ => panic!("{fault:?}: {error}"),
        }
        // Once it is well, it is used as before.
        device.running().set(Fault::None);
        driver.read(&blue(1)).unwrap_or_else(|error| panic!("after {fault:?}: {error}"));
    }
    assert_eq!(device.given().len(), 1 + cases.len());
}

/// Whatever stands at the other end of the line: each answers one connection with this text.
#[test]
fn a_device_that_is_none_is_found_out() {
    let answering = |text: &'static [u8]| -> SocketAddr {
        let listener = TcpListener::bind("127.0.0.1:0").expect("a port");
        let address = listener.local_addr().expect("its address");
        std::thread::spawn(move || {
            for stream in listener.incoming().flatten() {
                let _ = (&stream).write_all(text);
            }
        });
        address
    };
    let greetings: [(&[u8], &str); 9] = [
        (b"HTTP/1.1 400 Bad Request\n", "is no meter's greeting"),
        (b"METER 2 simulated d:8-included 0.03 x\n", "is no meter's greeting"),
        (b"METER 1 simulated d:8-included NaN x\n", "is no meter's greeting"),
        // What is typed or read from a file stays apart from what a device gave.
        (b"METER 1 real 45:0 0.1 By hand\n", "is no meter's greeting"),
        (b"METER 1 real 45:0 0.1 file \n", "is no meter's greeting"),
        (b"METER 1 real 45:0 0.1 \xe2\x80\xaeretem\n", "is no meter's greeting"),
        (b"METER 1 real 45:0 0.1 x\nSPECTRUM 1\n", "more than was asked for"),
        (b"\xff\xfe\n", "no text"),
        (b"METER 1", "half a line"),
    ];
    for (text, said) in greetings {
        let error = RemoteMeter::at(answering(text)).read(&blue(0)).expect_err("no meter");
        assert!(error.to_string().contains(said), "{error}");
    }
    let nobody = TcpListener::bind("127.0.0.1:0").expect("a port").local_addr().expect("free");
    assert_eq!(RemoteMeter::at(nobody).read(&blue(0)), Err(DeviceError::Silent("meter")));
    assert_eq!(RemoteScale::at(nobody).tare(), Err(DeviceError::Silent("scale")));
}

#[test]
fn a_scale_settles_is_tared_and_shows_no_more_than_its_last_digit() {
    let listener = TcpListener::bind("127.0.0.1:0").expect("a port");
    let device = ScaleDevice::start(listener, 3, (0.01, 0.02)).expect("start");
    let mut scale = RemoteScale::at(device.running().address());
    assert_eq!((scale.name(), scale.resolution()), ("simulated scale", 0.01));
    let mut off = Vec::new();
    for wanted in [0.75, 0.25, 6.0, 2.0, 0.1] {
        scale.tare().expect("tared");
        let grams = scale.weigh(wanted).expect("a weight");
        assert!((grams * 100.0 - (grams * 100.0).round()).abs() < 1e-9, "{grams}");
        off.push(((grams - wanted) / wanted).abs());
    }
    assert!(off.iter().all(|off| *off < 0.1) && off.iter().any(|off| *off > 0.0), "{off:?}");
    for fault in [Fault::Seven, Fault::NotANumber, Fault::Flood] {
        device.running().set(fault);
        let error = scale.weigh(1.0).expect_err("no weight");
        assert!(matches!(error, DeviceError::Rubbish { device: "scale", .. }), "{error}");
    }
    device.running().set(Fault::None);
    scale.tare().expect("tared");
    assert!((scale.weigh(1.0).expect("a weight") - 1.0).abs() < 0.1);
}

#[test]
fn two_drivers_share_a_device() {
    let simulated = SimulatedMeter::new(5, MixingTable::default());
    let bench = SimulatedBench::default().with_meter(simulated).expect("start");
    let address = bench.meter.expect("a meter").running().address();
    let readers = [0_u64, 1].map(|reader| {
        std::thread::spawn(move || {
            let mut driver = RemoteMeter::at(address);
            (0..10).map(|at| driver.read(&blue(100 * reader + at))).filter(Result::is_ok).count()
        })
    });
    let read: usize = readers.into_iter().map(|it| it.join().expect("ends")).sum();
    assert_eq!(read, 20);
}
