//! One clear message for each kind of unusable input: what, where, what to do.

use crate::harness::{Folder, monthly, scattered};

#[test]
fn a_missing_file() {
    Folder::new()
        .run("stationarity nowhere.csv x")
        .fails(3, &["there is no file nowhere.csv", "check the path"]);
    Folder::new().run("acf demo:harbor claims").fails(3, &["no demo data demo:harbor", "`demo:harbour`"]);
}

#[test]
fn an_unknown_column_with_the_nearest_name() {
    let folder = Folder::new();
    folder
        .run("stationarity demo:harbour frieght")
        .fails(3, &["no column `frieght`", "did you mean `freight`?"]);
    folder.run("acf demo:harbour zzzzz").fails(3, &["no column `zzzzz`", "it has `month`, `freight`"]);
}

#[test]
fn text_in_a_column_of_numbers() {
    let mut values: Vec<String> = scattered(40).iter().map(ToString::to_string).collect();
    values[16] = "12 t".to_owned();
    let rows: String = values.iter().enumerate().map(|(t, v)| format!("{},{v}\n", 1980 + t)).collect();
    let folder = Folder::with("a.csv", format!("year,x\n{rows}"));
    for command in ["stationarity", "acf"] {
        let outcome = folder.run(&format!("{command} a.csv x"));
        outcome.fails(3, &["a.csv, line 18, column `x`", "\"12 t\" is not a number", "correct the cell"]);
    }
}

#[test]
fn a_gap_inside_names_its_periods() {
    let text = monthly(&scattered(60));
    let kept: Vec<&str> =
        text.lines().filter(|line| !line.starts_with("2012-03") && !line.starts_with("2012-04")).collect();
    let folder = Folder::with("a.csv", kept.join("\n"));
    folder.run("stationarity a.csv x").fails(3, &["values are missing in 2012-03 to 2012-04", "--sample"]);
    folder.run("acf a.csv x:d1").fails(3, &["2012-03 to 2012-04"]);
    // On either side of the gap there is nothing to refuse.
    folder.run("acf a.csv x --sample 2012-05..").succeeds();
}

#[test]
fn too_few_observations() {
    let folder = Folder::with("a.csv", monthly(&scattered(19)));
    folder
        .run("stationarity a.csv x")
        .fails(3, &["19 observations are too few", "at least 20", "longer series"]);
    folder.run("acf a.csv x --sample ..2010-02").fails(3, &["2 observations are too few", "at least 3"]);
    folder.run("acf a.csv x:d19").fails(3, &["it reaches 19 periods back, and the data have 19"]);
    folder.write("b.csv", monthly(&scattered(20)));
    folder.run("stationarity b.csv x").succeeds();
}

#[test]
fn a_constant_series() {
    let folder = Folder::with("a.csv", monthly(&[3.5; 50]));
    for command in ["stationarity", "acf"] {
        folder.run(&format!("{command} a.csv x")).fails(3, &["a.csv, x", "constant"]);
    }
}

#[test]
fn a_negative_value_under_a_logarithm() {
    let mut values = scattered(40);
    values[13] = -2.5;
    let folder = Folder::with("a.csv", monthly(&values));
    let outcome = folder.run("stationarity a.csv x:ln");
    outcome.fails(3, &["no logarithm of -2.5 in 2011-02", "above zero"]);
    folder.run("acf a.csv x:ln,d12 --sample 2012-03..").succeeds();
}

#[test]
fn an_expression_that_is_none_points_at_its_place() {
    let outcome = Folder::new().run("acf demo:harbour freight:ln,dd1");
    outcome.fails(2, &["\"dd1\" is not a step", "freight:ln,dd1\n             ^\n", "steps are ln exp"]);
    Folder::new().run("acf demo:harbour freight:").fails(2, &["is not a step"]);
}

#[test]
fn calls_that_are_wrong() {
    let folder = Folder::new();
    let refused = |words: &str, text: &str| {
        let outcome = folder.run(words);
        assert_eq!((outcome.status, outcome.stdout.as_str()), (2, ""), "{words}: {}", outcome.stderr);
        assert!(outcome.stderr.contains(text), "{words}: {}", outcome.stderr);
    };
    refused(
        "stationarity demo:harbour claims --terms drift",
        "[possible values: auto, none, constant, trend]",
    );
    refused("stationarity demo:harbour claims --lags many", "write a number, aic, bic, hq, maic or t");
    refused("stationarity demo:harbour claims --lags 3 --max-lags 5", "leave one of them out");
    refused("stationarity demo:harbour claims --lags 200", "at most 139");
    refused("stationarity demo:harbour claims --bandwidth 97", "take 96 or fewer");
    refused("stationarity demo:harbour claims --alpha 2", "between 0 and 0.5");
    refused("acf demo:harbour claims --lags 288", "take between 1 and 287 lags");
    refused("acf demo:harbour claims --lags 0", "take between 1 and 287 lags");
    refused("acf demo:harbour claims --sample 2004", "is not of the form FROM..TO");
    refused("acf demo:harbour claims --sample 2010..2004", "comes after");
    refused("acf demo:harbour claims --sample 2004-13..", "is not a period");
    refused("acf demo:harbour", "which series?");
    refused("wander demo:harbour", "unrecognized subcommand");
}

#[test]
fn files_that_are_no_tables() {
    let folder = Folder::with("empty.csv", "");
    folder.run("inspect empty.csv").fails(3, &["empty.csv is empty"]);
    folder.write("head.csv", "month,x\n");
    folder.run("inspect head.csv").fails(3, &["a header and no rows"]);
    folder.write("ragged.csv", "month,x\n2001-01,5\n2001-02,6,7\n");
    folder.run("inspect ragged.csv").fails(3, &["ragged.csv, line 3", "3 fields where the header has 2"]);
    folder.write("latin.csv", b"month,x\n2001-01,caf\xe9\n".as_slice());
    folder
        .run("inspect latin.csv --encoding utf-8")
        .fails(3, &["latin.csv is not valid UTF-8", "--encoding"]);
    folder.write("open.csv", "month;x\n2001-01;1,234\n");
    folder.run("inspect open.csv").fails(3, &["open.csv, line 2", "1,234 may be 1234 or 1.234", "--decimal"]);
    folder.write("cut.gz", b"\x1f\x8b\x08\x00".as_slice());
    folder.run("inspect cut.gz").fails(3, &["cut.gz is a damaged .gz file"]);
    folder.run("inspect .").fails(3, &["cannot be read"]);
}

#[test]
fn a_period_that_stands_twice() {
    let folder = Folder::with("a.csv", "month,x\n2001-01,1\n2001-02,2\n2001-02,3\n");
    folder.run("inspect a.csv").fails(3, &["2001-02 (lines 3 and 4)", "one row for each period"]);
}

#[test]
fn a_name_that_stands_twice() {
    let rows: String = (0..30).map(|t| format!("{},{t},{}\n", 1980 + t, t * t % 7)).collect();
    let folder = Folder::with("a.csv", format!("year,x,x\n{rows}"));
    folder.run("acf a.csv x").fails(3, &["2 columns are named `x`"]);
}

#[test]
fn a_series_that_follows_a_rule_without_error() {
    let line: Vec<f64> = (0..50).map(|t| f64::from(t) * 0.5 + 1.0).collect();
    let folder = Folder::with("line.csv", monthly(&line));
    let cycle: Vec<f64> = (0..96).map(|t| f64::from(t % 12)).collect();
    folder.write("cycle.csv", monthly(&cycle));
    for file in ["line.csv", "cycle.csv"] {
        let outcome = folder.run(&format!("stationarity {file} x"));
        outcome.fails(4, &[&format!("{file}, x"), "exact", "there is nothing to test"]);
    }
}

#[test]
fn numbers_too_large_or_too_many_to_square() {
    let mut values = scattered(40);
    values[7] = 1e200;
    let folder = Folder::with("a.csv", monthly(&values));
    folder.run("stationarity a.csv x").fails(3, &["2010-08", "too large", "rescale"]);
    folder.run("acf a.csv x").fails(3, &["2010-08", "too large"]);
}

#[test]
fn files_that_are_no_tables_are_named_for_what_they_are() {
    let as_csv = "save the table as CSV";
    for (start, kind, advice) in [
        (b"PAR1....".as_slice(), "a Parquet file", "convert it, as by: duckdb"),
        (b"ARROW1..", "an Arrow file", "convert it, as by: python3"),
        (b"%PDF-1.7\n", "a PDF document", as_csv),
        (b"\x89PNG\r\n", "an image", as_csv),
        (b"\xFD7zXZ\0", "an .xz archive", as_csv),
    ] {
        let folder = Folder::with("a.csv", start);
        folder.run("inspect a.csv").fails(3, &["a.csv is", kind, advice]);
    }
}

#[test]
fn a_file_without_a_header_loses_no_row() {
    let folder = Folder::with("a.csv", "2004-01,1.5\n2004-02,2\n2004-03,4\n");
    folder.run("inspect a.csv").fails(3, &["line 1", "no header", "2004-01, 1.5", "month,rate"]);
    // Years may be names.
    folder.write("b.csv", "1999,2000\n1,2\n3,5\n");
    folder.run("inspect b.csv").succeeds();
}

#[test]
fn one_bad_period_is_named_and_dates_are_not_dropped() {
    let folder = Folder::with("a.csv", "month,x\n2004-01,1\n2004-02,2\n2004-13,4\n2004-04,1\n");
    folder
        .run("acf a.csv")
        .fails(3, &["line 4", "column `month`", "\"2004-13\" is not a period like the others"]);
    folder.write("b.csv", "date,x\n30/01/2004,1\n31/01/2004,2\n,4\n02/02/2004,1\n");
    folder.run("acf b.csv").fails(3, &["line 4", "column `date`", "no period where most rows have one"]);
    folder.write("c.csv", "when,x\n2004-01,1\n2004-Q2,2\n2004-03,4\n2004-04,1\n");
    folder.run("acf c.csv").fails(3, &["column `when`", "not all of one kind"]);
    let counted = folder.run("plot a.csv x --every step");
    assert_eq!(counted.status, 0, "{}", counted.stderr);
}
