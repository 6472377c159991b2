//! The same numbers however the text file is written.

use std::io::Write;

use crate::harness::Folder;

/// Month and two columns as different offices export them.
const PLAIN: &str = "month,load,note\n2001-01,1234.5,a\n2001-02,-0.25,b\n2001-03,,c\n2001-04,2000000,d\n";

fn values(folder: &Folder, words: &str) -> serde_json::Value {
    let outcome = folder.run(&format!("inspect a.csv {words} --as json"));
    assert_eq!(outcome.status, 0, "{}", outcome.stderr);
    let result: serde_json::Value = serde_json::from_str(&outcome.stdout).expect("JSON");
    result["results"][0]["columns"][1].clone()
}

#[test]
fn every_dialect_gives_the_same_column() {
    let expected = values(&Folder::with("a.csv", PLAIN), "");
    assert_eq!((expected["observations"].as_u64(), expected["missing"].as_u64()), (Some(3), Some(1)));
    let body = "2001-01;1.234,5;a\n2001-02;-0,25;b\n2001-03;n/a;c\n2001-04;2.000.000;d\n";
    let dialects = [
        PLAIN.replace(',', "\t"),
        PLAIN.replace(',', "|"),
        PLAIN.replace('\n', "\r\n"),
        format!("month;load;note\n{body}"),
        format!("Osmere Bay harbour office;;\n\nmonth;load;note\n;;\n{body}"),
        "month,load,note\n2001-01,\"1,234.5\",a\n2001-02,−0.25,b\n2001-03,-,c\n2001-04,\"2 000 000\",d\n"
            .to_owned(),
    ];
    for text in dialects {
        assert_eq!(values(&Folder::with("a.csv", &text), ""), expected, "{text}");
    }
}

#[test]
fn encodings_and_packing_do_not_matter() {
    let text = "Größe,month\n1.5,2001-01\n2.5,2001-02\n";
    let utf16: Vec<u8> =
        [0xFF, 0xFE].into_iter().chain(text.encode_utf16().flat_map(u16::to_le_bytes)).collect();
    let latin: Vec<u8> =
        text.chars().map(|c| u8::try_from(u32::from(c)).expect("a Western letter")).collect();
    let mut packer = flate2::write::GzEncoder::new(Vec::new(), flate2::Compression::default());
    packer.write_all(text.as_bytes()).expect("memory");
    for bytes in [text.as_bytes().to_vec(), utf16, latin, packer.finish().expect("memory")] {
        let folder = Folder::with("a.csv", bytes);
        let result = folder.json("transform a.csv Größe");
        assert_eq!(result["results"][0]["values"][1]["value"], 2.5);
        assert_eq!(result["data"]["frequency"], "monthly");
    }
}

#[test]
fn what_was_found_is_said_and_can_be_overruled() {
    let folder = Folder::with("a.csv", "month;x\n2001-01;1,5\n2001-02;2,5\n");
    let outcome = folder.run("inspect a.csv");
    assert!(outcome.stderr.contains("note: a.csv: columns separated by semicolons, decimal commas"));
    let notes = folder.json("inspect a.csv")["notes"].clone();
    assert_eq!(notes[0], "a.csv: columns separated by semicolons, decimal commas");
    folder
        .run("acf a.csv x --decimal .")
        .fails(3, &["contains text, not numbers: \"1,5\" in line 2", "--decimal"]);
    folder.write("b.csv", "month;x\n2001-01;1,234\n2001-02;2,345\n");
    let value = |words: &str| {
        let result = folder.json(&format!("transform b.csv x {words}"));
        result["results"][0]["values"][0]["value"].as_f64().expect("a number")
    };
    assert!((value("--decimal .") - 1234.0).abs() < 1e-12);
    assert!((value("--decimal ,") - 1.234).abs() < 1e-12);
}

#[test]
fn more_marks_of_missing_values_can_be_named() {
    let folder = Folder::with("a.csv", "month,x\n2001-01,-999\n2001-02,5\n2001-03,k.a.\n");
    let outcome = folder.run("transform a.csv x --missing -999,k.a.");
    assert_eq!(outcome.succeeds().stdout, "month,x\n2001-02,5\n");
}

#[test]
fn percent_signs_currencies_and_brackets_are_read_and_said_in_one_note() {
    let rows: String = (0..24_i32)
        .map(|t| {
            let balance = if t % 5 == 0 { format!("({}.50)", t + 1) } else { format!("{}.25", t + 1) };
            format!(
                "{}-{:02},{}.{}%,\"$1,{:03}.00\",{balance}\n",
                2010 + t / 12,
                t % 12 + 1,
                t % 7,
                t % 9,
                t * t
            )
        })
        .collect();
    let folder = Folder::with("a.csv", format!("month,rate,cost,balance\n{rows}"));
    let outcome = folder.run("transform a.csv rate cost balance --as csv");
    assert_eq!(outcome.status, 0, "{}", outcome.stderr);
    let row = outcome.stdout.lines().nth(6).expect("the sixth month");
    assert_eq!(row, "2010-06,5.5,1025,-6.5");
    let notes: Vec<&str> = outcome.stderr.lines().filter(|line| line.starts_with("note: `rate`")).collect();
    assert_eq!(notes.len(), 1, "{}", outcome.stderr);
    for said in [
        "`rate`: a percent sign is left out in 24 of 24 cells (first: 0.0%)",
        "`cost`: a currency sign is left out in 24 of 24 cells",
        "`balance`: brackets are a minus sign in 5 of 24 cells (first: (1.50))",
    ] {
        assert!(notes[0].contains(said), "{said}: {}", notes[0]);
    }
}
