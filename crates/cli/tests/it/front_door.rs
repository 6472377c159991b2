//! First guesses of a new user: spellings that are understood, and words that lead on.

use crate::harness::{Folder, scattered};

#[test]
fn a_sample_is_named_in_every_spelling_of_a_period() {
    let folder = Folder::new();
    let first = |file: &str, series: &str, sample: &str| -> String {
        let json = folder.json(&format!("acf {file} {series} --sample {sample}.."));
        json["results"][0]["first"].as_str().expect("a period").to_owned()
    };
    for sample in
        ["2010M05", "2010m5", "2010-5", "201005", "2010:05", "2010:5", "May-2010", "2010-05-17", "2010-05"]
    {
        assert_eq!(first("demo:harbour", "freight", sample), "2010-05", "{sample}");
    }
    for sample in ["2010Q2", "2010q2", "Q2-2010", "2010-Q2"] {
        assert_eq!(first("demo:harbour", "freight", sample), "2010-04", "{sample}");
    }
    for sample in ["1990Q3", "1990q3", "1990:3", "Q3-1990", "1990-08", "19900815", "Aug-1990"] {
        assert_eq!(first("demo:region", "wages", sample), "1990-Q3", "{sample}");
    }
    let spaced = folder.run_words(&["acf", "demo:harbour", "freight", "--sample", "May 2010..Q4 2015"], "");
    assert!(spaced.running_text().contains("2010-05 to 2015-12"), "{}", spaced.stdout);
    folder.run("acf demo:harbour freight --sample 2010-13..").fails(2, &["2010-13"]);
}

#[test]
fn breaks_steps_and_starts_take_the_same_spellings() {
    let folder = Folder::with("a.csv", "x\n1\n2\n4\n3\n5\n7\n6\n8\n9\n8\n11\n10\n12\n13\n12\n14\n");
    for start in ["1970Q1", "1970:1", "Q1-1970"] {
        let text = folder.run(&format!("inspect a.csv --start {start} --every quarterly")).running_text();
        assert!(text.contains("quarterly, 1970-Q1 to 1973-Q4"), "{start}: {text}");
    }
    let estimates = |spelling: &str| {
        let step = format!("trend,step={spelling}");
        let json = folder.json(&format!("fit demo:harbour tug_hours --model (1,0,0) --with {step}"));
        json["results"][0]["parameters"].to_string().replace(&format!("step={spelling}"), "step=2012-06")
    };
    for spelling in ["2012M06", "201206", "Jun-2012"] {
        assert_eq!(estimates(spelling), estimates("2012-06"), "{spelling}");
    }
    let broken = |at: &str| {
        folder.json(&format!("stationarity demo:harbour tug_hours --tests perron --break-at {at}"))
    };
    assert_eq!(broken("2012M05")["results"][0]["tests"], broken("2012-05")["results"][0]["tests"]);
}

#[test]
fn a_day_is_typed_as_the_file_writes_it() {
    let day = |t: i64, form: &str| {
        let date = jiff::civil::date(2004, 1, 1).saturating_add(jiff::Span::new().days(t));
        date.strftime(form).to_string()
    };
    let values = scattered(200);
    for form in ["%d/%m/%Y", "%m/%d/%Y", "%d.%m.%Y", "%Y%m%d", "%d %b %Y"] {
        let rows: String = (0..).zip(&values).map(|(t, x)| format!("{},{x}\n", day(t, form))).collect();
        let folder = Folder::with("a.csv", format!("day,x\n{rows}"));
        // The fourth of March and the fifth of May.
        let sample = format!("{}..{}", day(63, form), day(125, form));
        let found = folder.run_words(&["acf", "a.csv", "x", "--sample", &sample], "").running_text();
        assert!(found.contains("63 observations, 2004-03-04 to 2004-05-05"), "{sample}: {found}");
        let step = format!("trend,step={}", day(63, form));
        let fitted = folder.run_words(&["fit", "a.csv", "x", "--model", "(1,0,0)", "--with", &step], "");
        assert_eq!(fitted.status, 0, "{step}: {}", fitted.stderr);
    }
    let iso: String = (0..).zip(&values).map(|(t, x)| format!("{},{x}\n", day(t, "%Y-%m-%d"))).collect();
    let folder = Folder::with("a.csv", format!("day,x\n{iso}"));
    folder.run("acf a.csv x --sample 03/04/2004..").fails(2, &["03/04/2004"]);
}

#[test]
fn a_model_is_named_in_every_notation() {
    let folder = Folder::new();
    let model = |text: &str| -> String {
        let found =
            folder.run_words(&["fit", "demo:harbour", "freight:ln", "--model", text, "--as", "json"], "");
        found.succeeds();
        let json: serde_json::Value = serde_json::from_str(&found.stdout).expect("JSON");
        json["results"][0]["model"].as_str().expect("a model").to_owned()
    };
    for (text, name) in [
        ("ARIMA(0,1,1)", "(0,1,1)"),
        ("0,1,1", "(0,1,1)"),
        ("AR(1)", "(1,0,0)"),
        ("MA(2)", "(0,0,2)"),
        ("ARMA(1,1)", "(1,0,1)"),
        ("SARIMA(0,1,1)(0,1,1)12", "(0,1,1)(0,1,1)12"),
        ("(0,1,1)x(0,1,1)12", "(0,1,1)(0,1,1)12"),
        ("(0,1,1)(0,1,1)[12]", "(0,1,1)(0,1,1)12"),
        ("( 0, 1, 1 ) (0, 1, 1)", "(0,1,1)(0,1,1)12"),
    ] {
        assert_eq!(model(text), name, "{text}");
    }
    let rows: String = (0..40).map(|t| format!("{},{}\n", 1970 + t, (t * t) % 17)).collect();
    let annual = Folder::with("a.csv", format!("year,x\n{rows}"));
    annual.run("fit a.csv x --model (0,1,1)(0,1,1)").fails(2, &["seasonal period", "--season N"]);
}

fn refused_with(folder: &Folder, words: &str, hint: &str) {
    let outcome = folder.run(words);
    assert_eq!(outcome.status, 2, "{words}");
    assert!(outcome.stderr.contains(hint), "{words}: {}", outcome.stderr);
}

#[test]
fn words_of_the_trade_lead_to_the_command_the_option_and_the_value() {
    let folder = Folder::new();
    for (words, hint) in [
        ("adf demo:harbour ice", "stationarity"),
        ("unit-root demo:harbour ice", "stationarity"),
        ("arima demo:harbour ice", "fit"),
        ("auto demo:harbour ice", "orders"),
        ("regress demo:harbour ice", "ols"),
        ("correlogram demo:harbour ice", "acf"),
        ("ccf demo:harbour ice", "relate"),
        ("runs demo:harbour ice", "randomness"),
        ("describe demo:harbour", "inspect"),
        ("predict demo:harbour ice", "forecast"),
        ("johansen demo:harbour ice", "cointegration"),
        ("granger demo:harbour ice", "lags"),
        ("seasonal demo:harbour ice", "decompose"),
        ("graph demo:harbour ice", "plot"),
        ("diff demo:harbour ice", "transform"),
        ("statoinarity demo:harbour ice", "stationarity"),
    ] {
        refused_with(&folder, words, &format!("the command is `{hint}`"));
    }
    for (words, hint) in [
        ("forecast demo:harbour ice --horizon 3", "ahead"),
        ("forecast demo:harbour ice --steps 3", "ahead"),
        ("acf demo:harbour ice --end 2010", "sample"),
        ("stationarity demo:harbour ice --maxlag 3", "max-lags"),
        ("stationarity demo:harbour ice --trend c", "terms"),
        ("fit demo:harbour ice --order 1,0,0", "model"),
        ("acf demo:harbour ice --format json", "as"),
        ("acf demo:harbour ice --output a", "out"),
        ("acf demo:harbour ice --period 12", "season"),
        ("stationarity demo:harbour ice --level 0.1", "alpha"),
    ] {
        refused_with(&folder, words, &format!("the option is `--{hint}`"));
    }
    for (value, hint) in [("hac", "newey-west"), ("robust", "hc1")] {
        let words = format!("ols demo:harbour sailings --on bookings --errors {value}");
        refused_with(&folder, &words, &format!("the value is `{hint}`"));
    }
    // No hint is better than a wrong one.
    for words in ["bogus demo:harbour", "acf demo:harbour ice --zzz", "ols demo:harbour ice --horizon 3"] {
        let outcome = folder.run(words);
        assert_eq!(outcome.status, 2, "{words}");
        assert!(!outcome.stderr.contains("tip:"), "{words}: {}", outcome.stderr);
    }
}

#[test]
fn functions_are_answered_with_the_expression_to_type() {
    let folder = Folder::new();
    for (typed, here) in [
        ("log(freight)", "freight:ln"),
        ("ln(freight)", "freight:ln"),
        ("diff(freight)", "freight:d1"),
        ("d(log(freight))", "freight:ln,d1"),
        ("freight(-1)", "freight[t-1]"),
        ("lag(freight, 1)", "freight[t-1]"),
        ("freight:log", "freight:ln"),
        ("freight:diff", "freight:d1"),
        ("log(freight) - log(ice)", "freight:ln - ice:ln"),
    ] {
        let refused = folder.run_words(&["transform", "demo:harbour", typed], "");
        refused.fails(2, &[&format!("write it as {here}\n")]);
        folder.run_words(&["transform", "demo:harbour", here], "").succeeds();
    }
}

#[test]
fn values_are_taken_in_any_case() {
    let folder = Folder::new();
    let tested = |words: &str| folder.json(words)["results"][0]["tests"].clone();
    assert_eq!(
        tested("stationarity demo:harbour ice --terms TREND --tests ADF"),
        tested("stationarity demo:harbour ice --terms trend --tests adf")
    );
    folder.run("decompose demo:harbour freight --kind Multiplicative --brief").succeeds();
    folder.run("acf demo:harbour ice --as JSON").succeeds();
}

#[test]
fn a_command_without_its_arguments_shows_two_examples() {
    let folder = Folder::new();
    let help = folder.run("--help").stdout;
    let commands: Vec<&str> = help
        .lines()
        .skip_while(|line| !line.starts_with("Commands:"))
        .skip(1)
        .map_while(|line| line.strip_prefix("  "))
        .filter(|line| !line.starts_with(' '))
        .filter_map(|line| line.split_whitespace().next())
        .filter(|name| !["tour", "explain", "completions", "man", "help"].contains(name))
        .collect();
    assert!(commands.len() > 17, "{commands:?}");
    for command in commands {
        let refused = folder.run(command);
        refused.fails_call("Examples:");
        let examples: Vec<&str> =
            refused.stderr.lines().filter_map(|line| line.strip_prefix("  kandrel ")).collect();
        assert_eq!(examples.len(), 2, "{command}: {}", refused.stderr);
        assert!(examples.iter().all(|example| example.starts_with(command)), "{examples:?}");
        assert!(refused.stderr.ends_with("For more information, try '--help'.\n"), "{}", refused.stderr);
    }
}
