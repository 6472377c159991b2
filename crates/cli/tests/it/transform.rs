//! `kandrel transform`.

use crate::harness::{Folder, monthly, scattered};

#[test]
fn columns_are_named_by_their_expressions_and_ends_without_values_are_left_out() {
    let folder = Folder::with("a.csv", "year,x,y\n2001,1,4\n2002,2,\n2003,4,1\n2004,8,2\n");
    let outcome = folder.run("transform a.csv x:d1 x[t-2]");
    assert_eq!(outcome.succeeds().stdout, "year,x:d1,x[t-2]\n2002,1,\n2003,2,1\n2004,4,2\n");
    folder.run("transform a.csv y").fails(3, &["values are missing in 2002"]);
    assert_eq!(folder.run("transform a.csv y --sample 2003..").stdout, "year,y\n2003,1\n2004,2\n");
}

#[test]
fn what_is_written_reads_back_to_the_last_digit_but_for_the_noise_of_arithmetic() {
    let folder = Folder::new();
    let call = |form: [&str; 2]| {
        // Series that begin with a dash are after a double one.
        let before = ["transform", "demo:harbour", "--let", "gap=bookings - sailings"];
        let after = ["--", "freight:ln,d12", "-ice / 3", "gap"];
        folder.run_words(&[&before[..], &form[..], &after[..]].concat(), "")
    };
    call(["--out", "x.csv"]).succeeds();
    let first = call(["--as", "json"]).stdout;
    // The names hold marks, so they are quoted when asked for again.
    let again = ["transform", "x.csv", "`freight:ln,d12`", "`-ice / 3`", "gap", "--as", "json"];
    let second = folder.run_words(&again, "").stdout;
    let results = |text: &str| -> Vec<serde_json::Value> {
        let json: serde_json::Value = serde_json::from_str(text).expect("JSON");
        json["results"].as_array().expect("results").iter().map(|one| one["values"].clone()).collect()
    };
    let (before, after) = (results(&first), results(&second));
    assert_eq!((&before[0], &before[2]), (&after[0], &after[2]));
    // A third of a number with one decimal may be one with few: 12.3 / 3 is 4.1000000000000005 in binary arithmetic.
    let thirds = |all: &[serde_json::Value]| -> Vec<f64> {
        let values = all[1].as_array().expect("values").iter();
        values.map(|one| one["value"].as_f64().expect("a number")).collect()
    };
    for (before, after) in thirds(&before).into_iter().zip(thirds(&after)) {
        assert!((before - after).abs() <= 2.0 * f64::EPSILON * before.abs(), "{before} {after}");
    }
    assert_eq!(results(&first)[0].as_array().expect("values").len(), 276);
    let header = String::from_utf8(folder.read("x.csv")).expect("UTF-8");
    assert!(header.starts_with("month,\"freight:ln,d12\",'-ice / 3,gap\n"), "{header:.60}");
}

#[test]
fn json_gives_each_value_its_period() {
    let result = Folder::new().json("transform demo:harbour berth_fee --sample 2024-11..");
    let one = &result["results"][0];
    assert_eq!(one["series"], "berth_fee");
    assert_eq!(one["values"][1], serde_json::json!({"period": "2024-12", "value": 188.49}));
}

#[test]
fn text_shows_the_same_table() {
    let outcome = Folder::new().run("transform demo:harbour berth_fee:d1 --sample 2024-11.. --as text");
    assert!(outcome.succeeds().stdout.contains("1 column from 2024-11 to 2024-12."), "{}", outcome.stdout);
}

#[test]
fn named_expressions_build_on_each_other() {
    let folder = Folder::with("a.csv", "year,x,y\n2001,1,4\n2002,2,2\n");
    let words = ["transform", "a.csv", "c:d1", "--let", "b=x + y", "--let", "c=b * 10"];
    assert_eq!(folder.run_words(&words, "").stdout, "year,c:d1\n2002,-10\n");
    for (given, text) in
        [("b", "an equals sign is missing"), ("x=y", "cannot be the name"), ("1b=y", "cannot be the name")]
    {
        let outcome = folder.run_words(&["transform", "a.csv", "x", "--let", given], "");
        outcome.fails(2, &[text]);
    }
}

#[test]
fn undefined_values_are_named_with_their_period() {
    let folder = Folder::with("a.csv", "year,x,y\n2001,1,4\n2002,-2,0\n");
    let refused = |series: &str, text: &str| {
        folder.run_words(&["transform", "a.csv", series], "").fails(3, &[text]);
    };
    refused("x / y", "a division by zero in 2002");
    refused("x:sqrt", "no such root or power of -2 in 2002");
    refused("x:growth1", "no logarithm of -2 in 2002");
    refused("(1000 * y):exp", "a number too large to compute with in 2001");
    refused("x:index=1990", "no value in 1990 to be 100");
    refused("x:per=z", "no column `z`");
}

#[test]
fn a_column_whose_name_reads_like_arithmetic_is_still_that_column() {
    let folder = Folder::with("a.csv", monthly(&scattered(40)).replace(",x", ",long-rate"));
    let outcome = folder.run("acf a.csv long-rate");
    assert_eq!(outcome.status, 0, "{}", outcome.stderr);
    assert!(outcome.stdout.contains("kandrel stationarity a.csv '`long-rate`'"), "{}", outcome.stdout);
}
