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

/// A limit of the 95 % interval of a step.
fn limit(step: &Value, which: &str) -> f64 {
    number(&step["intervals"][1][which])
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
        assert!((limit(step, "upper") - (last + h * drift + reach)).abs() < 1e-8);
        assert!((limit(step, "lower") - (last + h * drift - reach)).abs() < 1e-8);
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
    let logs = of("freight:ln", &["--transformed"]);
    assert_eq!((own["units"].clone(), logs["units"].clone()), ("freight".into(), "freight:ln".into()));
    for (a, b) in &steps(&own).into_iter().zip(steps(&logs)).collect::<Vec<_>>() {
        assert!((number(&a["point"]).ln() - number(&b["point"])).abs() < 1e-9);
        for end in ["lower", "upper"] {
            assert!((limit(a, end).ln() - limit(b, end)).abs() < 1e-9, "{end}");
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
        "--original",
    ];
    for (a, b) in steps(&run(&folder, &words)).iter().zip(&steps(&own)) {
        for end in ["point", "std_error"] {
            assert!((number(&a[end]) / number(&b[end]) - 1.0).abs() < 1e-4, "{end}: {a} {b}");
        }
        assert!((limit(a, "lower") / limit(b, "lower") - 1.0).abs() < 1e-4, "{a} {b}");
    }
}

#[test]
fn days_of_the_months_come_back_into_the_forecast() {
    let folder = Folder::new();
    let of = |series: &str, more: &[&str]| {
        let words = ["forecast", "demo:harbour", series, "--model", AIRY, "--ahead", "2"];
        steps(&run(&folder, &[&words[..], more].concat()))
    };
    let (own, scale) = (of("freight:perday,ln", &[]), of("freight:perday,ln", &["--transformed"]));
    for (step, (a, b)) in [31.0, 28.0].iter().zip(own.iter().zip(&scale)) {
        let expected = number(&b["point"]).exp() * step / (365.25 / 12.0);
        assert!((number(&a["point"]) / expected - 1.0).abs() < 1e-12, "{a} {expected}");
    }
}

#[test]
fn forecasts_are_compared_with_actual_values() {
    let folder = Folder::new();
    let words =
        ["forecast", "demo:harbour", "freight:ln", "--model", AIRY, "--sample", "..2022-12", "--ahead", "26"];
    let result = run(&folder, &words);
    let all = steps(&result);
    assert_eq!((all[0]["period"].clone(), all[25]["actual"].clone()), ("2023-01".into(), Value::Null));
    let accuracy = &result["accuracy"];
    assert_eq!(accuracy["known"], 24);
    let inside = all.iter().filter(|step| {
        step["actual"].as_f64().is_some_and(|x| limit(step, "lower") <= x && x <= limit(step, "upper"))
    });
    assert_eq!(accuracy["coverage"][1], serde_json::json!({"level": 95.0, "inside": inside.count()}));
    let text = folder.run_words(&words, "");
    fits_80_columns(text.stdout.split("Next").next().expect("text")).expect("no wide line");
    assert!(text.running_text().contains("Of 24 actual values"), "{}", text.stdout);
    assert!(text.running_text().starts_with("Forecast of freight for 2025-02: "), "{}", text.stdout);
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
    // The column to be predicted is not taken from there.
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
    let low = steps(&result).iter().map(|step| limit(step, "lower")).fold(f64::INFINITY, f64::min);
    assert!(low > 100.0, "{low}");
}

#[test]
fn the_search_names_what_it_chose_and_why() {
    let text = Folder::new().run("forecast demo:harbour freight:perday,ln --ahead 3 -q").running_text();
    assert!(text.contains("from (0,1,1)(0,1,1)12 fitted to freight:perday,ln."), "{text}");
    assert!(text.contains("(0,1,1)(0,1,1)12 has the lowest AICc of 144 models."), "{text}");
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
    assert_eq!((rows.len(), rows[0]), (6, "month,lower_95,lower_68,median,upper_68,upper_95,std_error"));
    assert!(rows[1].starts_with("2025-01,"), "{}", rows[1]);
    let figure = String::from_utf8(folder.read("a.svg")).expect("text");
    assert!(figure.contains("<polygon") && figure.contains("Forecast of waiting for 2025-05"));
}

#[test]
fn steps_that_cannot_be_undone_are_refused_by_name() {
    let folder = Folder::new();
    folder
        .run_words(&["forecast", "demo:harbour", "waiting:abs", "--model", "(1,0,0)"], "")
        .fails(2, &["the step abs has no inverse", "--transformed"]);
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
    assert!(few.iter().all(|step| limit(step, "lower") < limit(step, "upper")));
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
    folder.run_words(&twice, "").fails(3, &["the regressor trend is collinear", "leave trend out"]);
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
        let (low, high) = (number(&step["intervals"][0]["lower"]), number(&step["intervals"][0]["upper"]));
        let inside =
            paths.iter().filter(|path| (low..=high).contains(&path[h].as_f64().expect("a number"))).count();
        // 68 % of 400, within four standard errors.
        assert!((235..=309).contains(&inside), "{h}: {inside}");
    }
    let text = String::from_utf8(folder.read("p.csv")).expect("text");
    assert_eq!(text.lines().count(), 7);
    assert!(text.starts_with("month,path_1,path_2,"));
    let again = folder.json(&call.replace("--save p.csv", ""))["results"][0]["paths"].clone();
    assert_eq!(again, found["paths"]);
    let said = folder.run("forecast demo:harbour waiting --model (2,0,0) --paths 20 --seed 4").running_text();
    assert!(said.contains("20 paths simulated from (2,0,0) (seed 4)"), "{said}");
}

#[test]
fn an_average_is_the_mean_of_its_members_forecasts() {
    let folder = Folder::new();
    // The spread of freight follows its level: the model is of its logarithm, the rival of the column itself.
    let average = run(&folder, &["forecast", "demo:harbour", "freight", "--average", "--ahead", "3"]);
    assert_eq!((average["transform"].clone(), average["scale"]["used"].clone()), ("ln".into(), true.into()));
    let members = average["average"].as_array().expect("members");
    assert_eq!(members.len(), 2, "the chosen model is the reference model: {members:?}");
    assert!(number(&members[0]["weight"]) > number(&members[1]["weight"]), "the better one counts more");
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
        let read: [fn(&Value) -> f64; 3] =
            [|step| number(&step["point"]), |step| limit(step, "lower"), |step| limit(step, "upper")];
        for field in read {
            let weighted =
                each.iter().zip(members).map(|(one, own)| number(&own["weight"]) * field(&steps(one)[h]));
            let mean: f64 = weighted.sum();
            let own = field(&steps(&average)[h]);
            assert!((own / mean - 1.0).abs() < 1e-5, "{h}: {own} {mean}");
        }
    }
    let plain = run(&folder, &["forecast", "demo:harbour", "freight", "--transform", "none", "--ahead", "3"]);
    assert_eq!((plain["transform"].clone(), plain["scale"].clone()), (Value::Null, Value::Null));
    let named = ["forecast", "demo:harbour", "freight", "--average", "--model", "(0,1,1)"];
    folder
        .run_words(&named, "")
        .fails(2, &["--average combines the models of a search", "leave --model out"]);
    let keeps = run(&folder, &["forecast", "demo:harbour", "freight", "--transformed", "--ahead", "3"]);
    assert_eq!(keeps["scale"], Value::Null);
}

#[test]
fn levels_are_those_asked_for_in_the_order_of_a_fan() {
    let folder = Folder::new();
    let words = [
        "forecast",
        "demo:harbour",
        "waiting",
        "--model",
        "(2,0,0)",
        "--ahead",
        "3",
        "--levels",
        "99.5,50,90,50",
    ];
    let result = run(&folder, &words);
    for step in steps(&result) {
        let all = step["intervals"].as_array().expect("intervals");
        assert_eq!(all.iter().map(|own| number(&own["level"])).collect::<Vec<_>>(), [50.0, 90.0, 99.5]);
        let width = |k: usize| number(&all[k]["upper"]) - number(&all[k]["lower"]);
        // Normal quantiles of 75, 95 and 99.75 %.
        assert!((width(1) / width(0) - 1.644_853_627 / 0.674_489_750).abs() < 1e-6);
        assert!((width(2) / width(0) - 2.807_033_768 / 0.674_489_750).abs() < 1e-6);
    }
    let csv = folder.run_words(&[&words[..], &["--as", "csv"]].concat(), "").stdout;
    assert!(
        csv.starts_with("month,lower_99.5,lower_90,lower_50,median,upper_50,upper_90,upper_99.5,std_error"),
        "{csv}"
    );
    let text = folder.run_words(&words, "").running_text();
    assert!(text.contains("(99.5 % prediction interval "), "{text}");
    for wrong in ["0", "100", "x"] {
        let call = format!("forecast demo:harbour waiting --model (2,0,0) --levels {wrong}");
        folder.run(&call).fails_call("between 1 and 99.9");
    }
}

#[test]
fn growth_rates_are_forecast_as_such_and_the_level_on_request() {
    let folder = Folder::new();
    let of = |more: &[&str]| {
        let words = ["forecast", "demo:harbour", "freight:growth12", "--model", "(1,0,0)", "--ahead", "2"];
        run(&folder, &[&words[..], more].concat())
    };
    let (own, level) = (of(&[]), of(&["--original"]));
    assert_eq!((own["units"].clone(), level["units"].clone()), ("freight:growth12".into(), "freight".into()));
    let freight =
        run(&folder, &["forecast", "demo:harbour", "freight", "--model", "(0,1,0)", "--show", "12"]);
    let before = number(&freight["history"][0]["value"]);
    let point = |result: &Value| number(&steps(result)[0]["point"]);
    assert!((point(&level) - before * (point(&own) / 100.0).exp()).abs() < 1e-9 * before);
    assert_eq!(own["overlap"], 12);
    let text = folder.run("forecast demo:harbour freight:growth12 --model (1,0,0) --ahead 2").running_text();
    assert!(
        text.contains("freight:growth12 is a change over 12 periods: consecutive values overlap"),
        "{text}"
    );
    assert!(text.contains("(--original for the level)"), "{text}");
    let both = "forecast demo:harbour freight:d1,d12 --model (0,0,1) --original --transformed";
    folder.run(both).fails_call("cannot be used with");
    assert_eq!(
        run(&folder, &["forecast", "demo:harbour", "freight:d1,d12", "--model", "(0,0,1)"])["overlap"],
        Value::Null
    );
}

#[test]
fn bootstrap_intervals_have_the_skewness_of_the_residuals() {
    // Exponential innovations: the upper half of an interval is the wider one.
    let e: Vec<f64> = noise(300, 12).iter().map(|z| z * z).collect();
    let folder = Folder::with("a.csv", monthly(&e));
    let of = |more: &[&str]| {
        let words = ["forecast", "a.csv", "x", "--model", "(0,0,0)", "--ahead", "1"];
        run(&folder, &[&words[..], more].concat())
    };
    let halves = |result: &Value| {
        let step = &steps(result)[0];
        (limit(step, "upper") - number(&step["point"])) / (number(&step["point"]) - limit(step, "lower"))
    };
    let (normal, resampled) = (of(&[]), of(&["--bootstrap", "4000", "--seed", "9"]));
    assert!((halves(&normal) - 1.0).abs() < 1e-9 && halves(&resampled) > 3.0, "{}", halves(&resampled));
    // No value is below zero, and hardly any resampled one.
    assert!(limit(&steps(&resampled)[0], "lower") > -0.1 && limit(&steps(&normal)[0], "lower") < -1.0);
    assert_eq!((resampled["bootstrap"].clone(), resampled["seed"].clone()), (4000.into(), 9.into()));
    assert_eq!(resampled["steps"], of(&["--bootstrap", "4000", "--seed", "9"])["steps"]);
    let call = "forecast a.csv x --model (0,0,0) --ahead 1 --bootstrap 4000";
    assert!(
        folder.run(call).running_text().contains("innovations resampled from the residuals (4000 paths)")
    );
}

#[test]
fn intervals_below_high_confidence_are_those_of_a_mixture() {
    let folder = Folder::new();
    let result = run(&folder, &["forecast", "demo:region", "output", "--ahead", "6", "--transform", "none"]);
    let mixture = result["mixture"].as_array().expect("models");
    assert!(mixture.len() > 1, "{mixture:?}");
    let sum: f64 = mixture.iter().map(|own| number(&own["weight"])).sum();
    assert!((sum - 1.0).abs() < 1e-12 && number(&mixture[0]["weight"]) >= 0.5, "{mixture:?}");
    assert_eq!(mixture[0]["model"], result["model"]);
    // Both limits lie between the extremes of those of the models alone.
    let alone: Vec<Value> = mixture
        .iter()
        .map(|own| {
            let model = own["model"].as_str().expect("a model");
            let with: Vec<&str> =
                own["with"].as_array().expect("terms").iter().filter_map(Value::as_str).collect();
            let mut words = vec!["forecast", "demo:region", "output", "--ahead", "6", "--model", model];
            let terms = with.join(",");
            if !terms.is_empty() {
                words.extend(["--with", &terms]);
            }
            run(&folder, &words)
        })
        .collect();
    for (h, step) in steps(&result).iter().enumerate() {
        for which in ["lower", "upper"] {
            let all: Vec<f64> = alone.iter().map(|own| limit(&steps(own)[h], which)).collect();
            let (low, high) =
                all.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), x| (a.min(*x), b.max(*x)));
            let slack = 1e-4 * (high.abs() + low.abs());
            assert!((low - slack..=high + slack).contains(&limit(step, which)), "{h} {which}: {all:?}");
        }
    }
    let text = folder.run("forecast demo:region output --ahead 6 --transform none").running_text();
    assert!(text.contains("They are those of a mixture of models:"), "{text}");
}
