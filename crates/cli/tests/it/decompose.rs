//! `kandrel decompose`.

use serde_json::Value;

use crate::harness::{Folder, fits_80_columns, monthly, noise};

fn one(words: &str) -> Value {
    Folder::new().json(words)["results"][0].clone()
}

fn number(value: &Value) -> f64 {
    value.as_f64().expect("a number")
}

#[test]
fn the_drifting_season_of_ice_is_described() {
    let text = Folder::new().run("decompose demo:harbour ice");
    fits_80_columns(&text.succeeds().stdout).expect("no wide line");
    let words = text.running_text();
    assert!(words.starts_with("ice has strong seasonality, highest in Aug"), "{words}");
    assert!(words.contains("peak from Jul to Aug"), "{words}");
    assert!(words.contains("largest deviation in 2017-08"), "{words}");
    let result = one("decompose demo:harbour ice");
    assert_eq!(result["windows"][0]["chosen"], true);
    assert!(result["windows"][0]["seasonal_window"]["evolving"].as_u64().is_some(), "{}", result["windows"]);
    assert!(number(&result["patterns"][0]["change"]) > 0.4);
}

#[test]
fn parts_make_the_series_in_the_json_and_in_the_file() {
    for kind in ["additive", "multiplicative"] {
        let words = format!("decompose demo:harbour freight --kind {kind}");
        let result = one(&words);
        let parts = result["components"].as_array().expect("components");
        assert_eq!(parts.len(), 288);
        for part in parts {
            let [value, trend, season, rest, adjusted] =
                ["value", "trend", "seasonal", "irregular", "seasonally_adjusted"]
                    .map(|name| number(&part[name]));
            let (whole, without) = match kind {
                "additive" => (trend + season + rest, value - season),
                _ => (trend * season * rest, value / season),
            };
            assert!(
                (whole / value - 1.0).abs() < 1e-12 && (without / adjusted - 1.0).abs() < 1e-12,
                "{part}"
            );
        }
        let csv = Folder::new().run(&format!("{words} --as csv")).stdout;
        assert!(
            csv.starts_with("month,freight,trend,seasonal,irregular,seasonally_adjusted\n2001-01,"),
            "{csv:.80}"
        );
        assert_eq!(csv.lines().count(), 289);
    }
}

/// A pattern of twelve places, in a product with a level that grows sixfold or in a sum with a level that stays.
fn seasonal(grows: bool) -> Vec<f64> {
    let pattern = [0.0, -0.1, -0.25, 0.05, 0.1, 0.2, 0.3, 0.15, 0.0, -0.1, -0.15, -0.2];
    let value = |(t, e): (usize, f64)| {
        if grows {
            (4.0 + 0.0125 * t as f64 + pattern[t % 12] + 0.02 * e).exp()
        } else {
            100.0 + 40.0 * pattern[t % 12] + e
        }
    };
    noise(144, 21).into_iter().enumerate().map(value).collect()
}

#[test]
fn kind_and_window_are_those_of_the_joint_assessment_unless_they_are_named() {
    let folder = Folder::with("growing.csv", monthly(&seasonal(true)));
    folder.write("steady.csv", monthly(&seasonal(false)));
    let of = |words: &str| folder.json(words)["results"][0].clone();
    let growing = of("decompose growing.csv x");
    assert_eq!(
        (&growing["kind"], &growing["kind_from"]),
        (&"multiplicative".into(), &"assessment".into()),
        "{}",
        growing["diagnosis"]
    );
    assert!(number(&growing["patterns"][0]["change"]) < 0.1, "{}", growing["patterns"][0]["change"]);
    let steady = of("decompose steady.csv x");
    assert_eq!((&steady["kind"], &steady["kind_from"]), (&"additive".into(), &Value::Null));
    assert_eq!(
        (&steady["windows"][0]["seasonal_window"], &steady["seasonal_window_from"]),
        (&"periodic".into(), &"assessment".into()),
        "{}",
        steady["diagnosis"]
    );
    let named = of("decompose growing.csv x --kind additive --seasonal-window 7");
    assert_eq!(
        (&named["kind"], &named["kind_from"], &named["seasonal_window_from"]),
        (&"additive".into(), &"option".into(), &"option".into())
    );
    let said = folder.run("decompose growing.csv x").running_text();
    assert!(said.contains("multiplicative, as the variance increases with the level"), "{said}");
    let refused = |window: usize| {
        let outcome = folder.run(&format!("decompose steady.csv x --seasonal-window {window}"));
        assert_eq!(outcome.status, 2);
        outcome.stderr
    };
    assert!(refused(8).contains("not 8: take 7 or 9"), "{}", refused(8));
    assert!(refused(5).contains("an odd number from 7 on, not 5"), "{}", refused(5));
}

#[test]
fn a_cycle_about_a_level_is_no_trend() {
    let e = noise(300, 22);
    let (mut y, radius) = (vec![0.0; 300], 0.95_f64);
    let angle = std::f64::consts::TAU / 16.0;
    for t in 2..300 {
        y[t] = 2.0 * radius * angle.cos() * y[t - 1] - radius * radius * y[t - 2] + e[t];
    }
    let folder = Folder::with("a.csv", monthly(&y.iter().map(|y| 50.0 + y).collect::<Vec<f64>>()));
    let said = folder.run("decompose a.csv x").running_text();
    assert!(said.starts_with("x has no seasonality, and no trend (a level from"), "{said}");
}

#[test]
fn a_product_is_read_as_one() {
    let words = Folder::new().run("decompose demo:harbour freight").running_text();
    assert!(words.contains("lowest in Feb (−22") && words.contains(" %)"), "{words}");
    assert!(words.contains("The irregular component is a factor with mean one"), "{words}");
    assert!(words.contains("kandrel stationarity demo:harbour freight:ln,deseason"), "{words}");
    let sum = Folder::new().run("decompose demo:harbour freight --kind additive").running_text();
    assert!(sum.contains("observations; additive."), "{sum}");
}

#[test]
fn noise_has_no_season() {
    let result = one("decompose demo:harbour claims");
    assert_eq!(result["patterns"][0]["seasonality_detected"], false);
    let words = Folder::new().run("decompose demo:harbour claims").running_text();
    assert!(words.starts_with("claims has no seasonality, and no trend (a level from"), "{words}");
    assert!(words.contains("the component shown is noise"), "{words}");
}

#[test]
fn two_seasons_with_gaps_are_distinguished() {
    let call = "decompose demo:gate lorries --seasons 7,365";
    Folder::new().run(call).fails(3, &["values are missing in 2018-05-01", "--gaps keep"]);
    let call = format!("{call} --gaps keep");
    let result = one(&call);
    let patterns = result["patterns"].as_array().expect("patterns");
    assert_eq!((patterns[0]["season"].clone(), patterns[1]["season"].clone()), (7.into(), 365.into()));
    assert_eq!((patterns[0]["highest"].clone(), patterns[0]["lowest"].clone()), ("Wed".into(), "Sun".into()));
    assert!(patterns.iter().all(|pattern| pattern["seasonality_detected"] == true));
    assert_eq!(result["missing"], 34);
    for part in result["components"].as_array().expect("components") {
        let both: f64 = part["seasons"].as_array().expect("two").iter().map(number).sum();
        assert!((both - number(&part["seasonal"])).abs() < 1e-9);
        assert_eq!(part["value"].is_null(), part["irregular"].is_null(), "{part}");
        assert!(part["trend"].is_number());
    }
    let text = Folder::new().run(&call);
    fits_80_columns(text.stdout.split("Next").next().expect("text")).expect("no wide line");
    assert!(text.stdout.contains(&call.replace(" --gaps", " --out parts.csv --gaps")), "{}", text.stdout);
}

#[test]
fn the_classical_method_leaves_the_ends_open() {
    let result = one("decompose demo:harbour freight --method classical --kind additive");
    let parts = result["components"].as_array().expect("components");
    assert!(parts[5]["trend"].is_null() && parts[6]["trend"].is_number());
    assert!(parts[282]["trend"].is_null() && parts[281]["trend"].is_number());
    assert!(result["windows"].as_array().expect("a list").is_empty());
    let season: f64 = parts[..12].iter().map(|part| number(&part["seasonal"])).sum();
    assert!(season.abs() < 1e-9);
    let words = Folder::new().run("decompose demo:harbour freight --method classical").running_text();
    assert!(words.contains("The first and the last 6 observations have no trend"), "{words}");
}

#[test]
fn figures_are_drawn_with_all_their_panels() {
    let folder = Folder::new();
    folder.run("decompose demo:harbour ice --figure parts.svg").succeeds();
    folder.run("decompose demo:harbour ice --by-season --figure seasons.svg").succeeds();
    folder.run("decompose demo:gate lorries --seasons 7,365 --gaps keep --figure five.svg").succeeds();
    let lines = |name: &str| String::from_utf8(folder.read(name)).expect("text").matches("<polyline").count();
    assert_eq!((lines("parts.svg"), lines("seasons.svg")), (5, 24));
    assert!(lines("five.svg") >= 6, "{}", lines("five.svg"));
    folder.run("decompose demo:harbour ice claims --figure two.svg").fails(2, &["--figure draws one series"]);
    folder.run("decompose demo:harbour ice --by-season").fails_call("--figure");
}

#[test]
fn windows_that_make_no_sense_are_refused_with_what_would() {
    let folder = Folder::new();
    let refused = |words: &str, texts: &[&str]| {
        folder.run(&format!("decompose demo:harbour ice {words}")).fails(2, texts);
    };
    refused("--trend-window 9", &["shorter than the seasonal period 12", "an odd number from 13 on"]);
    refused("--trend-window 14", &["odd number, not 14", "take 13 or 15"]);
    refused("--method classical --robust", &["--robust is for --method loess"]);
    refused("--season 1", &["have no season", "--season N"]);
    folder.run("decompose demo:harbour ice --seasonal-window 8").fails_call("odd number from 7 on, not 8");
    folder.run("decompose demo:harbour ice --seasonal-window 5").fails_call("odd number from 7 on, not 5");
    folder.run("decompose demo:timber cut").fails(2, &["annual data have no season"]);
    folder
        .run("decompose demo:harbour ice --sample ..2002-06")
        .fails(3, &["fewer than two seasonal cycles of 12"]);
}

#[test]
fn values_that_cannot_be_decomposed_are_named() {
    let mut values = noise(60, 3);
    for value in &mut values {
        *value += 10.0;
    }
    values[17] = -1.0;
    let folder = Folder::with("a.csv", monthly(&values));
    folder.run("decompose a.csv x --kind multiplicative").fails(3, &["the value in 2011-06 is not positive"]);
    folder.write("b.csv", monthly(&[5.0; 40]));
    folder.run("decompose b.csv x").fails(3, &["the series is constant"]);
    let rows: String = (0..48)
        .map(|t| {
            let value =
                if t % 12 == 3 && t > 0 && t < 47 { String::new() } else { format!("{}", t * t % 17) };
            format!("{}-{:02},{value}\n", 2010 + t / 12, t % 12 + 1)
        })
        .collect();
    folder.write("c.csv", format!("month,x\n{rows}"));
    folder.run("decompose c.csv x --gaps keep").fails(3, &["no value is known at position 4"]);
}

#[test]
fn the_step_takes_the_season_out_and_says_so() {
    let folder = Folder::new();
    let outcome = folder.run("transform demo:harbour ice:deseason");
    assert_eq!(outcome.status, 0);
    assert!(
        outcome.stderr.contains("ice:deseason: seasonal component (period 12, window of 15 cycles) removed"),
        "{}",
        outcome.stderr
    );
    let adjusted: Vec<f64> = outcome
        .stdout
        .lines()
        .skip(1)
        .map(|row| row.split(',').nth(1).expect("a value").parse().expect("a number"))
        .collect();
    let parts = one("decompose demo:harbour ice");
    for (ours, part) in adjusted.iter().zip(parts["components"].as_array().expect("components")) {
        assert!((ours - number(&part["seasonally_adjusted"])).abs() < 1e-9);
    }
    folder.run("transform demo:timber cut:deseason").fails(2, &["there is no seasonal period", "--season N"]);
}
