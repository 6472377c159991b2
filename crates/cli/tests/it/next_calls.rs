//! Every call that a result prints under `Next` runs, on the data that it was printed for.

use rust_xlsxwriter::Workbook;

use crate::harness::{Folder, monthly, noise, shell_words};

/// Files of one table in four forms, each with the options that read it.
struct Form {
    file: &'static str,
    contents: Vec<u8>,
    options: &'static str,
}

const MONTHS: usize = 144;

/// Two levels that share a random walk, and one that reverts to its mean, with a season in the third.
fn columns() -> [Vec<f64>; 3] {
    let (shocks, own, third) = (noise(MONTHS, 5), noise(MONTHS, 6), noise(MONTHS, 7));
    let mut level = 100.0;
    let walk: Vec<f64> = shocks
        .iter()
        .map(|shock| {
            level += shock;
            level
        })
        .collect();
    let beside = walk.iter().zip(&own).map(|(level, own)| 20.0 + 0.5 * level + own).collect();
    let seasonal =
        third.iter().enumerate().map(|(t, shock)| 50.0 + 6.0 * f64::from(u8::from(t % 12 < 3)) + shock);
    [walk, beside, seasonal.collect()]
}

fn forms() -> Vec<Form> {
    let [walk, beside, seasonal] = columns();
    let rows = |row: &dyn Fn(usize) -> String| (0..MONTHS).map(row).collect::<String>();
    let date = |t: usize| format!("{:04}-{:02}", 2010 + t / 12, t % 12 + 1);
    let comma = |value: f64| format!("{value:.3}").replace('.', ",");
    let delimited = rows(&|t| {
        let a = if t == 40 { "k.A.".to_owned() } else { comma(walk[t]) };
        format!("01.{:02}.{};{a};{};{}\n", t % 12 + 1, 2010 + t / 12, comma(beside[t]), comma(seasonal[t]))
    });
    let long = ["north", "south"].iter().flat_map(|area| {
        (0..MONTHS)
            .flat_map(move |t| [("a", 0), ("b", 1), ("c", 2)].map(|(name, place)| (*area, t, name, place)))
    });
    let values = [&walk, &beside, &seasonal];
    let long: String = long
        .map(|(area, t, name, place)| format!("{area},{},{name},{:.3}\n", date(t), values[place][t]))
        .collect();
    let bare = rows(&|t| format!("{:.3},{:.3},{:.3}\n", walk[t], beside[t], seasonal[t]));
    vec![
        Form {
            file: "marks.csv",
            contents: format!("Monat;a;b;c\n{delimited}").into_bytes(),
            options: "--time Monat --dates day-first --delimiter ; --decimal , --encoding windows-1252 --missing k.A. \
                      --gaps linear --sample 2010-03..2021-10",
        },
        Form {
            file: "long.csv",
            contents: format!("area,month,name,value\n{long}").into_bytes(),
            options: "--pick area=north --long name:value --let z=a-b --sample ..2021-11",
        },
        Form {
            file: "undated.csv",
            contents: format!("a,b,c\n{bare}").into_bytes(),
            options: "--start 2010-01 --every month --season 12",
        },
        Form { file: "book.xlsx", contents: workbook(&values), options: "--sheet Data" },
    ]
}

/// A workbook whose second sheet holds the columns.
fn workbook(values: &[&Vec<f64>; 3]) -> Vec<u8> {
    let mut book = Workbook::new();
    book.add_worksheet().set_name("Read me").expect("a name");
    let sheet = book.add_worksheet().set_name("Data").expect("a name");
    for (place, name) in ["month", "a", "b", "c"].iter().enumerate() {
        sheet.write(0, u16::try_from(place).expect("small"), *name).expect("a cell");
    }
    for t in 0..MONTHS {
        let row = u32::try_from(t).expect("small") + 1;
        sheet.write(row, 0, format!("{:04}-{:02}", 2010 + t / 12, t % 12 + 1)).expect("a cell");
        for (column, values) in (1_u16..).zip(values) {
            sheet.write(row, column, values[t]).expect("a cell");
        }
    }
    book.save_to_buffer().expect("memory")
}

/// A call of every command that prints further ones, without its file and the options of the data.
const CALLS: [(&str, &str); 23] = [
    ("inspect", ""),
    ("acf", "a --lags 18"),
    ("relate", "a b"),
    ("relate", "a:d1 b:d1 --cross --lags 6"),
    ("relate", "a:d1 b:d1 --cross --prewhiten"),
    ("randomness", "a --alpha 0.1"),
    ("stationarity", "a --alpha 0.01 --terms constant"),
    ("stationarity", "a b"),
    ("stationarity", "b c --panel --alpha 0.1"),
    ("decompose", "c --seasonal-window 7 --robust"),
    ("outliers", "c --methods likelihood"),
    ("lags", "a"),
    ("lags", "a:d1 b:d1 --max 4 --alpha 0.1"),
    ("lags", "a b --max 4"),
    ("ols", "a --on b --alpha 0.1 --errors hc1 --restrict b=2"),
    ("ols", "c:d1 --on b:d1,seasons --no-constant"),
    ("cointegration", "a b --alpha 0.1"),
    ("orders", "c --with trend"),
    ("fit", "a --model (0,1,1) --with step=2015-01 --alpha 0.1"),
    ("forecast", "a --model (0,1,1) --with step=2015-01 --ahead 5 --mean"),
    ("forecast", "c"),
    ("compare", "a --model (0,1,1) --model (1,1,0) --rolling 3 --with step=2012-01"),
    ("screen", "a b c"),
];

/// The calls under `Next`.
fn next(text: &str) -> Vec<String> {
    let lines = text.lines().skip_while(|line| *line != "Next").skip(1);
    lines.filter_map(|line| line.trim().strip_prefix("kandrel ")).map(str::to_owned).collect()
}

#[test]
fn every_next_call_runs_and_keeps_the_options_of_the_data() {
    let mut printed = 0;
    for form in forms() {
        let folder = Folder::with(form.file, &form.contents);
        for (command, own) in CALLS {
            let call = format!("{command} {} {own} {}", form.file, form.options);
            let words: Vec<&str> = call.split_whitespace().collect();
            let outcome = folder.run_words(&words, "");
            assert_eq!(outcome.status, 0, "{call}\n{}", outcome.stderr);
            let options: Vec<&str> = form.options.split_whitespace().collect();
            for next in next(&outcome.stdout) {
                let kept = shell_words(&next);
                let has = |pair: &[&str]| kept.windows(2).any(|words| words == pair);
                // A further call may be on a part of the sample.
                let lost = options.chunks(2).find(|pair| pair[0] != "--sample" && !has(pair));
                assert_eq!(lost, None, "{call}\n{next}");
                assert!(
                    !form.options.contains("--sample") || kept.iter().any(|word| word == "--sample"),
                    "{next}"
                );
                let second = Folder::with(form.file, &form.contents).run_shell(&next);
                assert_eq!(second.status, 0, "{call}\n{next}\n{}", second.stderr);
                printed += 1;
            }
        }
    }
    assert!(printed >= 60, "{printed} calls were printed");
}

#[test]
fn a_next_call_keeps_the_options_of_its_own_that_still_mean_something() {
    let folder = Folder::with("undated.csv", &forms()[2].contents);
    let data = "--start 2010-01 --every month";
    for (call, kept) in [
        ("stationarity undated.csv a b --alpha 0.01 --lags bic", "--lags bic --alpha 0.01"),
        ("ols undated.csv c:d1 --on b:d1,seasons --no-constant --alpha 0.1", "--no-constant --alpha 0.1"),
        ("fit undated.csv a --model (0,1,1) --with step=2015-01", "--model '(0,1,1)' --with step=2015-01"),
        ("forecast undated.csv a --model (0,1,1) --mean --ahead 5", "--mean --ahead 5"),
        ("orders undated.csv c --with trend", "--with trend"),
        ("decompose undated.csv c --seasonal-window 7 --robust", "--seasonal-window 7 --robust"),
        ("acf undated.csv a --lags 18", "--lags 18"),
    ] {
        let text = folder.run(&format!("{call} {data}")).stdout;
        assert!(next(&text).iter().any(|next| next.contains(kept)), "{call}\n{text}");
    }
}

#[test]
fn gaps_left_open_are_filled_where_a_further_command_takes_none() {
    let mut values: Vec<String> = noise(96, 3).iter().map(|value| format!("{:.3}", 10.0 + value)).collect();
    values[50] = String::new();
    let folder = Folder::with("a.csv", monthly(&values));
    for call in [
        "acf a.csv x",
        "fit a.csv x --model (1,0,0)",
        "decompose a.csv x",
        "forecast a.csv x --model (1,0,0)",
    ] {
        for next in next(&folder.run(&format!("{call} --gaps keep")).stdout) {
            let outcome = folder.run_shell(&next);
            assert_eq!(outcome.status, 0, "{call}\n{next}\n{}", outcome.stderr);
        }
    }
}
