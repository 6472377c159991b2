//! Files that would take more memory than there is, and readers that do not survive a file.

use std::fmt::Write as _;
use std::io::Write as _;

use kandrel_fixtures::workbooks::{XlsCell, ods, ods_row, xls, xlsx};

use crate::harness::{Folder, noise};

/// A month and a number in each row, as an old workbook.
fn old_workbook() -> Vec<u8> {
    let months: Vec<String> = (0..60).map(|t| format!("{}-{:02}", 2001 + t / 12, t % 12 + 1)).collect();
    let values = noise(60, 3);
    let mut rows = vec![vec![XlsCell::Text("month"), XlsCell::Text("load")]];
    rows.extend(
        months.iter().zip(&values).map(|(month, value)| vec![XlsCell::Text(month), XlsCell::Number(*value)]),
    );
    xls(&rows)
}

#[test]
fn an_old_workbook_is_read_by_a_process_of_its_own() {
    let folder = Folder::with("a.xls", old_workbook());
    let mut text = String::from("month,load\n");
    for (t, value) in noise(60, 3).iter().enumerate() {
        let _ = writeln!(text, "{}-{:02},{value}", 2001 + t / 12, t % 12 + 1);
    }
    folder.write("a.csv", text);
    let of = |file: &str| folder.json(&format!("acf {file} load"))["results"][0]["lags"].clone();
    assert!(of("a.csv").is_array());
    assert_eq!(of("a.xls"), of("a.csv"));
    folder.run("inspect a.xls --sheet Other").fails(3, &["no sheet `Other`", "it has `Data`"]);
    // It has to say what it is asked for even with little memory.
    folder.run("inspect a.xls --memory 20MB --quiet").succeeds();
}

#[test]
fn a_damaged_workbook_is_one_refusal_or_a_result() {
    let whole = old_workbook();
    let folder = Folder::new();
    let mut state = 7_u64;
    let mut draw = |below: usize| {
        state = state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        usize::try_from(state >> 33).expect("a word") % below
    };
    let mut refused = 0;
    for number in 0..24 {
        let mut bytes = whole.clone();
        for _ in 0..=number % 8 {
            let at = draw(bytes.len());
            bytes[at] = u8::try_from(draw(256)).expect("a byte");
        }
        if number % 5 == 0 {
            bytes.truncate(draw(bytes.len()).max(8));
        }
        folder.write("a.xls", bytes);
        let outcome = folder.run_words(&["inspect", "a.xls", "--quiet"], "");
        if outcome.status == 0 {
            outcome.succeeds();
        } else {
            outcome.fails(3, &["a.xls"]);
            refused += 1;
        }
    }
    assert!(refused > 3, "{refused} of 24 were refused");
}

#[test]
fn a_table_whose_end_is_missing_is_refused_at_once() {
    let folder = Folder::new();
    let table = |inside: &str| {
        let rows: String = (0..14).map(|t| ods_row(&[&format!("2001-{:02}", t % 12 + 1), "3"], 1)).collect();
        ods(&format!("{}{rows}{inside}", ods_row(&["month", "load"], 1)))
    };
    for inside in ["<", "<=", "<!--", "<office:annotation>", "<table:table table:name=\"b\">", "</text:p>"] {
        folder.write("a.ods", table(inside));
        folder.run("inspect a.ods").fails(3, &["a.ods cannot be read as a workbook"]);
    }
}

/// Packed as `.gz`.
fn packed(parts: &[&[u8]]) -> Vec<u8> {
    let mut packer = flate2::write::GzEncoder::new(Vec::new(), flate2::Compression::best());
    for part in parts {
        packer.write_all(part).expect("memory");
    }
    packer.finish().expect("memory")
}

#[test]
fn what_takes_more_than_is_allowed_is_refused_with_what_it_takes() {
    let cells =
        |row: u32| ["A", "B", "C"].map(|c| format!("<c r=\"{c}{row}\" t=\"s\"><v>0</v></c>")).concat();
    let rows: String = (1..=400).map(|row| format!("<row r=\"{row}\">{}</row>", cells(row))).collect();
    let (mut keys, mut areas) = (String::new(), String::from("FREQ,AREA,TIME_PERIOD,OBS_VALUE\n"));
    for k in 0..3_000_u32 {
        let _ = writeln!(keys, "{{\"key{k}\": {k}}}");
        let (year, month, day) = (1900 + k / 336, k / 28 % 12 + 1, k % 28 + 1);
        let _ = writeln!(areas, "D,A{k},{year}-{month:02}-{day:02},{k}");
    }
    let commas = vec![b','; 1_000_000];
    let many: Vec<&[u8]> =
        std::iter::once(b"month,x\n".as_slice()).chain((0..200).map(|_| commas.as_slice())).collect();
    let files: [(&str, Vec<u8>); 7] = [
        (
            "rows.ods",
            ods(&format!(
                "<table:table-row table:number-rows-repeated=\"32768\">{}</table:table-row>",
                ods_row(&["1"], 1024).replace("<table:table-row>", "").replace("</table:table-row>", "")
            )),
        ),
        ("shared.xlsx", xlsx(&rows, &["x".repeat(100_000).as_str()])),
        (
            "corner.xlsx",
            xlsx(
                "<row r=\"1\"><c r=\"A1\"><v>1</v></c></row><row r=\"1048576\"><c r=\"XFD1048576\"><v>1</v></c></row>",
                &[],
            ),
        ),
        ("keys.jsonl", keys.into_bytes()),
        ("nested.json", format!("[{}[]]", "[],".repeat(1_000_000)).into_bytes()),
        ("areas.csv", areas.into_bytes()),
        ("commas.csv.gz", packed(&many)),
    ];
    let folder = Folder::new();
    for (name, bytes) in files {
        folder.write(name, bytes);
        let refusal = folder.run(&format!("inspect {name} --memory 100MB"));
        refusal.fails(3, &[name, "memory", "100 MB", "--memory"]);
        let message = refusal.stderr.lines().next().unwrap_or_default();
        assert!(!message.contains("damaged") && !message.contains("cannot be read"), "{message}");
    }
    // Other series of the same call are not lost.
    folder.write(
        "good.csv",
        "month,x\n".to_owned()
            + &(0..40)
                .map(|t| format!("{}-{:02},{}\n", 2001 + t / 12, t % 12 + 1, t * t % 7))
                .collect::<String>(),
    );
    folder.run("screen good.csv keys.jsonl --quick --memory 100MB --as jsonl").fails(3, &["keys.jsonl"]);
}

#[test]
fn a_line_of_records_has_its_bound_too() {
    let folder = Folder::new();
    folder.write("long.jsonl", format!("{{\"series\": \"a\", \"values\": [{}1]}}\n", "1,".repeat(2_000_000)));
    folder.run("screen long.jsonl --quick --memory 50MB").fails(3, &["long.jsonl", "50 MB", "--memory"]);
    folder.run("screen long.jsonl --memory much").fails_call("write an amount as 500MB or 8GB");
}
