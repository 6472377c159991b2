//! Whatever the bytes, there is a result or one message, never a panic.

use std::ffi::OsString;

use proptest::prelude::*;

/// Runs a command on standard input: status, output, message.
fn run(words: &[&str], mut stdin: &[u8]) -> (u8, String, String) {
    let words: Vec<OsString> = std::iter::once(&"kandrel").chain(words).map(OsString::from).collect();
    let (mut stdout, mut stderr) = (Vec::new(), Vec::new());
    let status = kandrel::run(words, kandrel::Screen::default(), &mut stdin, &mut stdout, &mut stderr);
    (status, String::from_utf8(stdout).expect("UTF-8"), String::from_utf8(stderr).expect("UTF-8"))
}

/// A result with a message-free end, or a message and no result.
fn well_behaved((status, stdout, stderr): &(u8, String, String)) -> bool {
    match status {
        0 => !stdout.is_empty() && !stdout.contains("NaN"),
        2..=4 => stdout.is_empty() && stderr.starts_with("kandrel: "),
        _ => false,
    }
}

/// A file that looks like data here and there.
fn file() -> impl Strategy<Value = String> {
    let cell = prop_oneof![
        4 => any::<f64>().prop_map(|v| v.to_string()),
        8 => (-50_i32..50).prop_map(|v| v.to_string()),
        2 => (1990_i32..2030, 1_i32..14).prop_map(|(y, m)| format!("{y}-{m:02}")),
        1 => "[ -~]{0,8}",
        1 => Just(String::new()),
        1 => Just("\"quoted, \"\"cell\"\"\"".to_owned()),
    ];
    let row = proptest::collection::vec(cell, 1..4).prop_map(|cells| cells.join(","));
    proptest::collection::vec(row, 0..40).prop_map(|rows| rows.join("\n"))
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(200))]

    #[test]
    fn any_bytes_are_a_file_or_an_error(bytes in proptest::collection::vec(any::<u8>(), 0..400)) {
        for command in ["inspect", "acf", "stationarity"] {
            let outcome = run(&[command, "-"], &bytes);
            prop_assert!(well_behaved(&outcome), "{command}: {outcome:?}");
        }
    }

    #[test]
    fn anything_like_a_table_is_a_result_or_an_error(text in file()) {
        for command in ["inspect", "acf", "stationarity"] {
            let outcome = run(&[command, "-", "--as", "json"], format!("month,x\n{text}").as_bytes());
            prop_assert!(well_behaved(&outcome), "{command}: {outcome:?}");
        }
    }

    #[test]
    fn two_columns_of_any_whole_numbers_can_be_assessed_or_are_refused(
        values in proptest::collection::vec(-3_i16..4, 15..70)
    ) {
        let rows: String = values.iter().enumerate().map(|(t, v)| format!("{},{v}\n", 1900 + t)).collect();
        for words in [["acf", "-", "x"], ["stationarity", "-", "x"], ["stationarity", "-", "x:d1"]] {
            let outcome = run(&words, format!("year,x\n{rows}").as_bytes());
            prop_assert!(well_behaved(&outcome), "{words:?}: {outcome:?}");
        }
    }

    #[test]
    fn any_text_is_an_expression_or_an_error_that_shows_it(text in "[ -~äλ]{0,20}") {
        // A text that begins with a dash is an option.
        prop_assume!(!text.starts_with('-'));
        let outcome = run(&["acf", "demo:harbour", &text], b"");
        prop_assert!(well_behaved(&outcome), "{outcome:?}");
    }

    #[test]
    fn any_sample_is_a_span_or_an_error(text in "[0-9.Qx-]{0,16}") {
        let sample = format!("--sample={text}");
        let outcome = run(&["acf", "demo:harbour", "claims", &sample], b"");
        prop_assert!(well_behaved(&outcome), "{outcome:?}");
    }

    #[test]
    fn any_records_are_read_or_refused(text in "[\\[{][ -~\\n]{0,60}", names in proptest::collection::vec("[a-z]{0,3}", 1..4)) {
        prop_assert!(well_behaved(&run(&["inspect", "-"], text.as_bytes())), "{text}");
        let record: Vec<String> = names.iter().enumerate().map(|(k, name)| format!("{name:?}: {k}")).collect();
        let records = format!("[{{{}}}, {{\"t\": \"2004-01\"}}, {text}]", record.join(","));
        prop_assert!(well_behaved(&run(&["inspect", "-"], records.as_bytes())), "{records}");
    }

    #[test]
    fn any_long_table_is_laid_out_or_refused(text in file()) {
        let long = format!("month,name,value\n{text}");
        prop_assert!(well_behaved(&run(&["inspect", "-", "--long", "name:value"], long.as_bytes())), "{long}");
        let sdmx = format!("AREA,TIME_PERIOD,OBS_VALUE\n{text}");
        prop_assert!(well_behaved(&run(&["inspect", "-"], sdmx.as_bytes())), "{sdmx}");
        prop_assert!(well_behaved(&run(&["plot", "-", "--pick", "AREA=1"], sdmx.as_bytes())), "{sdmx}");
    }
}
