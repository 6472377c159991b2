//! `kandrel explain`.

use std::collections::BTreeSet;

use crate::harness::{Folder, fits_80_columns};

#[test]
fn every_test_that_a_command_reports_is_explained() {
    let folder = Folder::new();
    let mut names = BTreeSet::new();
    for call in [
        "randomness demo:harbour claims",
        "stationarity demo:harbour tug_hours --tests all --break-at 2012-05",
        "stationarity demo:harbour freight:ln --tests hegy,canova_hansen",
        "stationarity demo:harbour waiting claims --panel",
    ] {
        let tests = folder.json(call)["results"][0]["tests"].clone();
        for test in tests.as_array().expect("tests") {
            names.insert(test["test"].as_str().expect("a name").replace("_joint", ""));
        }
    }
    let regression = "ols demo:region wages --on output --break-at 2000-Q4";
    let tests = folder.json(regression)["results"][0]["diagnostics"].clone();
    for test in tests.as_array().expect("tests") {
        names.insert(test["test"].as_str().expect("a name").to_owned());
    }
    names.extend(["engle_granger", "phillips_ouliaris", "johansen"].map(str::to_owned));
    for method in ["expanding", "seasonal", "irregular", "likelihood"] {
        folder.run(&format!("explain outlier_{method}")).succeeds();
    }
    assert!(names.len() >= 35, "{names:?}");
    for name in names {
        let output = folder.run(&format!("explain {name}"));
        output.succeeds();
        for part in ["Null hypothesis", "How to read it", "When it misleads", "Source", "Example"] {
            assert!(output.stdout.contains(part), "{name} lacks {part}");
        }
    }
}

#[test]
fn every_topic_is_listed_fits_and_its_example_runs() {
    let folder = Folder::new();
    let all: serde_json::Value =
        serde_json::from_str(&folder.run("explain --as json").stdout).expect("valid JSON");
    let list = folder.run("explain");
    list.succeeds();
    fits_80_columns(&list.stdout).expect("no wide line");
    for topic in all.as_array().expect("topics") {
        let name = topic["name"].as_str().expect("a name");
        assert!(list.stdout.contains(name), "{name} is not listed");
        let output = folder.run(&format!("explain {name}"));
        fits_80_columns(&output.stdout).unwrap_or_else(|wide| panic!("{name}: {wide}"));
        let example =
            topic["example"].as_str().expect("an example").strip_prefix("kandrel ").expect("a call");
        let words: Vec<&str> = example.split_whitespace().map(|word| word.trim_matches('\'')).collect();
        folder.run_words(&words, "").succeeds();
    }
}

#[test]
fn tests_that_miss_their_size_say_so() {
    let folder = Folder::new();
    for name in ["runs", "turning_points", "ljung_box", "variance_ratio", "mcleod_li", "jarque_bera"] {
        let text = folder.run(&format!("explain {name}")).running_text();
        assert!(text.contains("Size") && text.contains('%'), "{name}: {text}");
    }
}

#[test]
fn names_are_found_however_they_are_written_and_near_ones_suggested() {
    let folder = Folder::new();
    for name in ["ljung_box", "Ljung-Box", "LJUNG-BOX"] {
        assert!(folder.run(&format!("explain {name}")).first_line().starts_with("Ljung-Box test."));
    }
    folder.run("explain lung_box").fails(2, &["did you mean ljung_box?", "lists every topic"]);
    folder.run("explain adf --as csv").fails(2, &["--as markdown"]);
    folder.run("explain adf --out adf.md --as markdown").succeeds();
    assert!(String::from_utf8(folder.read("adf.md")).expect("text").contains("Dickey"));
    folder.run("explain adf --out adf.md").fails(2, &["adf.md"]);
}

#[test]
fn terms_of_several_words_and_the_steps_are_explained() {
    let folder = Folder::new();
    for words in ["explain unit root", "explain unit-root", "explain Unit root"] {
        let text = folder.run(words).running_text();
        assert!(text.starts_with("Unit root: autoregressive root at one"), "{words}: {text}");
    }
    for term in
        ["white noise", "random walk", "drift", "AICc", "bic", "rmse", "differencing", "standard error"]
    {
        folder.run(&format!("explain {term}")).succeeds();
    }
    let tested = folder.run("explain ljung box").running_text();
    assert!(tested.contains("Null hypothesis"), "{tested}");
    let steps = folder.run("explain steps");
    steps.succeeds();
    for form in ["ln", "boxcox", "dK", "deseason", "repair"] {
        assert!(steps.stdout.contains(&format!("- {form}: ")), "{form}: {}", steps.stdout);
    }
    let readme = include_str!("../../../../README.md");
    let listed = steps.stdout.lines().filter_map(|line| line.trim().strip_prefix("- ")?.split_once(": "));
    for (form, _) in listed {
        assert!(readme.contains(&format!("| `{form}` |")), "{form} is not in the README");
    }
    for (words, begins) in [
        ("information criteria", "Information criteria"),
        ("measures of accuracy", "Measures of accuracy"),
        ("transformations", "Transformation: "),
        ("seasonal differencing", "Differencing: "),
        ("decomposition", "Decomposition by local polynomials"),
        ("standard errors", "Least squares and its standard errors"),
        ("newey-west", "Least squares and its standard errors"),
        ("order of integration", "Order of integration: "),
        ("d", "Order of integration: "),
        ("partial autocorrelation", "Partial autocorrelation function"),
        ("correlogram", "Autocorrelation function"),
        ("phillips perron", "Phillips-Perron test"),
        ("Granger", "Granger causality"),
        ("stationarity", "Stationary: "),
        ("prediction intervals", "Prediction interval: "),
        ("missing values", "Missing period: "),
        ("p-value", "P-value: "),
        ("H0", "Null hypothesis"),
        ("repair", "Outlier-adjusted series"),
        ("perworkday", "Step perworkday: "),
    ] {
        let found = folder.run(&format!("explain {words}"));
        found.succeeds();
        assert!(found.stdout.starts_with(begins), "{words}: {}", found.stdout);
    }
    folder.run("explain of nothing").fails(2, &["nothing is known about \"of nothing\""]);
}
