//! Workbooks in valid containers: whatever their parts hold, no panic.

#![no_main]

use kandrel_fixtures::workbooks::{XlsCell, archive, ods, ods_row, xls, xlsx};
use libfuzzer_sys::fuzz_target;

/// A table of a month and a number, so that what is changed is rarely refused at once.
fn rows(count: usize) -> Vec<(String, f64)> {
    (0..count).map(|t| (format!("{}-{:02}", 2001 + t / 12, t % 12 + 1), (t * t % 17) as f64)).collect()
}

fn old(count: usize) -> Vec<u8> {
    let rows = rows(count);
    let mut cells = vec![vec![XlsCell::Text("month"), XlsCell::Text("x")]];
    cells.extend(rows.iter().map(|(month, x)| vec![XlsCell::Text(month), XlsCell::Number(*x)]));
    xls(&cells)
}

fn open_document(count: usize, inside: &str) -> Vec<u8> {
    let body: String = rows(count).iter().map(|(month, x)| ods_row(&[month, &x.to_string()], 1)).collect();
    ods(&format!("{}{body}{inside}", ods_row(&["month", "x"], 1)))
}

fn new(count: usize, inside: &str) -> Vec<u8> {
    let row = |(place, (month, x)): (usize, (String, f64))| {
        let line = place + 2;
        format!(
            "<row r=\"{line}\"><c r=\"A{line}\" t=\"inlineStr\"><is><t>{month}</t></is></c>\
             <c r=\"B{line}\"><v>{x}</v></c></row>"
        )
    };
    let body: String = rows(count).into_iter().enumerate().map(row).collect();
    xlsx(
        &format!(
            "<row r=\"1\"><c r=\"A1\" t=\"s\"><v>0</v></c><c r=\"B1\" t=\"s\"><v>1</v></c></row>{body}{inside}"
        ),
        &["month", "x"],
    )
}

/// Changes bytes at places: three bytes of the input for each.
fn changed(mut bytes: Vec<u8>, changes: &[u8]) -> Vec<u8> {
    for change in changes.chunks_exact(3) {
        let at = (usize::from(change[0]) << 8 | usize::from(change[1])) % bytes.len().max(1);
        if let Some(byte) = bytes.get_mut(at) {
            *byte = change[2];
        }
    }
    bytes
}

// Old workbooks are read by a process of this program's own, as in the built program: it must be built without a
// sanitizer, which asks for more addresses than that process may have.
// The first byte is the kind: whole containers with bytes changed, or sound ones with anything inside.
fuzz_target!(init: kandrel_fuzz::read_apart_or_allow_it(), |bytes: &[u8]| {
    let Some((kind, rest)) = bytes.split_first() else {
        return;
    };
    let inside = String::from_utf8_lossy(rest);
    let book = match kind % 7 {
        0 => changed(old(14), rest),
        1 => changed(open_document(14, ""), rest),
        2 => changed(new(14, ""), rest),
        3 => open_document(14, &inside),
        4 => new(14, &inside),
        5 => archive(&[("xl/workbook.xml", inside.as_ref()), ("xl/worksheets/sheet1.xml", inside.as_ref())]),
        _ => archive(&[("content.xml", inside.as_ref()), ("mimetype", "")]),
    };
    kandrel_fuzz::run(&["inspect", "-", "--memory", "200MB"], &book);
});
