//! Random files: tables as people have them, and the same with something wrong.

use std::fmt::Write as _;
use std::io::Write as _;

use kandrel_fixtures::workbooks::{XlsCell, ods, ods_row, xls, xlsx};

use super::draw::Draw;

/// Names of columns, harmless and not.
const NAMES: [&str; 12] = [
    "load",
    "rate",
    "x y",
    "größe",
    "=1+1",
    "\u{1b}]52;c;aGk=\u{7}",
    "\\input{a}",
    "a|b",
    "<b>",
    "a`b",
    "\u{202e}tac",
    "-x",
];

/// Cells that are no plain number.
const ODD: [&str; 11] = ["", "n/a", "x", "NaN", "inf", "1e-400", "1e400", "1,5", "--", "(3)", "5 %"];

/// The cells of a table by rows, the header first.
struct Cells {
    rows: Vec<Vec<String>>,
}

/// The name of a file of series, one record each.
pub const RECORDS: &str = "series.jsonl";

/// A file: its name and its bytes.
pub fn file(draw: &mut Draw) -> (&'static str, Vec<u8>) {
    let cells = cells(draw);
    let (name, mut bytes) = match draw.below(12) {
        0..5 => ("t.csv", delimited(&cells, draw)),
        5 => ("t.json", format!("[{}]", records(&cells, ",")).into_bytes()),
        6 => ("t.jsonl", records(&cells, "\n").into_bytes()),
        7 => ("t.xls", old_workbook(&cells)),
        8 => ("t.xlsx", workbook(&cells)),
        9 => ("t.ods", ods(&cells.rows.iter().map(|row| ods_row(&texts(row), 1)).collect::<String>())),
        10 => ("t.csv.gz", packed(&delimited(&cells, draw))),
        _ => (RECORDS, series_records(&cells, draw)),
    };
    if draw.percent(15) {
        damage(&mut bytes, draw);
    }
    (name, bytes)
}

/// Some bytes are others, some are gone, or the end is.
fn damage(bytes: &mut Vec<u8>, draw: &mut Draw) {
    for _ in 0..=draw.below(6) {
        let at = draw.below(bytes.len());
        match draw.below(4) {
            0 if !bytes.is_empty() => drop(bytes.remove(at)),
            1 => bytes.truncate(at),
            2 => bytes.insert(at, *draw.one(&[&b'"', &b'\n', &0, &0xFF, &b',', &b'{'])),
            _ => {
                if let Some(byte) = bytes.get_mut(at) {
                    *byte = u8::try_from(draw.below(256)).expect("a byte");
                }
            }
        }
    }
}

fn cells(draw: &mut Draw) -> Cells {
    let columns = 1 + draw.below(2) + draw.below(2);
    let rows = match draw.below(10) {
        0 if draw.percent(50) => draw.below(12),
        1 => 150 + draw.below(150),
        _ => 20 + draw.below(80),
    };
    let scale = *draw.one(&[&1.0, &1.0, &1.0, &1.0, &1e-9, &1e12, &1e-120, &1e140, &1e-160]);
    let kinds: Vec<usize> = (0..columns).map(|_| draw.below(8)).collect();
    let mut header = vec![(*draw.one(&["month", "date", "t", "period"])).to_owned()];
    header.extend((0..columns).map(|k| {
        let name = if draw.percent(90) { NAMES[k] } else { NAMES[draw.below(NAMES.len())] };
        name.to_owned()
    }));
    let (calendar, is_astray, is_messy) = (draw.below(6), draw.percent(12), draw.percent(25));
    let mut levels = vec![0.0; columns];
    let body = (0..rows).map(|t| {
        // Some rows are missing or stand twice.
        let t = if is_astray && draw.percent(2) { t + draw.below(3) } else { t };
        let mut row = vec![period(calendar, t)];
        for (level, kind) in levels.iter_mut().zip(&kinds) {
            let odd = is_messy && draw.percent(2);
            row.push(if odd { draw.one(&ODD).to_owned() } else { cell(*kind, t, level, scale, draw) });
        }
        row
    });
    let body: Vec<Vec<String>> = body.collect();
    Cells { rows: std::iter::once(header).chain(body).collect() }
}

fn period(calendar: usize, t: usize) -> String {
    match calendar {
        0 => format!("{}-Q{}", 1990 + t / 4, t % 4 + 1),
        1 => (1800 + t).to_string(),
        2 => day(t),
        3 => (t + 1).to_string(),
        _ => format!("{}-{:02}", 1990 + t / 12, t % 12 + 1),
    }
}

/// The date of a day, counted from the first of 2021.
fn day(t: usize) -> String {
    let (year, mut day) = (2021 + t / 365, t % 365);
    let mut month = 0;
    // A leap day is not among them: the test is short of nothing else.
    for length in [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30] {
        if day < length {
            break;
        }
        day -= length;
        month += 1;
    }
    format!("{year}-{:02}-{:02}", month + 1, day + 1)
}

fn cell(kind: usize, t: usize, level: &mut f64, scale: f64, draw: &mut Draw) -> String {
    let noise = draw.normal();
    let value = match kind {
        0 => 7.0,
        1 => noise,
        2 => {
            *level += noise;
            *level
        }
        3 => {
            *level += 0.5 + noise;
            (*level / 30.0).exp()
        }
        4 => (t % 12) as f64 + 0.2 * noise + 0.1 * t as f64,
        5 => f64::from(u8::from(draw.percent(20))),
        6 => {
            *level = 0.7 * *level + noise;
            *level + if t > 30 { 8.0 } else { 0.0 }
        }
        _ => (draw.below(5) as f64) - 2.0,
    };
    (value * scale).to_string()
}

fn texts(row: &[String]) -> Vec<&str> {
    row.iter().map(String::as_str).collect()
}

fn delimited(cells: &Cells, draw: &mut Draw) -> Vec<u8> {
    let mark = draw.one(&[",", ",", ";", "\t"]);
    let quoted = |cell: &String| {
        if cell.contains([',', ';', '"', '\t']) {
            format!("\"{}\"", cell.replace('"', "\"\""))
        } else {
            cell.clone()
        }
    };
    let mut text = String::new();
    if draw.percent(10) {
        text.push_str("Osmere Bay\n\n");
    }
    let end = draw.one(&["\n", "\r\n"]);
    for row in &cells.rows {
        let fields: Vec<String> = row.iter().map(quoted).collect();
        let _ = write!(text, "{}{end}", fields.join(mark));
    }
    text.into_bytes()
}

fn records(cells: &Cells, between: &str) -> String {
    let Some((header, rows)) = cells.rows.split_first() else {
        return String::new();
    };
    let record = |row: &Vec<String>| {
        let fields = header.iter().zip(row).map(|(name, cell)| {
            let value = cell.parse().map_or_else(|_| cell.as_str().into(), |value: f64| value.into());
            (name.clone(), value)
        });
        serde_json::Value::Object(fields.collect()).to_string()
    };
    rows.iter().map(record).collect::<Vec<_>>().join(between)
}

/// One record for each series.
fn series_records(cells: &Cells, draw: &mut Draw) -> Vec<u8> {
    let Some((header, rows)) = cells.rows.split_first() else {
        return Vec::new();
    };
    let mut text = String::new();
    for (place, name) in header.iter().enumerate().skip(1) {
        let values: Vec<Option<f64>> = rows.iter().map(|row| row[place].parse().ok()).collect();
        let mut record = serde_json::json!({"series": name, "values": values});
        if draw.percent(20) {
            record["season"] = (*draw.one(&[&0_u64, &1, &12, &40, &9_000_000_000_000_000_000])).into();
        }
        if draw.percent(30) {
            record["start"] = (*draw.one(&["2001-01", "1990-Q3", "9999-12", "never"])).into();
        }
        let _ = writeln!(text, "{record}");
    }
    text.into_bytes()
}

fn old_workbook(cells: &Cells) -> Vec<u8> {
    let cell = |text: &'_ String| text.is_ascii().then(|| text.parse().ok());
    let rows: Vec<Vec<XlsCell<'_>>> = cells
        .rows
        .iter()
        .map(|row| {
            let cell = |text| match cell(text) {
                Some(Some(value)) => XlsCell::Number(value),
                Some(None) => XlsCell::Text(text),
                None => XlsCell::Text("letters"),
            };
            row.iter().map(cell).collect()
        })
        .collect();
    xls(&rows)
}

fn workbook(cells: &Cells) -> Vec<u8> {
    let mut rows = String::new();
    for (row, line) in cells.rows.iter().zip(1..) {
        let _ = write!(rows, "<row r=\"{line}\">");
        for (cell, column) in row.iter().zip(["A", "B", "C", "D"]) {
            let _ = if let Ok(value) = cell.parse::<f64>() {
                write!(rows, "<c r=\"{column}{line}\"><v>{value}</v></c>")
            } else {
                let text = cell.replace('&', "&amp;").replace('<', "&lt;");
                write!(rows, "<c r=\"{column}{line}\" t=\"inlineStr\"><is><t>{text}</t></is></c>")
            };
        }
        rows.push_str("</row>");
    }
    xlsx(&rows, &[])
}

fn packed(bytes: &[u8]) -> Vec<u8> {
    let mut packer = flate2::write::GzEncoder::new(Vec::new(), flate2::Compression::fast());
    packer.write_all(bytes).expect("memory");
    packer.finish().expect("memory")
}
