//! Files laid out as people keep them: tables of years, long tables, units and notes around the values.

use std::fmt::Write as _;
use std::sync::LazyLock;

use crate::harness::{Folder, noise};

const MONTHS: [&str; 12] =
    ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

/// A value for each month of seven years.
fn value(t: usize) -> f64 {
    static NOISE: LazyLock<Vec<f64>> = LazyLock::new(|| noise(MONTHS_ALL, 7));
    let x = t as f64;
    ((100.0 + 0.3 * x + 8.0 * (x / 12.0 * std::f64::consts::TAU).sin() + NOISE[t]) * 100.0).round() / 100.0
}

const MONTHS_ALL: usize = 84;

fn plain() -> String {
    let mut text = "month,value\n".to_owned();
    for t in 0..MONTHS_ALL {
        let _ = writeln!(text, "{}-{:02},{}", 2004 + t / 12, t % 12 + 1, value(t));
    }
    text
}

/// One row a year under these heads, without the last `open` values.
fn years_by_months(heads: &[&str], between: &str, open: usize) -> String {
    let mut text = format!("Year{between}{}\n", heads.join(between));
    for year in 0..MONTHS_ALL / 12 {
        let cell = |t: usize| if t < MONTHS_ALL - open { value(t).to_string() } else { String::new() };
        let cells: Vec<String> = (0..12).map(|month| cell(12 * year + month)).collect();
        let _ = writeln!(text, "{}{between}{}", 2004 + year, cells.join(between));
    }
    text
}

/// First and last period of the file, and what the series is diagnosed to be.
fn verdict(folder: &Folder, call: &str) -> String {
    let json = folder.json(&format!("stationarity {call}"));
    let own = &json["results"][0];
    assert!(own["observations"].is_u64() && own["diagnosis"].is_object(), "{call}");
    let data = &json["data"];
    assert!(data["first"].is_string(), "{call}: {data}");
    format!("{} {} {} {}", data["first"], data["last"], own["observations"], own["diagnosis"])
}

#[test]
fn a_table_of_years_is_the_series_that_it_holds() {
    let folder = Folder::with("plain.csv", plain());
    let expected = verdict(&folder, "plain.csv value");
    assert!(expected.contains("2004-01") && expected.contains("2010-12"), "{expected}");
    let full = [
        "January",
        "February",
        "March",
        "April",
        "May",
        "June",
        "July",
        "August",
        "September",
        "October",
        "November",
        "December",
    ];
    let coded = ["M01", "M02", "M03", "M04", "M05", "M06", "M07", "M08", "M09", "M10", "M11", "M12"];
    for heads in [MONTHS, full, coded] {
        folder.write("years.csv", years_by_months(&heads, ",", 0));
        assert_eq!(verdict(&folder, "years.csv value"), expected, "{heads:?}");
        assert_eq!(verdict(&folder, "years.csv --wide"), expected);
    }
    let note = folder.run("inspect years.csv").stderr;
    assert!(note.contains("a table of years by months, read as one monthly series, `value`"), "{note}");
    assert!(note.contains("--time Year keeps the columns apart"), "{note}");
    let apart = folder.run("inspect years.csv --time Year").running_text();
    assert!(apart.contains("12 series, annual, 2004 to 2010"), "{apart}");
}

#[test]
fn totals_titles_and_open_months_of_a_table_of_years_are_no_values() {
    let folder = Folder::new();
    let table = years_by_months(&MONTHS, ",", 5);
    let rows: Vec<String> = table.lines().map(|line| format!("{line},1200")).collect();
    let text = rows.join("\n").replacen(",1200", ",Total", 1);
    folder.write(
        "years.csv",
        format!("Ships at the quay,\n{text}\nAverage,1,1,1,1,1,1,1,1,1,1,1,1,1\nSource: own count\n"),
    );
    let found = folder.run("inspect years.csv");
    assert!(found.running_text().contains("monthly, 2004-01 to 2010-07"), "{}", found.stdout);
    assert!(found.running_text().contains("79 rows, no missing period"), "{}", found.stdout);
    for said in [
        "years.csv: 1 line above the header and 2 lines below the table (Average) skipped",
        "`Total` left out",
    ] {
        assert!(found.stderr.contains(said), "{said}: {}", found.stderr);
    }
}

#[test]
fn years_may_stand_across_and_quarters_as_well() {
    let folder = Folder::with("plain.csv", plain());
    let years: Vec<String> = (0..7).map(|year| (2004 + year).to_string()).collect();
    let mut across = format!("Ships at the quay\n,{}\n", years.join(","));
    for (month, name) in MONTHS.iter().enumerate() {
        let cells: Vec<String> = (0..7).map(|year| value(12 * year + month).to_string()).collect();
        let _ = writeln!(across, "{name},{}", cells.join(","));
    }
    folder.write("across.csv", across + "Total,1,1,1,1,1,1,1\n");
    assert_eq!(verdict(&folder, "across.csv value"), verdict(&folder, "plain.csv value"));
    let note = folder.run("inspect across.csv").stderr;
    assert!(note.contains("a table of months by years") && note.contains("`Total` left out"), "{note}");

    let quarter = |t: usize| value(3 * t).to_string().replace('.', ",");
    for heads in ["I;II;III;IV", "Q1;Q2;Q3;Q4", "1st quarter;2nd quarter;3rd quarter;4th quarter"] {
        let mut text = format!("year;{heads}\n");
        for year in 0..7 {
            let cells: Vec<String> = (0..4).map(|part| quarter(4 * year + part)).collect();
            let _ = writeln!(text, "{};{}", 2004 + year, cells.join(";"));
        }
        folder.write("quarters.csv", text);
        let found = folder.run("inspect quarters.csv").running_text();
        assert!(found.contains("1 series, quarterly, 2004-Q1 to 2010-Q4"), "{heads}: {found}");
    }
    // Plain numbers may be anything, unless the user says what they are.
    folder.write(
        "numbered.csv",
        years_by_months(&["1", "2", "3", "4", "5", "6", "7", "8", "9", "10", "11", "12"], ";", 0),
    );
    assert!(folder.run("inspect numbered.csv").running_text().contains("12 series, annual"));
    assert_eq!(verdict(&folder, "numbered.csv --wide"), verdict(&folder, "plain.csv value"));
    folder.run("inspect plain.csv --wide").fails(3, &["--wide", "Jan to Dec"]);
}

#[test]
fn tables_of_years_of_several_areas_are_a_series_for_each() {
    let table = years_by_months(&MONTHS, ",", 0);
    let (head, rows) = table.split_once('\n').expect("a header");
    let of = |area: &str| rows.lines().fold(String::new(), |text, row| text + area + "," + row + "\n");
    let folder = Folder::with("areas.csv", format!("area,{head}\n{}{}", of("north"), of("south")));
    folder.write("plain.csv", plain());
    let found = folder.run("inspect areas.csv");
    assert!(found.running_text().contains("2 series, monthly, 2004-01 to 2010-12"), "{}", found.stdout);
    assert!(found.stderr.contains("one monthly series for each `area`"), "{}", found.stderr);
    let expected = verdict(&folder, "plain.csv value");
    assert_eq!(verdict(&folder, "areas.csv south"), expected);
    assert_eq!(verdict(&folder, "areas.csv --pick area=north value"), expected);
}

fn long(areas: &[&str], kinds: &[&str]) -> String {
    let mut text = "area,kind,month,tons,fee\n".to_owned();
    for area in areas {
        for kind in kinds {
            for t in 0..30 {
                let _ = writeln!(text, "{area},{kind},{}-{:02},{},{t}", 2004 + t / 12, t % 12 + 1, value(t));
            }
        }
    }
    text
}

#[test]
fn a_long_table_is_refused_with_the_option_that_reads_it() {
    let folder = Folder::with("one.csv", long(&["north", "south side"], &["in"]));
    let refused = folder.run("inspect one.csv");
    refused.fails(
        3,
        &["a long table", "2 series in `area`", "write --long area:tons (or fee in place of tons)"],
    );
    let read = folder.run("inspect one.csv --long area:tons").running_text();
    assert!(read.contains("2 series, monthly, 2004-01 to 2006-06"), "{read}");

    folder.write("two.csv", long(&["north", "south"], &["in", "out", "all"]));
    let refused = folder.run("inspect two.csv");
    refused.fails(3, &["each `area` and `kind`", "write --pick area=north --long kind:tons"]);
    let read = folder.run("inspect two.csv --pick area=north --long kind:tons").running_text();
    assert!(read.contains("3 series, monthly"), "{read}");

    // Periods that repeat for no such reason are duplicates.
    folder.write("twice.csv", "month,x\n2004-01,1\n2004-02,2\n2004-02,3\n");
    folder.run("inspect twice.csv").fails(3, &["duplicated periods: 2004-02 (lines 3 and 4)"]);
    let remarks = "month,x,remark\n2004-01,1,a\n2004-02,2,b\n2004-02,3,c\n2004-03,3,b\n2004-04,3,c\n";
    folder.write("remarks.csv", remarks);
    folder.run("inspect remarks.csv").fails(3, &["duplicated periods: 2004-02 (lines 3 and 4)"]);
}

#[test]
fn sdmx_has_one_name_with_and_without_picking_and_answers_to_its_value() {
    let mut text = "DATAFLOW,FREQ,AREA,TIME_PERIOD,OBS_VALUE,OBS_STATUS\n".to_owned();
    for (place, area) in ["N", "S"].iter().enumerate() {
        for t in 0..60 {
            let own = value(t) + place as f64;
            let _ = writeln!(text, "O:T(1.0),M,{area},{}-{:02},{own},A", 2004 + t / 12, t % 12 + 1);
        }
    }
    let folder = Folder::with("s.csv", text);
    let expected = verdict(&folder, "s.csv S");
    assert_eq!(verdict(&folder, "s.csv --pick AREA=S S"), expected);
    assert_eq!(verdict(&folder, "s.csv --pick AREA=S OBS_VALUE"), expected);
    assert_eq!(verdict(&folder, "s.csv --pick AREA=S"), expected);
    folder.run("acf s.csv OBS_VALUE").fails(3, &["no column `OBS_VALUE`", "`N` and `S`"]);
}

#[test]
fn units_quotes_and_notes_around_the_values_are_no_values() {
    let mut text = "month, \"rate, mean\" ,\" tons \"\n,% p.a.,1000 t\n".to_owned();
    for t in 0..40 {
        let _ = writeln!(
            text,
            "{}-{:02}, {:.2}%,\"{:.1}\"",
            MONTHS[t % 12],
            (4 + t / 12) % 100,
            value(t) / 20.0,
            value(t)
        );
    }
    text += "Total,,4000\nSource: harbour office, quay 3\n* Provisional, see above\n";
    let folder = Folder::with("a.csv", text);
    let found = folder.run("inspect a.csv");
    assert!(found.running_text().contains("2 series, monthly, 2004-01 to 2007-04"), "{}", found.stdout);
    for said in [
        "a.csv: 1 line with units (% p.a., 1000 t) and 3 lines below the table (Total) skipped",
        "`rate, mean`: a percent sign is left out in 40 of 40 cells",
    ] {
        assert!(found.stderr.contains(said), "{said}: {}", found.stderr);
    }
    assert_eq!(found.stderr.matches("percent sign").count(), 1);
    assert_eq!(folder.run_words(&["acf", "a.csv", "rate, mean"], "").status, 0);
}
