//! `kandrel inspect`.

use crate::harness::{Folder, fits_80_columns};

#[test]
fn the_demo_data_are_described_in_the_first_sentence() {
    let outcome = Folder::new().run("inspect demo:harbour");
    outcome.succeeds();
    let text = outcome.running_text();
    assert!(text.starts_with(
        "demo:harbour contains 8 series, monthly, 2001-01 to 2024-12 (time column `month`): 288 rows, \
         no missing period; seasonal period 12."
    ));
    fits_80_columns(&outcome.stdout).expect("narrow");
}

#[test]
fn named_series_are_inspected_alone() {
    let folder = Folder::new();
    let said = folder.run("inspect demo:harbour freight:ln ice").running_text();
    assert!(said.starts_with("2 series of demo:harbour, monthly, 2001-01 to 2024-12"), "{said}");
    assert!(said.contains("kandrel stationarity demo:harbour freight:ln"), "{said}");
    let result = folder.json("inspect demo:harbour freight:d1")["results"][0].clone();
    let names: Vec<&str> = result["columns"]
        .as_array()
        .expect("columns")
        .iter()
        .filter_map(|one| one["name"].as_str())
        .collect();
    assert_eq!(names, ["month", "freight:d1"]);
    let own = &result["columns"][1];
    assert_eq!((&own["first"], &own["observations"]), (&"2001-02".into(), &287.into()));
    // Rows that --gaps drop leaves out do not move the dates of the others.
    let dates = |words: &str| {
        let own = folder.json(words)["results"][0]["columns"].as_array().expect("columns").clone();
        let lorries = own.into_iter().find(|one| one["name"] == "lorries").expect("the column");
        ["min_at", "max_at", "first", "last", "observations"].map(|field| lorries[field].clone())
    };
    assert_eq!(dates("inspect demo:gate lorries --gaps drop"), dates("inspect demo:gate"));
    folder.run("inspect demo:harbour nosuch").fails(3, &["has no column `nosuch`"]);
}

#[test]
fn every_column_is_summarised_with_the_dates_of_its_extremes() {
    let folder = Folder::with("a.csv", "year,x,note\n2001,3,a\n2002,-1,b\n2003,,c\n2004,7,d\n2005,1,e\n");
    let result = &folder.json("inspect a.csv")["results"][0];
    let columns = result["columns"].as_array().expect("columns");
    let kinds: Vec<&str> = columns.iter().map(|c| c["kind"].as_str().expect("a kind")).collect();
    assert_eq!(kinds, ["time", "number", "text"]);
    let x = &columns[1];
    assert_eq!((x["observations"].as_u64(), x["missing"].as_u64()), (Some(4), Some(1)));
    assert_eq!((x["min"].as_f64(), x["min_at"].as_str()), (Some(-1.0), Some("2002")));
    assert_eq!((x["max"].as_f64(), x["max_at"].as_str()), (Some(7.0), Some("2004")));
    assert_eq!(x["mean"].as_f64(), Some(2.5));
    // Deviations 0.5, -3.5, 4.5, -1.5: squares sum to 35, over 3.
    assert!((x["sd"].as_f64().expect("a number") - (35.0_f64 / 3.0).sqrt()).abs() < 1e-12);
    assert!(columns[2]["mean"].is_null());
}

#[test]
fn absent_periods_and_empty_cells_are_distinguished() {
    let folder = Folder::with("a.csv", "month,x,y\n2001-01,1,1\n2001-02,2,\n2001-05,3,4\n2001-06,5,6\n");
    let outcome = folder.run("inspect a.csv");
    assert_eq!(outcome.status, 0);
    let text = outcome.running_text();
    assert!(text.contains("2001-03 to 2001-04 are missing"), "{text}");
    assert!(text.contains("`y` has no value in 2001-02."), "{text}");
    let result = &folder.json("inspect a.csv")["results"][0];
    assert_eq!(result["gaps"], serde_json::json!(["2001-03", "2001-04"]));
}

#[test]
fn a_sample_cuts_what_is_described() {
    let folder = Folder::new();
    let result = folder.json("inspect demo:harbour --sample 2010..2011-06");
    assert_eq!(result["data"]["first"], "2010-01");
    assert_eq!(result["data"]["last"], "2011-06");
    assert_eq!(result["data"]["observations"], 18);
    assert_eq!(result["results"][0]["columns"][1]["observations"], 18);
}

#[test]
fn cells_that_are_no_numbers_are_listed_with_their_places() {
    let folder = Folder::with("a.csv", "year,x\n2001,1\n2002,2\n2003,about 3\n2004,4\n");
    let outcome = folder.run("inspect a.csv");
    assert_eq!(outcome.status, 0);
    assert!(outcome.running_text().contains("line 4, column `x`: \"about 3\" is not a number"));
}

#[test]
fn season_spread_and_trend_are_tested_and_said() {
    let text = Folder::new().run("inspect demo:harbour").running_text();
    for wanted in [
        "freight: (d, D) = (1, 1) (probability above 0.99, confidence moderate); seasonal unit roots; variance \
         increases with the level: use ln.",
        "berth_fee: d = 1 (probability 0.72, confidence low, runner-up d = 0 with 0.28); drift; no seasonality.",
        "claims: d = 0 (probability above 0.99, confidence high); no seasonality.",
    ] {
        assert!(text.contains(wanted), "{wanted}\n{text}");
    }
    let result = &Folder::new().json("inspect demo:harbour")["results"][0];
    let shape = |column: usize| result["columns"][column]["shape"].clone();
    assert_eq!(
        (&shape(1)["season"]["length"], &shape(1)["variance_level"]["advice"]),
        (&12.into(), &"logarithm".into())
    );
    assert_eq!(shape(2)["trend"]["trend_shape"], "linear");
    assert!(shape(3)["season"].is_null());
    let peaks = shape(6)["season"]["peaks"].as_array().expect("peaks of ice").len();
    assert!((21..=24).contains(&peaks), "{peaks}");
}

#[test]
fn a_season_is_found_without_dates_too() {
    let rows: String =
        (0..120).map(|t| format!("{}\n", [5, 9, 2, 7, 1, 3, 8][t % 7] * 10 + t * 37 % 5)).collect();
    let folder = Folder::with("x.csv", format!("x\n{rows}"));
    let outcome = folder.run("inspect x.csv");
    assert!(outcome.running_text().contains("x: seasonal period 7 (use --season 7)"), "{}", outcome.stdout);
    let short = Folder::with("x.csv", "x\n1\n2\n4\n");
    assert!(short.json("inspect x.csv")["results"][0]["columns"][0]["shape"].is_null());
}

#[test]
fn signs_and_zero_crossings_of_a_spread_are_counted() {
    let folder = Folder::new();
    let spread = "bookings - 240";
    let plotted = folder.run_words(&["plot", "demo:harbour", spread], "").running_text();
    let numbers = folder.run_words(&["transform", "demo:harbour", spread], "").stdout;
    let values: Vec<f64> =
        numbers.lines().skip(1).filter_map(|line| line.rsplit(',').next()?.parse().ok()).collect();
    let negative = values.iter().filter(|value| **value < 0.0).count();
    let signs: Vec<bool> = values.iter().filter(|value| **value != 0.0).map(|value| *value < 0.0).collect();
    let crossings = signs.windows(2).filter(|pair| pair[0] != pair[1]).count();
    let wanted = format!("negative in {negative} of 288 months, {crossings} zero crossings");
    assert!(values.len() == 288 && plotted.contains(&wanted), "{wanted}\n{plotted}");
    let rows: String = values.iter().enumerate().map(|(t, x)| format!("{},{x}\n", 1700 + t)).collect();
    folder.write("a.csv", format!("year,x\n{rows}"));
    let text = folder.run("inspect a.csv").running_text();
    let yearly = format!("Negative in {negative} of 288 years, {crossings} zero crossings.");
    assert!(text.contains(&yearly), "{yearly}\n{text}");
    assert_eq!(
        folder.json("inspect demo:harbour")["results"][0]["columns"][1]["signs"],
        serde_json::Value::Null
    );
}
