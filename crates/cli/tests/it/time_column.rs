//! The time column and what follows from it.

use std::fmt::Write as _;

use crate::harness::{Folder, scattered};

/// A file with the given times next to scattered values.
fn file(times: impl Iterator<Item = String>) -> Folder {
    let rows: String = times.zip(scattered(60)).map(|(time, x)| format!("{time},{x}\n")).collect();
    Folder::with("a.csv", format!("when,x\n{rows}"))
}

fn data(folder: &Folder) -> (String, String, String, u64) {
    let json = folder.json("acf a.csv x");
    let text = |field: &str| json["data"][field].as_str().expect("text").to_owned();
    (text("frequency"), text("first"), text("last"), json["data"]["season"].as_u64().expect("a count"))
}

fn found(frequency: &str, first: &str, last: &str, season: u64) -> (String, String, String, u64) {
    (frequency.to_owned(), first.to_owned(), last.to_owned(), season)
}

#[test]
fn years_quarters_months_and_days_are_known_by_their_form() {
    let years = file((0..60).map(|t| format!("{}", 1950 + t)));
    assert_eq!(data(&years), found("annual", "1950", "2009", 1));
    let quarters = file((0..60).map(|t| format!("{}-Q{}", 1990 + t / 4, t % 4 + 1)));
    assert_eq!(data(&quarters), found("quarterly", "1990-Q1", "2004-Q4", 4));
    let months = file((0..60).map(|t| format!("{}-{:02}", 2001 + t / 12, t % 12 + 1)));
    assert_eq!(data(&months), found("monthly", "2001-01", "2005-12", 12));
    let days = file(
        (0..60).map(|t| format!("2024-{:02}-{:02}", 1 + t / 30, t % 30 + 1)).filter(|d| d != "2024-02-30"),
    );
    // January has 31 days: the 31st is a gap.
    assert!(days.run("acf a.csv x").stderr.contains("2024-01-31"));
    let january = file((0..29).map(|t| format!("2024-01-{:02}", t + 1)));
    assert_eq!(data(&january), found("daily", "2024-01-01", "2024-01-29", 7));
}

#[test]
fn first_days_of_months_are_months() {
    let folder = file((0..60).map(|t| format!("{}-{:02}-01", 2001 + t / 12, t % 12 + 1)));
    assert_eq!(data(&folder), found("monthly", "2001-01", "2005-12", 12));
}

#[test]
fn without_times_observations_are_numbered() {
    let rows: String = scattered(60).iter().map(|x| format!("{x}\n")).collect();
    let folder = Folder::with("a.csv", format!("x\n{rows}"));
    assert_eq!(data(&folder), found("undated", "1", "60", 1));
    let sample = folder.json("acf a.csv --sample 11..40");
    assert_eq!(sample["results"][0]["observations"], 30);
}

#[test]
fn rows_in_any_order_are_put_in_order_with_a_note() {
    let newest_first = file((0..60).rev().map(|t| format!("{}", 1950 + t)));
    let outcome = newest_first.run("acf a.csv x");
    assert_eq!(outcome.status, 0);
    assert!(outcome.stderr.contains("note: the rows were not in order of time"));
    assert_eq!(data(&newest_first), found("annual", "1950", "2009", 1));
    // The first row of the file is the last period.
    let result = newest_first.json("inspect a.csv");
    let x = &result["results"][0]["columns"][1];
    let largest = scattered(60).iter().copied().fold(0.0, f64::max);
    let place = scattered(60).iter().position(|v| *v >= largest).expect("a place");
    assert_eq!(x["max_at"], format!("{}", 2009 - place));
}

#[test]
fn a_named_time_column_overrules_the_search() {
    let rows: String =
        scattered(30).iter().enumerate().map(|(t, x)| format!("{},{},{x}\n", 1950 + t, 1990 + t)).collect();
    let folder = Folder::with("a.csv", format!("year,other,x\n{rows}"));
    assert_eq!(folder.json("acf a.csv x")["data"]["first"], "1950");
    assert_eq!(folder.json("acf a.csv x --time other")["data"]["first"], "1990");
    folder.run("acf a.csv x --time x").fails(3, &["column `x`", "is not a period"]);
    folder.run("acf a.csv x --time yaer").fails(3, &["did you mean `year`?"]);
}

#[test]
fn a_season_can_be_declared() {
    let folder = file((0..60).map(|t| format!("{}", 1950 + t)));
    let result = folder.json("acf a.csv x --season 5");
    assert_eq!(result["data"]["season"], 5);
    assert_eq!(folder.run("acf a.csv x --season 0").status, 2);
}

#[test]
fn windows_line_ends_byte_marks_and_quotes_do_no_harm() {
    let rows: String =
        scattered(30).iter().enumerate().map(|(t, x)| format!("\"{}\",\"{x}\"\r\n", 1950 + t)).collect();
    let folder = Folder::with("a.csv", format!("\u{feff}year,x\r\n{rows}"));
    assert_eq!(data(&folder), found("annual", "1950", "1979", 1));
}

#[test]
fn other_spellings_are_understood() {
    let months = |write: fn(i32, i32) -> String| file((0..60).map(move |t| write(2001 + t / 12, t % 12 + 1)));
    let names = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
    let name = |month: i32| names[usize::try_from(month - 1).expect("a month")];
    let expected = found("monthly", "2001-01", "2005-12", 12);
    let writers: [fn(i32, i32) -> String; 5] = [
        |y, m| format!("{y}M{m}"),
        |y, m| format!("{y}:{m:02}"),
        |y, m| format!("01/{m:02}/{y}"),
        |y, m| format!("{m}/1/{y}"),
        |y, m| format!("01.{m:02}.{y}"),
    ];
    for write in writers {
        assert_eq!(data(&months(write)), expected, "{}", write(2001, 1));
    }
    let named = file((0..60).map(|t| format!("{}-{}", name(t % 12 + 1), 2001 + t / 12)));
    assert_eq!(data(&named), expected);
    let quarters = file((0..60).map(|t| format!("Q{} {}", t % 4 + 1, 1990 + t / 4)));
    assert_eq!(data(&quarters), found("quarterly", "1990-Q1", "2004-Q4", 4));
}

#[test]
fn dates_that_may_be_read_either_way_are_refused_until_it_is_said() {
    let rows = "01/02/2004,5\n05/03/2004,7\n11/04/2004,6\n";
    let folder = Folder::with("a.csv", format!("when,x\n{rows}"));
    folder
        .run("inspect a.csv")
        .fails(3, &["01/02/2004 may be 2004-02-01 or 2004-01-02", "--dates day-first"]);
    let first = |order: &str| folder.json(&format!("inspect a.csv --dates {order}"))["data"]["first"].clone();
    // Days a month apart represent months, days a quarter and more apart for quarters.
    assert_eq!(first("day-first"), "2004-02");
    assert_eq!(first("month-first"), "2004-Q1");
}

#[test]
fn year_and_month_may_stand_in_two_columns() {
    let rows: String = scattered(24)
        .iter()
        .enumerate()
        .map(|(t, x)| format!("{},{},{x}\n", 2001 + t / 12, t % 12 + 1))
        .collect();
    let folder = Folder::with("a.csv", format!("Year,Month,x\n{rows}"));
    assert_eq!(data(&folder), found("monthly", "2001-01", "2002-12", 12));
    let outcome = folder.run("acf a.csv");
    assert_eq!(outcome.status, 0, "the month is no series: {}", outcome.stderr);
}

/// Rows of a date and a value, on the given days from 2018-01-01, a Monday.
fn on_days(days: impl Iterator<Item = i64>) -> String {
    let start = jiff::civil::Date::constant(2018, 1, 1);
    let mut text = "date,x\n".to_owned();
    for (day, value) in days.zip(scattered(400)) {
        let date = start.checked_add(jiff::Span::new().days(day)).expect("a date");
        writeln!(text, "{date},{value}").expect("memory");
    }
    text
}

#[test]
fn weeks_and_workdays_are_inferred_from_the_dates() {
    let folder = Folder::with("week.csv", on_days((0..60).map(|week| 7 * week + 4)));
    folder.write("work.csv", on_days((0..100).filter(|day| day % 7 < 5)));
    folder.write("holiday.csv", on_days((0..100).filter(|day| day % 7 < 5 && *day != 10)));
    let data = |words: &str| folder.json(words)["data"].clone();
    let week = data("acf week.csv");
    assert_eq!((&week["frequency"], &week["season"]), (&"weekly".into(), &52.into()));
    assert_eq!((&week["first"], &week["last"]), (&"2018-01-05".into(), &"2019-02-22".into()));
    let work = data("acf work.csv");
    assert_eq!((&work["frequency"], &work["season"]), (&"workday".into(), &5.into()));
    let shown = folder.run("inspect work.csv").running_text();
    assert!(
        shown.contains("Taken as workday because the dates in `date` leave out every weekend."),
        "{shown}"
    );
    let shown = folder.run("inspect week.csv").running_text();
    assert!(shown.contains("the dates in `date` are all Fridays"), "{shown}");
    folder.run("acf holiday.csv").fails(3, &["missing in 2018-01-11"]);
    let dropped = folder.json("acf holiday.csv --gaps drop");
    assert_eq!(dropped["results"][0]["observations"], 71);
    assert_eq!(dropped["data"]["last"], "2018-04-10");
    let part = folder.json("acf work.csv --sample 2018-02..2018-03");
    assert_eq!(part["results"][0]["observations"], 42);
    let weeks = folder.json("acf week.csv --sample 2018-W10..2018-W39");
    assert_eq!(weeks["results"][0]["observations"], 30);
}

#[test]
fn weeks_by_their_number_are_read() {
    let rows: String = (1..=52).map(|week| format!("2018-W{week:02},{}\n", week * week % 17)).collect();
    let folder = Folder::with("w.csv", format!("week,x\n{rows}2019-W01,3\n"));
    let json = folder.json("transform w.csv x");
    assert_eq!(json["data"]["last"], "2019-W01");
    folder.run("transform w.csv x --out again.csv").succeeds();
    assert!(String::from_utf8_lossy(&folder.read("again.csv")).contains("\n2018-W52,1\n"));
}

#[test]
fn rows_without_a_time_column_are_counted_from_a_start() {
    let rows: String = scattered(30).iter().map(|value| format!("{value}\n")).collect();
    let folder = Folder::with("x.csv", format!("x\n{rows}"));
    for (words, first, last, frequency) in [
        ("--start 2004-11 --every month", "2004-11", "2007-04", "monthly"),
        ("--start 2004-Q4", "2004-Q4", "2012-Q1", "quarterly"),
        ("--start 2004-12-31 --every workday", "2004-12-31", "2005-02-10", "workday"),
        ("--start 2004-12-31 --every week", "2004-12-31", "2005-07-22", "weekly"),
        ("--start 2004-W53 --every week", "2004-W53", "2005-W29", "weekly"),
        ("--start 2004 --every day", "2004-01-01", "2004-01-30", "daily"),
        ("--every step", "1", "30", "undated"),
        ("--start 5 --every step", "5", "34", "undated"),
    ] {
        let data = folder.json(&format!("acf x.csv {words}"))["data"].clone();
        let found =
            [&data["first"], &data["last"], &data["frequency"]].map(|value| value.as_str().unwrap_or(""));
        assert_eq!(found, [first, last, frequency], "{words}");
    }
    folder.run("acf x.csv --every month").fails(2, &["--every needs the period of the first row", "--start"]);
    folder.run("acf x.csv --start spring").fails(2, &["--start", "spring"]);
    folder.run("acf x.csv --start 2004-01-15 --every year").fails(2, &["--start", "finer than annual"]);
}

#[test]
fn months_and_days_as_numbers_decimal_years_and_years_of_two_digits() {
    let months = file((0..60).map(|t| format!("{}{:02}", 1949 + t / 12, t % 12 + 1)));
    assert_eq!(data(&months), found("monthly", "1949-01", "1953-12", 12));
    let days = file((1..30).map(|t| format!("202401{t:02}")));
    assert_eq!(data(&days), found("daily", "2024-01-01", "2024-01-29", 7));
    let decimals = file((0..60).map(|t| format!("{:.3}", 1949.0 + f64::from(t) / 12.0)));
    assert_eq!(data(&decimals), found("monthly", "1949-01", "1953-12", 12));
    let quarters = file((0..60).map(|t| format!("{:.2}", 1960.0 + f64::from(t) / 4.0)));
    assert_eq!(data(&quarters), found("quarterly", "1960-Q1", "1974-Q4", 4));
    let names = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
    let short = file((0..60).map(|t| format!("{}-{:02}", names[t % 12], (97 + t / 12) % 100)));
    assert_eq!(data(&short), found("monthly", "1997-01", "2001-12", 12));
    let said = short.run("inspect a.csv");
    let text = format!("{} {}", said.running_text(), said.stderr);
    assert!(text.contains("years of two digits, read as 1997-01 to 2001-12"), "{text}");
}

#[test]
fn numbers_that_only_look_like_months_stay_numbers() {
    let rows: String = [200_104, 200_112, 200_101, 200_106, 200_103, 200_109, 200_111, 200_102]
        .iter()
        .zip(scattered(8))
        .map(|(a, b)| format!("{a},{b}\n"))
        .collect();
    let folder = Folder::with("a.csv", format!("passengers,x\n{rows}"));
    let json = folder.json("inspect a.csv");
    assert_eq!(json["data"]["frequency"], "undated", "{}", json["data"]);
}
