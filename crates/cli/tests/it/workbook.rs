//! Workbooks as people really have them.

use rust_xlsxwriter::{ExcelDateTime, Format, Workbook};

use crate::harness::{Folder, scattered};

/// Two sheets: a note, and a table under a title with true dates, a gap and a
/// missing mark.
fn workbook() -> Vec<u8> {
    let mut book = Workbook::new();
    book.add_worksheet()
        .set_name("Read me")
        .expect("a name")
        .write(0, 0, "Osmere Bay harbour office")
        .expect("a cell");
    let sheet = book.add_worksheet().set_name("Data").expect("a name");
    sheet.write(0, 0, "Monthly figures").expect("a cell");
    let dates = Format::new().set_num_format("dd/mm/yyyy");
    for (place, name) in ["month", "load", "text"].iter().enumerate() {
        sheet.write(3, u16::try_from(place).expect("small"), *name).expect("a cell");
    }
    for (t, value) in scattered(36).iter().enumerate() {
        let row = u32::try_from(t).expect("small") + 4;
        let (year, month) = (2001 + t / 12, t % 12 + 1);
        let date = ExcelDateTime::from_ymd(
            u16::try_from(year).expect("small"),
            u8::try_from(month).expect("small"),
            1,
        );
        sheet.write_with_format(row, 0, date.expect("a date"), &dates).expect("a cell");
        match t {
            20 => sheet.write(row, 1, "n/a").expect("a cell"),
            _ => sheet.write(row, 1, *value).expect("a cell"),
        };
        sheet.write(row, 2, "1,5").expect("a cell");
    }
    book.save_to_buffer().expect("memory")
}

#[test]
fn the_sheet_with_the_table_is_found_below_its_title() {
    let folder = Folder::with("a.xlsx", workbook());
    let outcome = folder.run("inspect a.xlsx");
    assert_eq!(outcome.status, 0, "{}", outcome.stderr);
    assert!(outcome.running_text().contains("monthly, 2001-01 to 2003-12"), "{}", outcome.stdout);
    assert!(outcome.stderr.contains("sheet `Data` of `Read me` and `Data`"), "{}", outcome.stderr);
    let json = folder.json("inspect a.xlsx");
    let load = &json["results"][0]["columns"][1];
    assert_eq!((load["observations"].as_u64(), load["missing"].as_u64()), (Some(35), Some(1)));
}

#[test]
fn numbers_keep_their_digits_and_text_numbers_their_decimal_comma() {
    let folder = Folder::with("a.xlsx", workbook());
    let value = |series: &str| {
        let result = folder.json(&format!("transform a.xlsx {series} --sample ..2002-06"));
        result["results"][0]["values"][3]["value"].as_f64().expect("a number")
    };
    assert_eq!(value("load").to_bits(), scattered(36)[3].to_bits());
    assert!((value("text") - 1.5).abs() < 1e-15);
}

#[test]
fn a_sheet_is_taken_by_name_or_number() {
    let folder = Folder::with("a.xlsx", workbook());
    let by = |sheet: &str| {
        folder.json(&format!("acf a.xlsx load --sample 2002-10.. --sheet {sheet}"))["results"].clone()
    };
    assert_eq!(by("Data"), by("2"));
    folder.run("inspect a.xlsx --sheet Dato").fails(3, &["no sheet `Dato`", "did you mean `Data`?"]);
    folder
        .run_words(&["inspect", "a.xlsx", "--sheet", "Read me"], "")
        .fails(3, &["sheet `Read me` has a header and no rows"]);
    folder.write("a.csv", "year,x\n2001,1\n");
    folder.run("inspect a.csv --sheet 1").fails(2, &["is no workbook"]);
}

#[test]
fn errors_name_the_sheet_and_the_row() {
    let mut book = Workbook::new();
    let sheet = book.add_worksheet();
    for row in 0..12_u32 {
        let value = if row == 7 { "about 3".to_owned() } else { row.to_string() };
        sheet.write(row + 1, 0, 2000 + row).expect("a cell");
        sheet.write(row + 1, 1, value).expect("a cell");
    }
    sheet.write(0, 0, "year").expect("a cell");
    sheet.write(0, 1, "x").expect("a cell");
    let folder = Folder::with("a.xlsx", book.save_to_buffer().expect("memory"));
    folder
        .run("acf a.xlsx x")
        .fails(3, &["a.xlsx, sheet `Sheet1`, line 9, column `x`", "\"about 3\" is not a number"]);
}

#[test]
fn what_only_looks_like_a_workbook_is_one_message() {
    let whole = workbook();
    for bytes in [&whole[..200], b"PK\x03\x04nonsense".as_slice(), b"\xD0\xCF\x11\xE0nonsense".as_slice()] {
        let folder = Folder::with("a.xlsx", bytes);
        folder.run("inspect a.xlsx").fails(3, &["a.xlsx cannot be read as a workbook"]);
    }
}

#[test]
fn a_damaged_workbook_is_a_result_or_one_message() {
    let whole = workbook();
    let mut state = 7_u64;
    for _ in 0..300 {
        let mut bytes = whole.clone();
        // Three bytes at seeded places take seeded values.
        for _ in 0..3 {
            state = state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
            let place = usize::try_from(state >> 33).expect("31 bits") % bytes.len();
            bytes[place] = u8::try_from((state >> 20) & 0xFF).expect("a byte");
        }
        let words = ["kandrel", "inspect", "-"].map(Into::into).to_vec();
        let (mut stdout, mut stderr) = (Vec::new(), Vec::new());
        let status =
            kandrel::run(words, kandrel::Screen::default(), &mut bytes.as_slice(), &mut stdout, &mut stderr);
        assert!(status == 0 || (status == 3 && stdout.is_empty()), "{}", String::from_utf8_lossy(&stderr));
    }
}

#[test]
fn a_stray_cell_in_the_last_corner_does_not_take_all_memory() {
    let mut book = Workbook::new();
    let sheet = book.add_worksheet();
    sheet.write(0, 0, "year").expect("a cell");
    sheet.write(1_048_575, 16_383, 1).expect("a cell");
    let folder = Folder::with("a.xlsx", book.save_to_buffer().expect("memory"));
    folder.run("inspect a.xlsx").fails(
        3,
        &["memory", "row 1048576, column 16384: delete stray cells far from the table", "stray cells"],
    );
}

/// A small ODS workbook, written by hand.
fn open_document() -> Vec<u8> {
    use std::io::Write;
    let cell = |kind: &str, value: &str| {
        let attribute = if kind == "date" { "date-value" } else { "value" };
        format!(
            "<table:table-cell office:value-type=\"{kind}\" office:{attribute}=\"{value}\"><text:p>{value}</text:p></table:table-cell>"
        )
    };
    let text = |value: &str| {
        format!("<table:table-cell office:value-type=\"string\"><text:p>{value}</text:p></table:table-cell>")
    };
    let rows: String = (0..24)
        .map(|t| {
            let date = format!("{}-{:02}-01", 2001 + t / 12, t % 12 + 1);
            format!(
                "<table:table-row>{}{}</table:table-row>",
                cell("date", &date),
                cell("float", &format!("{}.25", t * t % 7))
            )
        })
        .collect();
    let content = format!(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?><office:document-content \
         xmlns:office=\"urn:oasis:names:tc:opendocument:xmlns:office:1.0\" \
         xmlns:table=\"urn:oasis:names:tc:opendocument:xmlns:table:1.0\" \
         xmlns:text=\"urn:oasis:names:tc:opendocument:xmlns:text:1.0\"><office:body><office:spreadsheet>\
         <table:table table:name=\"Data\"><table:table-row>{}{}</table:table-row>{rows}</table:table>\
         </office:spreadsheet></office:body></office:document-content>",
        text("month"),
        text("x")
    );
    let mut archive = zip::ZipWriter::new(std::io::Cursor::new(Vec::new()));
    let stored = zip::write::SimpleFileOptions::default().compression_method(zip::CompressionMethod::Stored);
    let manifest = "<manifest:manifest xmlns:manifest=\"urn:oasis:names:tc:opendocument:xmlns:manifest:1.0\"></manifest:manifest>";
    let files = [
        ("mimetype", "application/vnd.oasis.opendocument.spreadsheet"),
        ("META-INF/manifest.xml", manifest),
        ("content.xml", &content),
    ];
    for (name, body) in files {
        archive.start_file(name, stored).expect("memory");
        archive.write_all(body.as_bytes()).expect("memory");
    }
    archive.finish().expect("memory").into_inner()
}

#[test]
fn an_open_document_sheet_is_read_like_any_other() {
    let folder = Folder::with("a.ods", open_document());
    let json = folder.json("transform a.ods x");
    assert_eq!((&json["data"]["frequency"], &json["data"]["first"]), (&"monthly".into(), &"2001-01".into()));
    assert_eq!(json["results"][0]["values"][3]["value"], 2.25);
}
