//! A trial on a printed sheet, painted with hidden paints, and its picture.

use std::collections::HashMap;
use std::fs;
use std::process::Command;

use colour::{Conditions, Lab, Reflectance, StatedLab, ciede2000};
use formats::sheet::{SheetFile, expect};
use instruments::simulated::picture::{
    PaintedSheet, PaintedSquare, PictureDevice, PictureFault, PrintedPage, Shot, take,
};
use instruments::simulated::{MixingTable, SimulatedMeter, tubes_alone};
use instruments::{Meter as _, Specimen};
use picture::{Known, PictureReading, PlacedByHand, Raster, read};
use plan::prior::Prior;
use plan::steps::Steps;
use plan::{Chart, Design, Naming, Plan, StepChoice, Supply, Swatch, Tests, Thinning};
use sheet::{LAYOUT, Paper, Sheet, SheetCode, lay_out};
use study::{
    Backing, FilmKind, FromPicture, Measured, Protocol, RatioError, Reading, ReadingSource, State,
    Study, TubeLabel, TubeRef,
};

pub const CONDITIONS: Conditions = Conditions::D65_10;
const DPI: &str = "300";
const PALETTE: [(&str, &str); 9] = [
    ("Lantern Yellow", "PY74"),
    ("Canvas Yellow Deep", "PY83"),
    ("Organ Orange", "PO73"),
    ("Saddle Red", "PR254"),
    ("Plume Magenta", "PR122"),
    ("Dusk Violet", "PV23"),
    ("Canopy Ultramarine", "PB29"),
    ("Awning Blue", "PB15:3"),
    ("Leaf Green", "PG36 PY83"),
];

/// A sheet with its squares and their paint.
pub struct Bench {
    pub file: SheetFile,
    specimens: Vec<Specimen>,
    swatches: Vec<Swatch>,
    page: PrintedPage,
    meter: SimulatedMeter,
    /// An earlier trial of the tubes alone, which tells their K and S.
    earlier: Option<Study>,
    tubes: Vec<TubeLabel>,
    /// Squares that are never known.
    never_known: Vec<u32>,
    /// Its marks and its code are not looked at: somebody said where it lies.
    by_hand: Option<PlacedByHand>,
    /// No spectra are told that its paints may have.
    pub without_likely: bool,
    /// The paper is brightened: it throws back more blue than falls on it.
    pub is_brightened: bool,
    /// What squares should look like is predicted from the earlier trial, and not known.
    pub is_expected_by_k_and_s: bool,
    /// These two hold each other's paint.
    exchanged: Option<[u32; 2]>,
    /// Paint runs so far over the edges of every third square, mm.
    pub over_the_edge_mm: f64,
}

impl Bench {
    /// A star: one tube with all others, each neat and with white.
    pub fn new(paint: u64, tubes: usize) -> Self {
        Self::of(paint, labels(paint, tubes))
    }

    /// The same with another maker's tube of the first one's pigment, at another load.
    pub fn with_a_twin(paint: u64, tubes: usize) -> Self {
        let mut labels = labels(paint, tubes);
        labels.insert(1, TubeLabel { maker: "Nettlebed".into(), ..labels[0].clone() });
        Self::of(paint, labels)
    }

    fn of(paint: u64, mut labels: Vec<TubeLabel>) -> Self {
        let tubes = labels.len();
        labels.push(TubeLabel {
            name: "White".into(),
            maker: "Tidewell".into(),
            code: "PW6".into(),
        });
        let white = TubeRef(tubes);
        let all: Vec<TubeRef> = (0..tubes).map(TubeRef).collect();
        let design = Design {
            charts: vec![
                Chart::Tints(all.clone()),
                Chart::Star {
                    tested: vec![all[0]],
                    references: all[1..].to_vec(),
                    steps: StepChoice::Fixed(Steps::Own(vec![(3.0, 1.0), (1.0, 3.0)])),
                    third: None,
                },
            ],
            white: Some(white),
            thinning: Thinning::White {
                alone: vec![1.0, 4.0, 16.0],
                mixtures: vec![4.0],
                film: false,
            },
            tests: Tests { opacity: true, lift: false, wet: false },
            anchors: false,
            repeats: 1,
            supply: Supply::default(),
            ..Design::default()
        };
        let prior = Prior::nothing(labels.len(), CONDITIONS);
        let plan = Plan::new(&design, &prior, &vec![None; labels.len()]).expect("a plan");
        let naming = Naming { tubes: labels, white: Some(white), ..Naming::default() };
        // Small squares, so that one sheet holds the trial.
        let sheets = lay_out(&plan, &naming, Paper::A4, 12.0).expect("sheets");
        let sheet = &sheets[0];
        let Sheet { number, of, paper, side_mm, .. } = *sheet;
        let code =
            SheetCode { trial: 7, edition: 1, layout: LAYOUT, sheet: number, of, paper, side_mm };
        let file = SheetFile::of(sheet, &code, &plan.swatches, &naming);
        let specimens = sheet.cells.iter().filter(|cell| !cell.again).map(|cell| {
            let swatch = plan.swatch(cell.number).expect("a swatch");
            let parts = swatch.mixture.parts().iter();
            Specimen {
                swatch: u64::from(cell.number.0),
                pile: 0,
                occasion: 0,
                paints: parts.map(|it| (naming.tubes[it.tube.0].clone(), it.parts)).collect(),
                by_eye: false,
                backing: swatch.backing,
                film: swatch.film,
                state: State::Dry,
            }
        });
        let page = drawn(&formats::sheet::pdf(&[sheet.drawing("Pictures", &code)]).expect("a PDF"));
        let meter = SimulatedMeter::new(paint, MixingTable::default());
        let specimens = specimens.collect();
        let swatches = plan.swatches;
        Self {
            specimens,
            swatches,
            file,
            page,
            meter,
            earlier: None,
            tubes: naming.tubes,
            never_known: Vec::new(),
            by_hand: None,
            without_likely: false,
            is_brightened: false,
            is_expected_by_k_and_s: false,
            exchanged: None,
            over_the_edge_mm: 0.0,
        }
    }

    /// An earlier trial of the tubes alone, read by a meter.
    pub fn earlier_trial(&mut self) -> Study {
        tubes_alone(&mut self.meter, &self.tubes).expect("a trial")
    }

    /// K and S of all tubes are known from an earlier trial.
    pub fn with_k_and_s(mut self) -> Self {
        self.earlier = Some(self.earlier_trial());
        self
    }

    /// Somebody puts the four corners where they are in this shot, each off by half a millimetre.
    pub fn place_by_hand(&mut self, shot: &Shot, is_scan: bool) {
        let cells = &self.file.cells;
        let outermost = [[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]].map(|[right, low]| {
            let corner = [right * self.file.width_mm, low * self.file.height_mm];
            let far = |at: &usize| (cells[*at].x - corner[0]).hypot(cells[*at].y - corner[1]);
            (0..cells.len()).min_by(|a, b| far(a).total_cmp(&far(b))).expect("a square")
        });
        let mm = outermost.map(|at| {
            let cell = &cells[at];
            [cell.x + cell.side / 2.0, cell.y + cell.side / 2.0]
        });
        let px = outermost.map(|at| shot.centres[at]);
        let per_mm = (px[1][0] - px[0][0]).hypot(px[1][1] - px[0][1])
            / (mm[1][0] - mm[0][0]).hypot(mm[1][1] - mm[0][1]);
        let careless = [[0.5, -0.3], [-0.4, 0.5], [0.5, 0.5], [-0.5, 0.2]];
        let placed = |at: usize| {
            let to = |axis: usize| px[at][axis] + per_mm * careless[at][axis];
            (mm[at], [to(0), to(1)])
        };
        self.by_hand = Some(PlacedByHand { places: [0, 1, 2, 3].map(placed), is_scan });
    }

    /// Bare paper as the device sees it.
    fn paper(&self) -> Reflectance {
        let plain = self.backing(Backing::Paper);
        let nm = |band: usize| f64::from(colour::wavelength(band));
        let more = |band| 0.22 * (-0.5 * ((nm(band) - 440.0) / 18.0).powi(2)).exp();
        let bright = Reflectance::from_fn(|band| plain.bands()[band] + more(band));
        if self.is_brightened { bright } else { plain }
    }

    fn backing(&self, backing: Backing) -> Reflectance {
        let bare = Specimen {
            swatch: 0,
            pile: 0,
            occasion: 0,
            paints: Vec::new(),
            by_eye: false,
            backing,
            film: FilmKind::Full,
            state: State::Dry,
        };
        self.meter.truth(&bare).expect("a backing")
    }

    /// The colours as the meter would have them, without its noise, by number.
    pub fn truth(&self) -> HashMap<u32, Lab> {
        let lab = |it: &Specimen| {
            Lab::from_reflectance(&self.meter.truth(it).expect("a curve"), CONDITIONS)
        };
        self.specimens.iter().map(|it| (it.swatch as u32, lab(it))).collect()
    }

    pub fn photograph(&self, device: PictureDevice, faults: &[PictureFault], seed: u64) -> Shot {
        let place = |number: u64| self.specimens.iter().find(|it| it.swatch == number);
        let held = |own: &Specimen| {
            let [one, other] = self.exchanged.map(|pair| pair.map(u64::from)).unwrap_or_default();
            let number = match own.swatch {
                number if number == one => other,
                number if number == other => one,
                number => number,
            };
            place(number).unwrap_or(own).clone()
        };
        let squares = self.file.cells.iter().zip(&self.specimens).map(|(cell, specimen)| {
            let specimen = &held(specimen);
            let over = if cell.number % 3 == 0 { self.over_the_edge_mm } else { 0.0 };
            // A card lies where the white backing is read; paper and printed black are the page's own.
            let painted = !specimen.paints.is_empty() || specimen.backing == Backing::White;
            let lifted = Specimen { state: State::Lifted, ..specimen.clone() };
            let lifted = cell.half_lifted.then(|| self.meter.truth(&lifted).expect("a curve"));
            PaintedSquare {
                number: cell.number,
                area_mm: [cell.x - over, cell.y - over, cell.side + 2.0 * over],
                paint: painted.then(|| self.meter.truth(specimen).expect("a curve")),
                other_half: lifted,
                speckle: 0.0,
            }
        });
        let sheet = PaintedSheet {
            page: self.page.clone(),
            size_mm: [self.file.width_mm, self.file.height_mm],
            paper: self.paper(),
            black: self.backing(Backing::Black),
            squares: squares.collect(),
        };
        take(&sheet, device, faults, seed)
    }

    /// Two squares over paper are painted with each other's paint, ΔE00 8 or more apart.
    pub fn exchange_two(&mut self, seed: u64) -> [u32; 2] {
        let truth = self.truth();
        let paper = Backing::Paper.to_string();
        let painted =
            self.file.cells.iter().filter(|cell| {
                cell.backing == paper && !cell.tubes.is_empty() && !cell.half_lifted
            });
        let painted: Vec<u32> = painted.map(|cell| cell.number).collect();
        let one = painted[7 * seed as usize % painted.len()];
        let is_other = |it: &&u32| ciede2000(truth[&one], truth[*it]).value() >= 8.0;
        let others: Vec<u32> = painted.iter().filter(is_other).copied().collect();
        let pair = [one, others[11 * seed as usize % others.len()]];
        self.exchanged = Some(pair);
        pair
    }

    /// Two of these squares of clearly different colours.
    pub fn exchanged(&self, anchors: &[u32]) -> [u32; 2] {
        let truth = self.truth();
        let coloured = |number: &&u32| (35.0..75.0).contains(&truth[number].l);
        let mut coloured = anchors.iter().filter(coloured);
        let one = coloured.next().expect("a coloured square");
        let far = |other: &&u32| ciede2000(truth[one], truth[*other]).value();
        let other = coloured.max_by(|a, b| far(a).total_cmp(&far(b))).expect("another");
        [*one, *other]
    }

    /// Reads a shot with some squares known, each to σ.
    pub fn read(&mut self, shot: &Shot, anchors: &[u32], sigma: f64) -> PictureReading {
        self.read_with(shot, anchors, sigma, None)
    }

    /// The same; two of the known squares are taken for each other.
    pub fn read_with(
        &mut self,
        shot: &Shot,
        anchors: &[u32],
        sigma: f64,
        exchanged: Option<[u32; 2]>,
    ) -> PictureReading {
        let other = |number: u32| match exchanged {
            Some([one, other]) if number == one => other,
            Some([one, other]) if number == other => one,
            _ => number,
        };
        let known = anchors.iter().map(|number| {
            let own = other(*number);
            let specimen = self.specimens.iter().find(|it| it.swatch == u64::from(own));
            let read = self.meter.read(specimen.expect("a square")).expect("a reading");
            let lab = Lab::from_reflectance(&read, CONDITIONS);
            (*number, Known { lab, sigma, spectrum: Some(read) })
        });
        let mut target = self.file.target(&known.collect());
        // As the command does it, with what is known of the tubes: nothing, or an earlier trial.
        let nothing = self.study(&HashMap::new());
        expect(&mut target, &self.file, self.earlier.as_ref().unwrap_or(&nothing));
        if self.without_likely {
            target.likely.clear();
        }
        if !self.is_expected_by_k_and_s {
            let truth = self.truth();
            for cell in &mut target.cells {
                cell.expected = truth.get(&cell.number).copied();
            }
        }
        if self.by_hand.is_some() {
            target.by_hand = self.by_hand;
            target.marks.clear();
            target.code.clear();
        }
        let raster = Raster::new(shot.width, shot.height, shot.rgb.clone()).expect("a picture");
        read(&raster, &target, CONDITIONS)
    }

    /// Reads a shot with so many squares known that can be read.
    pub fn read_by(&mut self, shot: &Shot, count: usize, sigma: f64) -> (PictureReading, Vec<u32>) {
        let mut asked = count;
        loop {
            let anchors = self.anchors(asked);
            let reading = self.read(shot, &anchors, sigma);
            let used = reading.calibration.as_ref().map_or(count, |it| it.anchors);
            if used >= count || asked >= count + 8 {
                return (reading, anchors);
            }
            asked += count - used;
        }
    }

    /// Nothing with this tube is known; gives the numbers of its squares.
    pub fn never_know(&mut self, tube: TubeRef) -> Vec<u32> {
        let holds = |it: &&Swatch| it.mixture.parts_of(tube) > 0.0;
        self.never_known = self.swatches.iter().filter(holds).map(|it| it.number.0).collect();
        self.never_known.clone()
    }

    /// Half of every tube over paper is lifted.
    pub fn lift(&mut self) {
        for cell in &mut self.file.cells {
            let is_alone = cell.tubes.len() == 1 && cell.white_parts == 0.0;
            cell.half_lifted = is_alone && cell.backing == Backing::Paper.to_string();
        }
    }

    /// What lifting really leaves of a square, percent.
    pub fn staining(&self, number: u32) -> f64 {
        let square = self.specimens.iter().find(|it| it.swatch == u64::from(number));
        let square = square.expect("a square");
        let lab = |reflectance| Lab::from_reflectance(&reflectance, CONDITIONS);
        let paper = lab(self.backing(Backing::Paper));
        let lifted = Specimen { state: State::Lifted, ..square.clone() };
        let off = |it| ciede2000(lab(self.meter.truth(it).expect("a curve")), paper).value();
        100.0 * off(&lifted) / off(square)
    }

    /// The trial as it would be with these colours of its squares, each with what it rests on where it is of a picture.
    pub fn study(&self, colours: &HashMap<u32, (Lab, Option<FromPicture>)>) -> Study {
        let reading = |swatch: &Swatch| {
            let (lab, from_picture) = colours.get(&swatch.number.0)?.clone();
            let source = match &from_picture {
                Some(_) => ReadingSource::Scan,
                None => ReadingSource::Meter,
            };
            Some(Reading {
                ratio_error: RatioError::AsStated,
                measured: Measured::Lab(StatedLab { lab, conditions: CONDITIONS }),
                source,
                from_picture,
                simulated: true,
                mixture: swatch.mixture.clone(),
                state: State::Dry,
                backing: swatch.backing,
                film: swatch.film,
                repeat: 1,
                void: None,
                line: None,
            })
        };
        Study {
            conditions: CONDITIONS,
            protocol: Protocol { geometry: self.meter.geometry(), ..Protocol::default() },
            tubes: self.tubes.clone(),
            white: Some(TubeRef(self.tubes.len() - 1)),
            readings: self.swatches.iter().filter_map(reading).collect(),
        }
    }

    /// A square has paint in it, and not white alone.
    pub fn holds_colour(&self, number: u32) -> bool {
        let held = self.swatches.iter().find(|it| it.number.0 == number);
        held.is_some_and(|it| it.mixture.parts().iter().any(|it| it.tube.0 + 1 < self.tubes.len()))
    }

    /// What the squares really hold.
    pub fn swatches(&self) -> &[Swatch] {
        &self.swatches
    }

    /// Wanted anchors, then others in turn.
    pub fn anchors(&self, count: usize) -> Vec<u32> {
        let wanted = self.file.anchors.iter().copied();
        let others = self.file.cells.iter().map(|cell| cell.number);
        let others = others.filter(|it| !self.file.anchors.contains(it)).step_by(2);
        let known = wanted.chain(others).filter(|it| !self.never_known.contains(it));
        known.take(count).collect()
    }
}

/// Tubes of another part of the palette for each paint.
fn labels(paint: u64, tubes: usize) -> Vec<TubeLabel> {
    let palette = PALETTE.iter().cycle().skip(paint as usize % PALETTE.len()).take(tubes);
    let label = |(name, code): &(&str, &str)| TubeLabel {
        name: format!("{name} {paint}"),
        maker: "Tidewell".into(),
        code: (*code).into(),
    };
    palette.map(label).collect()
}

/// How far colours and places are off, over several pictures.
#[derive(Default)]
pub struct Tally {
    /// ΔE00 and the stated half-width of every square that is no anchor.
    told: Vec<(f64, f64)>,
    pub cells: usize,
    pub farthest_mm: f64,
}

impl Tally {
    pub fn add(&mut self, bench: &Bench, reading: &PictureReading, shot: &Shot, anchors: &[u32]) {
        let truth = bench.truth();
        let others = reading.cells.iter().filter(|cell| !anchors.contains(&cell.number));
        self.told.extend(
            others.filter_map(|cell| {
                Some((ciede2000(cell.lab?, truth[&cell.number]).value(), cell.u?))
            }),
        );
        self.cells = self.told.len();
        let camera = reading.camera.as_ref().expect("a camera");
        let middle = [bench.file.width_mm / 2.0, bench.file.height_mm / 2.0];
        let [per_mm, _] = camera.pixels_per_mm(middle);
        for (cell, centre) in reading.cells.iter().zip(&shot.centres) {
            let px = cell.px.expect("a place");
            let off = (px[0] - centre[0]).hypot(px[1] - centre[1]) / per_mm;
            self.farthest_mm = self.farthest_mm.max(off);
        }
    }

    /// ΔE00 at some shares of all squares.
    pub fn misses<const N: usize>(&self, shares: [f64; N]) -> [f64; N] {
        let mut sorted: Vec<f64> = self.told.iter().map(|(off, _)| *off).collect();
        sorted.sort_by(f64::total_cmp);
        shares.map(|share| sorted[(share * (sorted.len() - 1) as f64).round() as usize])
    }

    /// Those of other pictures too.
    pub fn merge(&mut self, other: Self) {
        self.told.extend(other.told);
        self.cells = self.told.len();
        self.farthest_mm = self.farthest_mm.max(other.farthest_mm);
    }

    /// All of it in a line.
    pub fn told(&self) -> String {
        let [median, high] = self.misses([0.5, 0.95]);
        let mut halves: Vec<f64> = self.told.iter().map(|(_, half)| *half).collect();
        halves.sort_by(f64::total_cmp);
        let (cells, inside) = (self.cells, self.inside());
        let half = halves[cells / 2];
        format!("{cells} squares, {median:.2}/{high:.2}, {inside:.3} inside, half-width {half:.1}")
    }

    /// The share of squares that lie within their half-width.
    pub fn inside(&self) -> f64 {
        let inside = self.told.iter().filter(|(off, half)| off <= half).count();
        inside as f64 / self.told.len() as f64
    }
}

/// The page as Poppler draws it.
fn drawn(pdf: &[u8]) -> PrintedPage {
    let folder = tempfile::tempdir().expect("a folder");
    let (file, page) = (folder.path().join("sheet.pdf"), folder.path().join("page"));
    fs::write(&file, pdf).expect("written");
    let done = Command::new("pdftoppm")
        .args(["-r", DPI, "-gray", "-singlefile"])
        .args([&file, &page])
        .status();
    assert!(done.expect("Poppler is there (make tools)").success());
    let bytes = fs::read(page.with_extension("pgm")).expect("a page");
    let mut words = bytes.splitn(4, |byte| byte.is_ascii_whitespace());
    let mut number = || -> usize {
        let word = words.next().expect("a head");
        std::str::from_utf8(word).expect("text").trim_start_matches("P5").parse().unwrap_or(0)
    };
    let (_, width, height) = (number(), number(), number());
    let grey = bytes[bytes.len() - width * height..].to_vec();
    PrintedPage { width, height, grey }
}
