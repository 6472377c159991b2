//! `kandrel forecast`.

use serde_json::Value;

use crate::harness::{Folder, fits_80_columns, monthly, noise};

fn number(value: &Value) -> f64 {
    value.as_f64().expect("a number")
}

fn run(folder: &Folder, words: &[&str]) -> Value {
    let outcome = folder.run_words(&[words, &["--as", "json"]].concat(), "");
    assert_eq!(outcome.status, 0, "{}", outcome.stderr);
    serde_json::from_str::<Value>(&outcome.stdout).expect("JSON")["results"][0].clone()
}

fn steps(result: &Value) -> Vec<Value> {
    result["steps"].as_array().expect("steps").clone()
}

const AIRY: &str = "(0,1,1)(0,1,1)12";

#[test]
fn a_walk_with_drift_is_carried_on_as_by_hand() {
    let mut level = 100.0;
    let values: Vec<f64> = noise(80, 3)
        .iter()
        .map(|shock| {
            level += 0.5 + shock;
            level
        })
        .collect();
    let folder = Folder::with("a.csv", monthly(&values));
    let result = run(&folder, &["forecast", "a.csv", "x", "--model", "(0,1,0)+drift", "--ahead", "4"]);
    let (first, last) = (values[0], values[79]);
    let drift = (last - first) / 79.0;
    let changes: Vec<f64> = values.windows(2).map(|pair| pair[1] - pair[0] - drift).collect();
    // Student's variance of 78 degrees of freedom: 79 changes less the drift, and two more.
    let sigma2 = changes.iter().map(|change| change * change).sum::<f64>() / 76.0;
    for (step, h) in steps(&result).iter().zip([1.0, 2.0, 3.0, 4.0]) {
        assert!((number(&step["point"]) - (last + h * drift)).abs() < 1e-9);
        // The drift is the mean of 79 changes.
        let sd = (sigma2 * (h + h * h / 79.0)).sqrt();
        assert!((number(&step["std_error"]) - sd).abs() < 1e-9, "{step} {sd}");
        let reach = 1.959_963_984_540_054 * sd;
        assert!((number(&step["high95"]) - (last + h * drift + reach)).abs() < 1e-8);
        assert!((number(&step["low95"]) - (last + h * drift - reach)).abs() < 1e-8);
    }
    assert_eq!(
        (result["origin"].clone(), steps(&result)[0]["period"].clone()),
        ("2016-08".into(), "2016-09".into())
    );
}

#[test]
fn forecasts_come_back_in_the_columns_own_units() {
    let folder = Folder::new();
    let of = |series: &str, more: &[&str]| {
        let words = ["forecast", "demo:harbour", series, "--model", AIRY, "--ahead", "14"];
        run(&folder, &[&words[..], more].concat())
    };
    let own = of("freight:ln", &[]);
    let logs = of("freight:ln", &["--keep-scale"]);
    assert_eq!((own["units"].clone(), logs["units"].clone()), ("freight".into(), "freight:ln".into()));
    for (a, b) in steps(&own).iter().zip(steps(&logs)) {
        for end in ["point", "low80", "high95"] {
            assert!((number(&a[end]).ln() - number(&b[end])).abs() < 1e-9, "{end}");
        }
    }
    // The mean of a logarithmic normal value lies half a variance above its median.
    let means = of("freight:ln", &["--mean"]);
    for ((median, mean), log) in steps(&own).iter().zip(steps(&means)).zip(steps(&logs)) {
        let half = 0.5 * number(&log["std_error"]).powi(2);
        assert!((number(&mean["point"]).ln() - number(&median["point"]).ln() - half).abs() < 1e-9);
    }
    // Differences as steps are those of the model.
    let words = [
        "forecast",
        "demo:harbour",
        "freight:ln,d1,d12",
        "--model",
        "(0,0,1)(0,0,1)12+none",
        "--ahead",
        "14",
    ];
    for (a, b) in steps(&run(&folder, &words)).iter().zip(steps(&own)) {
        for end in ["point", "low95", "high80", "std_error"] {
            assert!((number(&a[end]) / number(&b[end]) - 1.0).abs() < 1e-4, "{end}: {a} {b}");
        }
    }
}

#[test]
fn days_of_the_months_come_back_into_the_forecast() {
    let folder = Folder::new();
    let of = |series: &str, more: &[&str]| {
        let words = ["forecast", "demo:harbour", series, "--model", AIRY, "--ahead", "2"];
        steps(&run(&folder, &[&words[..], more].concat()))
    };
    let (own, scale) = (of("freight:perday,ln", &[]), of("freight:perday,ln", &["--keep-scale"]));
    for (step, (a, b)) in [31.0, 28.0].iter().zip(own.iter().zip(&scale)) {
        let expected = number(&b["point"]).exp() * step / (365.25 / 12.0);
        assert!((number(&a["point"]) / expected - 1.0).abs() < 1e-12, "{a} {expected}");
    }
}

#[test]
fn what_came_to_be_is_set_beside_the_forecast() {
    let folder = Folder::new();
    let words =
        ["forecast", "demo:harbour", "freight:ln", "--model", AIRY, "--sample", "..2022-12", "--ahead", "26"];
    let result = run(&folder, &words);
    let all = steps(&result);
    assert_eq!((all[0]["period"].clone(), all[25]["actual"].clone()), ("2023-01".into(), Value::Null));
    let accuracy = &result["accuracy"];
    assert_eq!(accuracy["known"], 24);
    let inside = all.iter().filter(|step| {
        step["actual"].as_f64().is_some_and(|x| number(&step["low95"]) <= x && x <= number(&step["high95"]))
    });
    assert_eq!(accuracy["inside95"], inside.count());
    let text = folder.run_words(&words, "");
    fits_80_columns(text.stdout.split("Next").next().expect("text")).expect("no wide line");
    assert!(text.running_text().contains("Of 24 known values"), "{}", text.stdout);
    assert!(text.running_text().starts_with("freight is foretold at "), "{}", text.stdout);
}

#[test]
fn regressors_need_their_future_and_take_it_from_a_file() {
    let e = noise(60, 8);
    let price: Vec<f64> = noise(60, 9).iter().map(|x| 5.0 + x).collect();
    let row = |t: usize| {
        format!(
            "{:04}-{:02},{},{}\n",
            2010 + t / 12,
            t % 12 + 1,
            20.0 - 2.0 * price[t] + 0.3 * e[t],
            price[t]
        )
    };
    let rows: String = (0..60).map(row).collect();
    let folder = Folder::with("a.csv", format!("month,x,price\n{rows}"));
    let words = ["forecast", "a.csv", "x", "--model", "(0,0,0)", "--with", "price", "--ahead", "2"];
    let outcome = folder.run_words(&words, "");
    outcome.fails(3, &["--with price", "2015-01 to 2015-02", "--future FILE"]);
    folder.write("next.csv", "month,price,x\n2015-01,4,99\n2015-02,7,99\n");
    let result = run(&folder, &[&words[..], &["--future", "next.csv"]].concat());
    let points: Vec<f64> = steps(&result).iter().map(|step| number(&step["point"])).collect();
    assert!((points[0] - 12.0).abs() < 0.4 && (points[1] - 6.0).abs() < 0.4, "{points:?}");
    // The column to be foretold is not taken from there.
    assert_eq!(
        (result["origin"].clone(), steps(&result)[0]["actual"].clone()),
        ("2014-12".into(), Value::Null)
    );
    folder.write("late.csv", "quarter,price\n2015-Q1,4\n");
    folder.run_words(&[&words[..], &["--future", "late.csv"]].concat(), "").fails(3, &["quarterly"]);
}

#[test]
fn gaps_may_stay_open() {
    let words = ["forecast", "demo:gate", "lorries", "--model", "(1,0,0)(0,1,1)7", "--ahead", "7"];
    let folder = Folder::new();
    folder.run_words(&words, "").fails(3, &["--gaps keep"]);
    let result = run(&folder, &[&words[..], &["--gaps", "keep"]].concat());
    assert_eq!(steps(&result)[6]["period"], "2025-01-07");
    let low = steps(&result).iter().map(|step| number(&step["low95"])).fold(f64::INFINITY, f64::min);
    assert!(low > 100.0, "{low}");
}

#[test]
fn the_search_names_what_it_chose_and_why() {
    let text = Folder::new().run("forecast demo:harbour freight:perday,ln --ahead 3 -q").running_text();
    assert!(text.contains("by (0,1,1)(0,1,1)12 of freight:perday,ln."), "{text}");
    assert!(text.contains("(0,1,1)(0,1,1)12 is the best of 144 models by AICc."), "{text}");
    assert!(
        text.contains("kandrel compare demo:harbour freight:perday,ln --model '(0,1,1)(0,1,1)12'"),
        "{text}"
    );
}

#[test]
fn csv_holds_one_row_a_period_and_the_figure_its_answer() {
    let folder = Folder::new();
    let words = ["forecast", "demo:harbour", "waiting", "--model", "(2,0,0)", "--ahead", "5"];
    let csv = folder.run_words(&[&words[..], &["--as", "csv", "--figure", "a.svg"]].concat(), "");
    let rows: Vec<&str> = csv.succeeds().stdout.lines().collect();
    assert_eq!((rows.len(), rows[0]), (6, "month,point,low80,high80,low95,high95,std_error"));
    assert!(rows[1].starts_with("2025-01,"), "{}", rows[1]);
    let figure = String::from_utf8(folder.read("a.svg")).expect("text");
    assert!(figure.contains("<polygon") && figure.contains("waiting is foretold at"));
}

#[test]
fn steps_that_cannot_be_undone_are_refused_by_name() {
    let folder = Folder::new();
    folder
        .run_words(&["forecast", "demo:harbour", "waiting:abs", "--model", "(1,0,0)"], "")
        .fails(2, &["the step abs cannot be undone", "--keep-scale"]);
    folder.run("forecast demo:harbour waiting --ahead 0").fails_call("--ahead");
    folder.run("forecast demo:harbour waiting --model (1,0").fails_call("a model is written");
    let words = ["forecast", "demo:harbour", "waiting", "--model", "(1,0,0)", "--with", "waiting:d1,nothing"];
    folder.run_words(&words, "").fails(3, &["no column `nothing`"]);
    folder
        .run_words(
            &["forecast", "demo:harbour", "waiting", "--model", "(0,1,1)", "--with", "trend,trend"],
            "",
        )
        .fails(3, &["the regressor trend"]);
}

#[test]
fn awkward_series_give_an_answer_or_a_reason() {
    let folder = Folder::new();
    let words = |file: &'static str, model: &'static str| {
        ["forecast", file, "x", "--model", model, "--ahead", "4", "--gaps", "keep"]
    };
    // A constant series.
    folder.write("flat.csv", monthly(&[4.0; 60]));
    folder.run_words(&words("flat.csv", "(1,0,0)"), "").fails(3, &["the series is constant"]);
    folder.run("forecast flat.csv x").fails(3, &["--differences"]);
    // Ten values.
    folder.write("ten.csv", monthly(&noise(10, 1)));
    let few = steps(&run(&folder, &words("ten.csv", "(1,0,0)")));
    assert!(few.iter().all(|step| number(&step["low95"]) < number(&step["high95"])));
    folder
        .run_words(&words("ten.csv", "(0,1,1)(0,1,1)12"), "")
        .fails(3, &["10 observations are too few", "are needed"]);
    // A series that explodes keeps finite forecasts.
    let explodes: Vec<f64> = (0..48).map(|t| 1.3_f64.powi(t) + f64::from(t % 3)).collect();
    folder.write("up.csv", monthly(&explodes));
    let far = steps(&run(&folder, &words("up.csv", "(1,2,1)")));
    assert!(number(&far[3]["point"]) > explodes[47]);
    // Every value of the first season missing but one: the rest still tells.
    let y: Vec<f64> = noise(84, 7)
        .iter()
        .enumerate()
        .map(|(t, e)| 50.0 + 8.0 * f64::from(u8::from(t % 12 < 4)) + e)
        .collect();
    let rows: String = y
        .iter()
        .enumerate()
        .map(|(t, v)| {
            let cell = if (1..12).contains(&t) { String::new() } else { v.to_string() };
            format!("{:04}-{:02},{cell}\n", 2010 + t / 12, t % 12 + 1)
        })
        .collect();
    folder.write("gaps.csv", format!("month,x\n{rows}"));
    let next = steps(&run(&folder, &words("gaps.csv", "(0,0,0)(0,1,1)12")));
    assert!(next.iter().all(|step| (number(&step["point"]) - 58.0).abs() < 3.0), "{next:?}");
    // A season longer than half of the series leaves nothing to difference.
    let long = ["forecast", "ten.csv", "x", "--model", "(0,0,0)(0,1,0)7", "--ahead", "2"];
    folder.run_words(&long, "").fails(3, &["are too few"]);
    // A regressor that is the trend of a model with a drift.
    let twice = ["fit", "up.csv", "x", "--model", "(0,1,1)+drift", "--with", "trend"];
    folder.run_words(&twice, "").fails(3, &["nothing is left of the regressor trend", "leave trend out"]);
}

#[test]
fn paths_are_drawn_on_request_in_own_units() {
    let folder = Folder::new();
    let call = "forecast demo:harbour freight:ln --model (0,1,1)(0,1,1)12 --ahead 6 --paths 400 --seed 3 --save p.csv";
    let found = folder.json(call)["results"][0].clone();
    assert_eq!(found["seed"], 3);
    let paths = found["paths"].as_array().expect("paths");
    assert_eq!(paths.len(), 400);
    for h in 0..6 {
        let step = &found["steps"][h];
        let (low, high) =
            (step["low80"].as_f64().expect("a number"), step["high80"].as_f64().expect("a number"));
        let inside =
            paths.iter().filter(|path| (low..=high).contains(&path[h].as_f64().expect("a number"))).count();
        // Four in five, within four standard errors of 400 draws.
        assert!((288..=352).contains(&inside), "{h}: {inside}");
    }
    let text = String::from_utf8(folder.read("p.csv")).expect("text");
    assert_eq!(text.lines().count(), 7);
    assert!(text.starts_with("month,path_1,path_2,"));
    let again = folder.json(&call.replace("--save p.csv", ""))["results"][0]["paths"].clone();
    assert_eq!(again, found["paths"]);
    folder.run("forecast demo:harbour waiting --seed 3").fails_call("--paths");
    let said = folder.run("forecast demo:harbour waiting --model (2,0,0) --paths 20 --seed 4").running_text();
    assert!(said.contains("20 paths drawn with seed 4"), "{said}");
}

#[test]
fn an_average_is_the_mean_of_its_members_forecasts() {
    let folder = Folder::new();
    // The spread of freight follows its level: the model is of its logarithm, the rival of the column itself.
    let average = run(&folder, &["forecast", "demo:harbour", "freight", "--average", "--ahead", "3"]);
    assert_eq!(
        (average["transform"].clone(), average["transform_advised"].clone()),
        ("ln".into(), true.into())
    );
    let members = average["average"].as_array().expect("members");
    assert_eq!(members.len(), 2, "the chosen model is the reference model: {members:?}");
    let each: Vec<Value> = members
        .iter()
        .map(|one| {
            let text = |field: &str| one[field].as_str().expect("text").to_owned();
            assert_eq!(one["with"], serde_json::json!([]));
            let (series, model) = (text("series"), text("model"));
            run(&folder, &["forecast", "demo:harbour", &series, "--model", &model, "--ahead", "3"])
        })
        .collect();
    for h in 0..3 {
        for field in ["point", "low80", "high95"] {
            let mean = each.iter().map(|one| number(&steps(one)[h][field])).sum::<f64>() / 2.0;
            let own = number(&steps(&average)[h][field]);
            assert!((own / mean - 1.0).abs() < 1e-5, "{h} {field}: {own} {mean}");
        }
    }
    let plain = run(&folder, &["forecast", "demo:harbour", "freight", "--transform", "none", "--ahead", "3"]);
    assert_eq!((plain["transform"].clone(), plain["transform_advised"].clone()), (Value::Null, false.into()));
    let named = ["forecast", "demo:harbour", "freight", "--average", "--model", "(0,1,1)"];
    folder
        .run_words(&named, "")
        .fails(2, &["--average combines the models of a search", "leave --model out"]);
    let keeps = run(&folder, &["forecast", "demo:harbour", "freight", "--keep-scale", "--ahead", "3"]);
    assert_eq!(keeps["transform_advised"], false);
}
