use crate::harness::Folder;

const HOLED: &str = "month,x,y\n2001-01,1,\n2001-02,,2\n2001-03,,3\n2001-04,4,\n2001-06,6,5\n";

#[test]
fn gaps_are_refused_with_the_rules_that_fill_them() {
    let folder = Folder::with("a.csv", HOLED);
    folder
        .run("transform a.csv x")
        .fails(3, &["2001-02 to 2001-03, 2001-05", "--gaps linear, seasonal or previous"]);
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
