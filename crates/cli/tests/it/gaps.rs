//! Missing values under every rule.

use crate::harness::Folder;

const HOLED: &str = "month,x,y\n2001-01,1,\n2001-02,,2\n2001-03,,3\n2001-04,4,\n2001-06,6,5\n";

#[test]
fn gaps_are_refused_with_the_rules_that_fill_them() {
    let folder = Folder::with("a.csv", HOLED);
    folder
        .run("transform a.csv x")
        .fails(3, &["2001-02 to 2001-03, 2001-05", "--gaps keep: too much is missing", "--gaps drop"]);
}

/// Prices that double over four years of working days, the markets closed on every eleventh of them.
fn prices() -> String {
    let start = jiff::civil::Date::constant(2018, 1, 1);
    let working = (0..1_400_i64).filter(|day| day % 7 < 5).zip(0..);
    let open = working.filter(|(_, count)| count % 11 != 3);
    let level = |t: i64| 50.0 + 0.05 * t as f64 + (t * 7919 % 13) as f64 / 4.0;
    let rows = open.map(|(day, count)| {
        let date = start.checked_add(jiff::Span::new().days(day)).expect("a date");
        format!("{date},{:.2}\n", level(count))
    });
    std::iter::once("day,close\n".to_owned()).chain(rows).collect()
}

#[test]
fn holidays_of_prices_are_filled_with_the_last_one() {
    let folder = Folder::with("a.csv", prices());
    let said = folder.run("inspect a.csv").running_text();
    assert!(said.contains("Gaps of `close`: --gaps previous (days without a value are holidays"), "{said}");
    // All values are looked at, not the longest week without a holiday.
    assert!(said.contains("91 missing values were filled for the assessment"), "{said}");
    assert!(said.contains("kandrel stationarity a.csv close --gaps previous"), "{said}");
    let refused = folder.run("stationarity a.csv close");
    refused.fails(3, &["--gaps previous: days without a value are holidays"]);
    assert!(!refused.stderr.contains("longest stretch"), "{}", refused.stderr);
}

#[test]
fn each_rule_fills_and_says_what_it_filled() {
    let folder = Folder::with("a.csv", HOLED);
    let filled = |rule: &str| {
        let outcome = folder.run(&format!("transform a.csv x --gaps {rule}"));
        assert_eq!(outcome.status, 0);
        assert!(outcome.stderr.contains("`x` filled with"), "{}", outcome.stderr);
        assert!(outcome.stderr.contains("in 2001-02 to 2001-03, 2001-05"));
        outcome.stdout
    };
    let rows = "month,x\n2001-01,1\n2001-02,A\n2001-03,B\n2001-04,4\n2001-05,C\n2001-06,6\n";
    assert_eq!(filled("linear"), rows.replace('A', "2").replace('B', "3").replace('C', "5"));
    assert_eq!(filled("previous"), rows.replace(['A', 'B'], "1").replace('C', "4"));
}

#[test]
fn filled_periods_stand_in_the_result_for_the_columns_in_use_only() {
    let folder = Folder::with("a.csv", HOLED);
    let json = folder.json("transform a.csv y --gaps linear");
    assert_eq!(json["data"]["filled"], serde_json::json!(["2001-04", "2001-05"]));
    assert_eq!(json["results"][0]["values"].as_array().expect("values").len(), 5);
    assert!(json["notes"][0].as_str().is_some_and(|note| note.starts_with("`y` filled")));
    let whole = folder.json("transform a.csv y --gaps linear --sample ..2001-03");
    assert_eq!(whole["results"][0]["values"].as_array().expect("values").len(), 2);
}

#[test]
fn a_seasonal_fill_follows_the_season() {
    let rows: String = (0..48)
        .filter(|t| *t != 30)
        .map(|t| format!("{}-{:02},{}\n", 2001 + t / 12, t % 12 + 1, if t % 12 == 6 { 50 } else { 10 }))
        .collect();
    let folder = Folder::with("a.csv", format!("month,x\n{rows}"));
    let value = |rule: &str| {
        let result = folder.json(&format!("transform a.csv x --gaps {rule}"));
        result["results"][0]["values"][30]["value"].as_f64().expect("a number")
    };
    assert!((value("seasonal") - 50.0).abs() < 1e-9);
    assert!((value("linear") - 10.0).abs() < 1e-9);
}

#[test]
fn a_gap_near_the_end_is_refused_and_not_trimmed() {
    let folder = Folder::with("a.csv", "month,x\n2001-01,1\n2001-02,2\n2001-03,\n2001-04,4\n");
    folder.run("transform a.csv x:d1").fails(3, &["values are missing in 2001-03"]);
    assert_eq!(folder.run("transform a.csv x:d1 --sample ..2001-02").stdout, "month,x:d1\n2001-02,1\n");
}

#[test]
fn kept_gaps_stay_open_where_that_makes_sense() {
    let folder = Folder::with("x.csv", "year,x\n2000,1\n2001,2\n2003,4\n2004,7\n");
    let json = folder.json("transform x.csv x x:d1 --gaps keep");
    let values = |series: usize| -> Vec<f64> {
        let values = json["results"][series]["values"].as_array().expect("values");
        values.iter().map(|value| value["value"].as_f64().unwrap_or(-9.0)).collect()
    };
    assert_eq!(values(0), [1.0, 2.0, -9.0, 4.0, 7.0]);
    assert_eq!(values(1), [1.0, -9.0, -9.0, 3.0]);
    folder.run("stationarity x.csv x --gaps keep").fails(2, &["--gaps keep", "takes no gaps"]);
}

#[test]
fn dropped_periods_keep_the_dates_of_the_others() {
    let folder = Folder::with("x.csv", "year,x\n2000,1\n2001,2\n2003,4\n2004,7\n");
    let outcome = folder.run("transform x.csv x:d1 --gaps drop --as csv");
    assert_eq!(outcome.stdout, "year,\"x:d1\"\n2001,1\n2003,2\n2004,3\n".replace('"', ""));
    assert!(outcome.stderr.contains("`x`: 1 period without a value left out"), "{}", outcome.stderr);
}

#[test]
fn values_lost_to_lags_are_counted() {
    let folder = Folder::with("x.csv", crate::harness::monthly(&crate::harness::scattered(60)));
    let text = folder.run("acf x.csv x:d1,d12").running_text();
    assert!(text.contains("47 observations, 2011-02 to 2014-12 (13 dropped at the start"), "{text}");
    let json = folder.json("acf x.csv x:avg5 --sample 2010-06..");
    assert_eq!(
        (&json["results"][0]["lost"]["start"], &json["results"][0]["lost"]["end"]),
        (&0.into(), &2.into())
    );
}
