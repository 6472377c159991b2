//! What is refused says what, where, and what to do; of an expression it shows the place.

use std::fmt::Write as _;

use crate::harness::Folder;

/// A rising column, one without a pattern, one that never changes.
fn three_columns() -> Folder {
    let mut text = String::from("month,a,b,c\n");
    for t in 0..120 {
        // Writing to a string cannot fail.
        let _ = writeln!(text, "{:04}-{:02},{t},{},5", 2010 + t / 12, t % 12 + 1, (t * 7919) % 101);
    }
    Folder::with("x.csv", text)
}

/// Where in an expression the mark is, counted from zero.
fn marked(expression: &str) -> usize {
    let outcome = three_columns().run_words(&["transform", "x.csv", expression], "");
    outcome.fails(2, &[&format!("the series \"{expression}\": ")]);
    let mut lines =
        outcome.stderr.lines().skip_while(|line| line.trim_end() != format!("  {expression}").trim_end());
    let mark = lines.nth(1).expect("a line with a mark");
    assert!(mark.trim_start() == "^", "{}", outcome.stderr);
    mark.len() - 3
}

#[test]
fn the_mark_stands_under_what_is_wrong() {
    for (expression, place) in [
        ("a +", 3),
        ("a * )", 4),
        ("`a", 0),
        ("(a + 2", 0),
        ("+ * a", 0),
        ("a ! b", 2),
        ("a[t+1]", 1),
        ("a[t-x]", 1),
        ("a:avg", 2),
        ("a:d1,avg0", 5),
        ("a:d1,", 5),
        ("", 0),
    ] {
        assert_eq!(marked(expression), place, "{expression}");
    }
}

#[test]
fn a_step_that_is_meant_is_offered() {
    for (step, offer) in
        [("d0", "dK"), ("trail", "trailK"), ("avg0", "avgK"), ("demaen", "demean"), ("cumulat", "cumulate")]
    {
        let expression = format!("a:{step}");
        three_columns()
            .run_words(&["transform", "x.csv", &expression], "")
            .fails(2, &["did you mean", offer]);
    }
}

#[test]
fn series_that_a_method_cannot_take_are_refused_with_what_to_do() {
    let calls: [(&str, i32, [&str; 2]); 14] = [
        ("transform x.csv a:ln", 3, ["no logarithm of 0 in 2010-01", "--sample"]),
        ("transform x.csv a:per=q", 3, ["no column `q`", "`month`, `a`, `b` and `c`"]),
        ("transform x.csv a:index=1990-01", 3, ["no value in 1990-01", "2010-01 to 2019-12"]),
        ("transform x.csv c:standardize", 3, ["x.csv, c:standardize: the series is constant", "--sample"]),
        ("acf x.csv c", 3, ["x.csv, c: the series is constant", "no autocorrelation"]),
        ("acf x.csv b --lags 0", 2, ["0 lags", "between 1 and 119"]),
        ("outliers x.csv c", 3, ["x.csv, c: the series is constant", "has no outliers"]),
        ("relate x.csv a b --prewhiten", 4, ["exactly predictable", "leave out --prewhiten"]),
        ("stationarity x.csv b --bandwidth 500", 2, ["a bandwidth of 500 is too wide", "or fewer"]),
        ("decompose x.csv a --season 70", 3, ["fewer than two seasonal cycles of 70", "--season"]),
        ("lags x.csv a", 4, ["exact combination", "fewer lags"]),
        ("cointegration x.csv a", 2, ["at least two series", "name them"]),
        (
            "randomness x.csv b --sample 2015..2014",
            2,
            ["2015-01 comes after 2014-12", "--sample 2010-01..2019-12"],
        ),
        ("ols x.csv a --on b,c --sample 2010-01..2010-03", 3, ["3 observations", "--sample"]),
    ];
    for (call, status, texts) in calls {
        three_columns().run(call).fails(status, &texts);
    }
}

#[test]
fn calls_that_make_no_sense_name_the_option() {
    for (call, text) in [
        ("stationarity x.csv a --tests foo", "there is no test \"foo\""),
        ("forecast x.csv a --ahead 0", "--ahead"),
        ("fit x.csv b --model (1,0)", "(p,d,q)(P,D,Q)s"),
    ] {
        three_columns().run(call).fails_call(text);
    }
}

#[test]
fn nothing_is_written_where_a_call_is_refused() {
    for call in [
        "acf x.csv c",
        "transform x.csv a:ln",
        "stationarity x.csv b --bandwidth 500",
        "decompose x.csv a --season 70",
    ] {
        let folder = three_columns();
        let figure = if call.starts_with("transform") { "" } else { " --figure f.png" };
        let outcome = folder.run(&format!("{call}{figure} --out r.json"));
        assert_ne!(outcome.status, 0, "{call}");
        assert_eq!(folder.names(), ["x.csv"], "{call}");
    }
}
