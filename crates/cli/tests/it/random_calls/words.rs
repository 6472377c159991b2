//! Random command lines: a command, series of the file or not, options that fit or not.

use super::draw::Draw;
use super::files::RECORDS;

/// Commands, the more often named the more often called, with options of their own.
const COMMANDS: &[(&str, &[&[&str]])] = &[
    ("inspect", &[]),
    ("plot", &[&["--panels"], &["--by-season"], &["--figure", "f.svg"], &["--figure", "f.png"]]),
    ("acf", &[&["--lags", "8"], &["--lags", "0"], &["--lags", "500"], &["--figure", "f.svg"]]),
    ("relate", &[&["--cross"], &["--scatter"], &["--prewhiten"], &["--lags", "5"], &["--figure", "f.svg"]]),
    ("randomness", &[&["--about", "mean"], &["--about", "7"], &["--lags", "4"]]),
    ("stationarity", &[&["--terms", "trend"], &["--tests", "adf,kpss"], &["--robustness"], &["--lags", "2"]]),
    (
        "decompose",
        &[&["--seasonal-window", "7"], &["--kind", "multiplicative"], &["--robust"], &["--figure", "f.svg"]],
    ),
    ("outliers", &[&["--methods", "likelihood"], &["--repair", "interpolate"], &["--repair", "model"]]),
    ("lags", &[&["--max", "4"], &["--causality"]]),
    ("ols", &[&["--errors", "hc1"], &["--residuals"], &["--break-at", "2001-01"], &["--restrict", "rate=0"]]),
    ("cointegration", &[&["--lags", "2"], &["--bartlett"]]),
    ("orders", &[&["--limit", "1,1,0,0"], &["--differences", "1,0"]]),
    ("fit", &[&["--residuals"], &["--with", "trend"], &["--with", "rate"], &["--figure", "f.svg"]]),
    (
        "forecast",
        &[
            &["--ahead", "3"],
            &["--ahead", "0"],
            &["--paths", "2"],
            &["--figure", "f.svg"],
            &["--levels", "50,99"],
        ],
    ),
    ("transform", &[]),
    ("screen", &[&["--quick"], &["--jobs", "2"]]),
];

/// Models to fit.
const MODELS: &[&str] = &["(1,0,0)", "(0,1,1)", "(0,1,1)(0,1,1)12", "(2,0,1)", "(0,0,0)", "(9,9"];

/// Options of the data.
const DATA: &[&[&str]] = &[
    &["--season", "4"],
    &["--season", "1"],
    &["--season", "1000000000"],
    &["--gaps", "linear"],
    &["--gaps", "previous"],
    &["--gaps", "drop"],
    &["--gaps", "seasonal"],
    &["--sample", "2001.."],
    &["--sample", "..1995"],
    &["--sample", "never.."],
    &["--time", "month"],
    &["--start", "2001-01"],
    &["--every", "month"],
    &["--dates", "day-first"],
    &["--delimiter", ";"],
    &["--decimal", ","],
    &["--encoding", "utf-16le"],
    &["--missing", "7,x"],
    &["--long", "month:load"],
    &["--pick", "load=7"],
    &["--wide"],
    &["--sheet", "Data"],
    &["--let", "z=load*2"],
    &["--let", "z=z"],
    &["--memory", "30MB"],
];

/// Options of the output.
const OUTPUT: &[&[&str]] = &[
    &["--as", "json"],
    &["--as", "json"],
    &["--as", "csv"],
    &["--as", "markdown"],
    &["--as", "latex"],
    &["--as", "jsonl"],
    &["--brief"],
    &["--verbose"],
    &["--quiet"],
    &["--chart"],
    &["--ascii"],
    &["--digits", "12"],
    &["--out", "o.txt"],
    &["--out", "o.csv"],
    &["--out", "nowhere/o.txt"],
    &["--title", "a\u{1b}[2Jb\n\\x <script>"],
];

const SERIES: &[&str] = &[
    "load",
    "rate",
    "load:ln",
    "load:d1",
    "rate:d1,d12",
    "load - rate",
    "load[t-1]",
    "`x y`",
    "größe",
    "nothing",
    "load:boxcox",
    "load:deseason",
    "load:ln,repair",
    "(((load)))",
    "load/0",
    "1e999*load",
    "load:avg3",
    "load:growth1",
    "rate:detrend",
    "load:standardize",
    "load:pct",
    "load:index=2001",
    "load:cumulate",
    "load:exp",
];

/// The words of a call on a file.
pub fn call(draw: &mut Draw, file: &str) -> Vec<String> {
    let place = if file == RECORDS { COMMANDS.len() - 1 } else { draw.below(COMMANDS.len()) };
    let (command, own) = COMMANDS[place];
    let mut words = vec![command.to_owned(), file.to_owned()];
    let series = match command {
        "inspect" | "screen" => draw.below(2),
        "relate" | "cointegration" => 2,
        _ => 1 + usize::from(draw.percent(10)),
    };
    for place in 0..series {
        // The first names of the columns are the most frequent.
        let name = if draw.percent(60) { SERIES[place.min(1)] } else { SERIES[draw.below(SERIES.len())] };
        words.push(name.to_owned());
    }
    match command {
        "ols" => words.extend(["--on", "rate"].map(str::to_owned)),
        "fit" => words.extend(["--model", draw.one(MODELS)].map(str::to_owned)),
        _ => {}
    }
    let mut add = |options: &[&[&str]], draw: &mut Draw, often: usize| {
        if !options.is_empty() && draw.percent(often) {
            words.extend(options[draw.below(options.len())].iter().map(|word| (*word).to_owned()));
        }
    };
    add(own, draw, 60);
    add(DATA, draw, 22);
    add(DATA, draw, 5);
    add(OUTPUT, draw, 55);
    add(OUTPUT, draw, 8);
    words
}
