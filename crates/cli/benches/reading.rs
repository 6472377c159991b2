//! What reading a large file costs, as a ratio to a bare parse of the same bytes.

use std::fmt::Write as _;
use std::hint::black_box;
use std::path::Path;
use std::time::{Duration, Instant};

const ROWS: u32 = 1_000_000;
const COLUMNS: u32 = 10;
const RUNS: usize = 3;

/// The shortest of several runs: the one least disturbed by other work.
fn shortest<T>(mut job: impl FnMut() -> T) -> Duration {
    (0..RUNS)
        .map(|_| {
            let start = Instant::now();
            black_box(job());
            start.elapsed()
        })
        .min()
        .unwrap_or_default()
}

/// A row number and numbers of seventeen digits.
fn write_file(path: &Path) -> std::io::Result<()> {
    let mut text = String::from("t");
    let mut state = 1_u64;
    // Writing to a string cannot fail, here and below.
    (0..COLUMNS).for_each(|column| {
        let _ = write!(text, ",x{column}");
    });
    text.push('\n');
    for row in 1..=ROWS {
        let _ = write!(text, "{row}");
        for _ in 0..COLUMNS {
            state = state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
            let value = (state >> 11) as f64 / (1_u64 << 53) as f64;
            let _ = write!(text, ",{}", 100.0 * value);
        }
        text.push('\n');
    }
    std::fs::write(path, text)
}

/// The sum of all numbers, so that none can be left out.
fn bare(path: &Path) -> f64 {
    let bytes = std::fs::read(path).unwrap_or_default();
    let mut reader = csv::Reader::from_reader(bytes.as_slice());
    let mut record = csv::StringRecord::new();
    let mut columns: Vec<Vec<f64>> = vec![Vec::new(); COLUMNS as usize + 1];
    while reader.read_record(&mut record).unwrap_or(false) {
        for (column, cell) in columns.iter_mut().zip(record.iter()) {
            column.push(cell.parse().unwrap_or(0.0));
        }
    }
    columns.iter().flatten().sum()
}

fn main() {
    let folder = std::env::temp_dir().join(format!("kandrel-reading-{}", std::process::id()));
    let file = folder.join("large.csv");
    let written = std::fs::create_dir_all(&folder).and_then(|()| write_file(&file));
    if let Err(message) = written {
        eprintln!("{}: {message}", file.display());
        return;
    }
    let name = file.to_string_lossy().into_owned();
    let base = shortest(|| bare(&file));
    let ours = shortest(|| kandrel::count_values(&name));
    let counted = kandrel::count_values(&name).unwrap_or(0);
    let _ = std::fs::remove_dir_all(&folder);
    println!("{ROWS} rows of {COLUMNS} columns; {counted} numbers read");
    for (what, time) in
        [("bare parse: csv records, numbers by their own parser", base), ("the whole reader", ours)]
    {
        let ratio = time.as_secs_f64() / base.as_secs_f64();
        println!("{what:58} {:9.4} s   {ratio:7.3} x bare parse", time.as_secs_f64());
    }
}
