//! The length of answers: the answer, one table, five points and the next calls; more on request, less with `--brief`.

use crate::harness::{Folder, fits_80_columns};

/// One call for each command that analyses series, with a model or an option where it needs one.
const CALLS: [&str; 16] = [
    "inspect demo:harbour",
    "acf demo:harbour freight:ln,d1",
    "randomness demo:harbour waiting",
    "outliers demo:harbour ice",
    "decompose demo:harbour ice",
    "stationarity demo:harbour tug_hours",
    "orders demo:harbour freight:perday,ln",
    "fit demo:harbour waiting --model (2,0,0)",
    "forecast demo:harbour waiting --model (2,0,0)",
    "compare demo:harbour waiting --model (2,0,0) --model (1,0,0) --rolling 12",
    "lags demo:region wages rents",
    "ols demo:region wages --on rents",
    "cointegration demo:charters lighter coaster feeder bulker --lags 2",
    "relate demo:harbour bookings sailings --cross",
    "power demo:region wages --draws 100",
    "stationarity demo:region wages rents",
];

/// Lines that start a table.
fn tables(text: &str) -> usize {
    text.lines().filter(|line| line.starts_with('─')).count()
}

/// Points under a title.
fn points(text: &str, title: &str) -> usize {
    let below = text.lines().skip_while(|line| *line != title).skip(1);
    below.take_while(|line| line.starts_with("  ")).filter(|line| line.starts_with("  - ")).count()
}

#[test]
fn an_answer_has_one_table_and_at_most_five_points() {
    let folder = Folder::new();
    for call in CALLS {
        let text = folder.run(call).succeeds().stdout.clone();
        assert!(text.lines().count() <= 52, "{call}: {} lines\n{text}", text.lines().count());
        assert_eq!(tables(&text), 1, "{call}\n{text}");
        assert!(points(&text, "Interpretation") <= 5, "{call}\n{text}");
        fits_80_columns(text.split("Next").next().expect("text"))
            .unwrap_or_else(|wide| panic!("{call}: {wide}"));
    }
}

#[test]
fn what_an_answer_leaves_out_comes_with_verbose() {
    let folder = Folder::new();
    for call in CALLS {
        let usual = folder.run(call).succeeds().stdout.clone();
        let verbose = folder.run(&format!("{call} -v"));
        assert_eq!(verbose.status, 0, "{call}: {}", verbose.stderr);
        let whole = &verbose.stdout;
        let leaves_out = usual.contains("More with -v: ");
        assert_eq!(leaves_out, *whole != usual, "{call}\n{usual}\n{whole}");
        assert!(!whole.contains("More with -v"), "{call}\n{whole}");
        if let Some(left_out) =
            usual.split("More with -v: ").nth(1).filter(|text| text.contains("further points"))
        {
            assert!(points(whole, "Interpretation") > 5, "{call}: {left_out}");
        }
    }
}

#[test]
fn brief_is_the_answer_and_one_table() {
    let folder = Folder::new();
    for call in CALLS {
        let usual = folder.run(call).succeeds().stdout.clone();
        let brief = folder.run(&format!("{call} --brief")).succeeds().stdout.clone();
        let answer = usual.split("\n\n").next().expect("an answer");
        assert!(brief.starts_with(answer) && tables(&brief) == 1, "{call}\n{brief}");
        assert!(!brief.contains("Next\n") && !brief.contains("Interpretation"), "{call}\n{brief}");
        assert_eq!(brief.split("\n\n").count(), 2, "{call}\n{brief}");
    }
    // The data are the same whatever is shown.
    let json = |more: &str| folder.json(&format!("acf demo:harbour waiting {more}"))["results"].clone();
    assert_eq!(json("--brief"), json(""));
    folder.run("acf demo:harbour waiting --brief -v").fails_call("cannot be used with");
}
