//! Ten files as people have them, from file to verdict: at most one hint is needed.

use std::fmt::Write as _;

use crate::harness::{Folder, noise};

const MONTHS: [&str; 12] =
    ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

/// A random walk of 120 values about a hundred.
fn values() -> Vec<f64> {
    let mut level = 100.0;
    noise(120, 11)
        .into_iter()
        .map(|e| {
            level += e;
            (level * 100.0_f64).round() / 100.0
        })
        .collect()
}

/// Lines of a file: what stands before the value of each month, then the value as it is written.
fn lines(head: &str, line: impl Fn(usize, f64) -> String) -> String {
    values().into_iter().enumerate().fold(head.to_owned(), |mut text, (t, value)| {
        let _ = writeln!(text, "{}", line(t, value));
        text
    })
}

/// A file, what a new user types, and (where that is refused) what the refusal tells to type.
struct First {
    file: &'static str,
    contents: String,
    typed: &'static [&'static str],
    /// What the refusal says, and what is typed then.
    hint: Option<(&'static str, &'static [&'static str])>,
}

fn year_table() -> String {
    let values = values();
    let row = |year: usize| {
        let cells: Vec<String> = values[12 * year..12 * year + 12].iter().map(f64::to_string).collect();
        format!("{},{}\n", 2010 + year, cells.join(","))
    };
    format!("Year,{}\n{}Source: own count\n", MONTHS.join(","), (0..10).map(row).collect::<String>())
}

fn ten() -> [First; 10] {
    let iso = |t: usize| format!("{}-{:02}", 2010 + t / 12, t % 12 + 1);
    let euro = |value: f64| value.to_string().replace('.', ",");
    [
        First {
            file: "numbers.csv",
            contents: lines("month,rate\n", |t, x| format!("{}{:02},{x}", 2010 + t / 12, t % 12 + 1)),
            typed: &["stationarity", "numbers.csv", "rate", "--sample", "2010M05.."],
            hint: None,
        },
        First {
            file: "short_years.csv",
            contents: lines("Month,Rate\n", |t, x| format!("{}-{:02},{x}%", MONTHS[t % 12], 10 + t / 12)),
            typed: &["stationarity", "short_years.csv", "Rate"],
            hint: None,
        },
        First {
            file: "continental.csv",
            contents: lines("Monat;Satz\n", |t, x| {
                format!("01.{:02}.{};{}", t % 12 + 1, 2010 + t / 12, euro(x))
            }),
            typed: &["stationarity", "continental.csv", "Satz", "--sample", "01.03.2010.."],
            hint: None,
        },
        First {
            file: "decimal.csv",
            contents: lines("time,rate\n", |t, x| format!("{:.3},{x}", 2010.0 + t as f64 / 12.0)),
            typed: &["stationarity", "decimal.csv", "log(rate)"],
            hint: Some(("write it as rate:ln", &["stationarity", "decimal.csv", "rate:ln"])),
        },
        First {
            file: "years.csv",
            contents: year_table(),
            typed: &["stationarity", "years.csv"],
            hint: None,
        },
        First {
            file: "long.csv",
            contents: ["north", "south"].iter().fold("port,month,tons\n".to_owned(), |text, port| {
                text + &lines("", |t, x| format!("{port},{},{x}", iso(t)))
            }),
            typed: &["stationarity", "long.csv", "tons"],
            hint: Some((
                "write --long port:tons",
                &["stationarity", "long.csv", "north", "--long", "port:tons"],
            )),
        },
        First {
            file: "sdmx.csv",
            contents: lines("DATAFLOW,FREQ,AREA,TIME_PERIOD,OBS_VALUE,OBS_STATUS\n", |t, x| {
                format!("O:T(1.0),M,N,{},{x},A", iso(t))
            }),
            typed: &["stationarity", "sdmx.csv", "OBS_VALUE"],
            hint: None,
        },
        First {
            file: "units.csv",
            contents: lines("Harbour office\n\nmonth, \"rate, mean\"\n,% p.a.\n", |t, x| {
                format!("{},{x}", iso(t))
            }) + "Source: harbour office\n",
            typed: &["stationarity", "units.csv", "rate, mean"],
            hint: None,
        },
        First {
            file: "money.csv",
            contents: lines("date,profit\n", |t, x| {
                let text =
                    if x < 100.0 { format!("(€{})", 1000.0 + x) } else { format!("\"€1,{x:.2}\"") };
                format!("{},{text}", iso(t))
            }),
            typed: &["adf", "money.csv", "profit"],
            hint: Some(("the command is `stationarity`", &["stationarity", "money.csv", "profit"])),
        },
        First {
            file: "bare.csv",
            contents: lines("rate\n", |_, x| x.to_string()),
            typed: &["stationarity", "bare.csv", "--start", "2010M1", "--every", "Monthly"],
            hint: None,
        },
    ]
}

#[test]
fn ten_files_lead_to_a_verdict_with_one_hint_at_most() {
    for first in ten() {
        let folder = Folder::with(first.file, &first.contents);
        let mut found = folder.run_words(first.typed, "");
        if let Some((hint, then)) = first.hint {
            assert_ne!(found.status, 0, "{}: {}", first.file, found.stdout);
            assert!(found.stderr.contains(hint), "{}: {}", first.file, found.stderr);
            found = folder.run_words(then, "");
        }
        assert_eq!(found.status, 0, "{}: {}", first.file, found.stderr);
        let text = found.running_text();
        assert!(text.contains("unit root") && text.contains("2010-"), "{}: {text}", first.file);
    }
}
