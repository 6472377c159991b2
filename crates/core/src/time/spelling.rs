//! The spellings of periods that people and files have.

use jiff::civil::Date;

use super::Period;

/// What a text says.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Spelled {
    /// One period, however it is read.
    Period(Period),
    /// Two numbers before a year, either of which may be the day.
    DayAndMonth(i8, i8, i16),
    /// `2004:3`, a quarter or a month of a year.
    YearAndPart(i64, i64),
}

impl Spelled {
    /// The only period that it can be; none where it can be two.
    pub fn only(self) -> Option<Period> {
        match self {
            Self::Period(period) => Some(period),
            Self::YearAndPart(_, 1..=4) => None,
            Self::YearAndPart(year, month) => Period::month(year, month),
            Self::DayAndMonth(one, other, year) => {
                let (day_first, month_first) = (date(year, other, one), date(year, one, other));
                match (day_first, month_first) {
                    (Some(first), Some(second)) if first != second => None,
                    (one, other) => one.or(other),
                }
            }
        }
    }
}

/// A run of digits or letters.
#[derive(Debug, Clone, PartialEq, Eq)]
enum Piece {
    Digits(i64, usize),
    Letters(String),
}

/// Reads `1970Q1`, `Q1 1970`, `1970M05`, `May-1970`, `197005`, `1970:5`, `30.09.2004`, `Sep 30, 2004` and the like;
/// none of anything else.
pub fn spelled(text: &str) -> Option<Spelled> {
    let cell = without_midnight(text.trim());
    if let Some(period) = Period::parse_standard(cell).or_else(|| run_together(cell)) {
        return Some(Spelled::Period(period));
    }
    let (pieces, marks) = pieces(cell)?;
    let period = |period: Option<Period>| period.map(Spelled::Period);
    match (pieces.as_slice(), marks.as_str()) {
        ([Piece::Digits(year, 4), Piece::Letters(q), Piece::Digits(part, 1..=2)], _) => {
            period(part_of_year(*year, q, *part))
        }
        ([Piece::Letters(q), Piece::Digits(part, 1..=2), Piece::Digits(year, 4)], " " | "-" | "/" | "")
            if q == "q" || q == "m" =>
        {
            period(part_of_year(*year, q, *part))
        }
        (
            [Piece::Letters(name), Piece::Digits(year, 4)] | [Piece::Digits(year, 4), Piece::Letters(name)],
            _,
        ) => period(Period::month(*year, month_number(name)?)),
        ([Piece::Digits(year, 4), Piece::Digits(part, 1..=2)], ":") => {
            Some(Spelled::YearAndPart(*year, *part))
        }
        (
            [Piece::Digits(year, 4), Piece::Digits(month, 1..=2)]
            | [Piece::Digits(month, 1..=2), Piece::Digits(year, 4)],
            "/" | "-",
        ) => period(Period::month(*year, *month)),
        (
            [Piece::Digits(year, 4), Piece::Digits(month, 1..=2), Piece::Digits(day, 1..=2)],
            "//" | ".." | "--",
        ) => period(date(short(*year)?, small(*month)?, small(*day)?)),
        ([Piece::Digits(day, 1..=2), Piece::Digits(month, 1..=2), Piece::Digits(year, 4)], "..") => {
            period(date(short(*year)?, small(*month)?, small(*day)?))
        }
        ([Piece::Digits(one, 1..=2), Piece::Digits(other, 1..=2), Piece::Digits(year, 4)], "//" | "--") => {
            Some(Spelled::DayAndMonth(small(*one)?, small(*other)?, short(*year)?))
        }
        (
            [Piece::Digits(day, 1..=2), Piece::Letters(name), Piece::Digits(year, 4)]
            | [Piece::Letters(name), Piece::Digits(day, 1..=2), Piece::Digits(year, 4)],
            _,
        ) => period(date(short(*year)?, small(month_number(name)?)?, small(*day)?)),
        _ => None,
    }
}

/// `197005` and `19700531`, of years that could be meant.
fn run_together(cell: &str) -> Option<Period> {
    if !cell.bytes().all(|byte| byte.is_ascii_digit()) || !cell.starts_with(['1', '2']) {
        return None;
    }
    let part = |from: usize, to: usize| cell.get(from..to)?.parse::<i64>().ok();
    match cell.len() {
        6 => Period::month(part(0, 4)?, part(4, 6)?),
        8 => date(short(part(0, 4)?)?, small(part(4, 6)?)?, small(part(6, 8)?)?),
        _ => None,
    }
}

/// A date with a time of zero is the date.
fn without_midnight(cell: &str) -> &str {
    let times = ["T00:00:00", " 00:00:00", "T00:00", " 00:00", " 0:00"];
    times.iter().find_map(|time| cell.strip_suffix(time)).unwrap_or(cell)
}

/// Runs of digits and letters, and the marks between them one after the other.
fn pieces(cell: &str) -> Option<(Vec<Piece>, String)> {
    let mut found = Vec::new();
    let mut marks = String::new();
    let mut rest = cell;
    while let Some(first) = rest.chars().next() {
        let same = |c: char| c.is_ascii_digit() == first.is_ascii_digit() && c.is_alphanumeric();
        if first.is_alphanumeric() {
            let length = rest.find(|c| !same(c)).unwrap_or(rest.len());
            let run = &rest[..length];
            found.push(match first.is_ascii_digit() {
                true if length <= 4 => Piece::Digits(run.parse().ok()?, length),
                true => return None,
                false => Piece::Letters(run.to_lowercase()),
            });
            rest = &rest[length..];
        } else {
            // A comma or a point after a word, as in "Sep. 30, 2004", says nothing.
            let silent = first == ',' || (first == '.' && matches!(found.last(), Some(Piece::Letters(_))));
            let doubled = first == ' ' && !marks.is_empty() && marks.ends_with(' ');
            if !silent && !doubled {
                marks.push(first);
            }
            rest = &rest[first.len_utf8()..];
        }
        if found.len() > 3 || marks.len() > 3 {
            return None;
        }
    }
    Some((found, marks))
}

fn part_of_year(year: i64, letter: &str, part: i64) -> Option<Period> {
    match letter {
        "q" => Period::quarter(year, part),
        "m" => Period::month(year, part),
        _ => None,
    }
}

/// An English month by its name or its first three letters.
pub fn month_number(name: &str) -> Option<i64> {
    const NAMES: [&str; 12] = [
        "january",
        "february",
        "march",
        "april",
        "may",
        "june",
        "july",
        "august",
        "september",
        "october",
        "november",
        "december",
    ];
    let name = name.to_lowercase();
    let place = NAMES.iter().position(|full| {
        name.len() >= 3 && (full.starts_with(&name) || name == "sept" && *full == "september")
    });
    i64::try_from(place? + 1).ok()
}

fn date(year: i16, month: i8, day: i8) -> Option<Period> {
    Period::day(Date::new(year, month, day).ok()?)
}

fn small(number: i64) -> Option<i8> {
    i8::try_from(number).ok()
}

fn short(number: i64) -> Option<i16> {
    i16::try_from(number).ok()
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;
    use crate::time::Frequency;

    fn only(text: &str) -> Option<String> {
        spelled(text)?.only().map(|period| period.to_string())
    }

    #[test]
    fn every_spelling_of_an_option_is_the_period_it_means() {
        for text in ["1970Q1", "1970q1", "1970 Q1", "Q1-1970", "q1 1970", "1970-Q1", "1970/Q1"] {
            assert_eq!(only(text).as_deref(), Some("1970-Q1"), "{text}");
        }
        for text in ["1970M05", "1970m5", "1970-5", "197005", "1970:05", "May-1970", "May 1970", "1970-05"] {
            assert_eq!(only(text).as_deref(), Some("1970-05"), "{text}");
        }
        for text in ["1970-05-31", "19700531", "31.05.1970", "31/05/1970", "05/31/1970", "May 31, 1970"] {
            assert_eq!(only(text).as_deref(), Some("1970-05-31"), "{text}");
        }
    }

    #[test]
    fn what_has_two_readings_has_no_only_one() {
        assert_eq!(spelled("1970:1"), Some(Spelled::YearAndPart(1970, 1)));
        assert_eq!(only("1970:1"), None);
        assert_eq!(spelled("03/04/1970"), Some(Spelled::DayAndMonth(3, 4, 1970)));
        assert_eq!(only("03/04/1970"), None);
        assert_eq!(only("04/04/1970").as_deref(), Some("1970-04-04"));
    }

    /// The ways to write a period of a quarter, a month or a day.
    fn written(frequency: Frequency, year: i64, part: i64, day: i64) -> Vec<String> {
        let names = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
        let name = usize::try_from(part - 1).ok().and_then(|place| names.get(place)).unwrap_or(&"Jan");
        match frequency {
            Frequency::Quarter => vec![
                format!("{year}Q{part}"),
                format!("{year}-Q{part}"),
                format!("q{part} {year}"),
                format!("Q{part}/{year}"),
                format!("{year}:{part}"),
            ],
            Frequency::Month => vec![
                format!("{year}-{part:02}"),
                format!("{year}-{part}"),
                format!("{year}M{part:02}"),
                format!("{year}m{part}"),
                format!("{year}{part:02}"),
                format!("{year}:{part:02}"),
                format!("{part}/{year}"),
                format!("{name}-{year}"),
                format!("{name} {year}"),
            ],
            _ => vec![
                format!("{year}-{part:02}-{day:02}"),
                format!("{year}{part:02}{day:02}"),
                format!("{day}.{part}.{year}"),
                format!("{day} {name} {year}"),
                format!("{name} {day}, {year}"),
                format!("{year}-{part:02}-{day:02}T00:00:00"),
            ],
        }
    }

    proptest! {
        #[test]
        fn any_period_in_any_spelling_is_a_sample_of_its_data(
            year in 1000_i64..2999, part in 1_i64..=12, day in 1_i64..=28, which in 0_usize..3,
        ) {
            let frequency = [Frequency::Quarter, Frequency::Month, Frequency::Day][which];
            let part = if which == 0 { (part - 1) % 4 + 1 } else { part };
            let expected = match frequency {
                Frequency::Quarter => Period::quarter(year, part),
                Frequency::Month => Period::month(year, part),
                _ => Period::parse_standard(&format!("{year}-{part:02}-{day:02}")),
            }.expect("in reach");
            for text in written(frequency, year, part, day) {
                prop_assert_eq!(Period::parse_range(&text, frequency), Ok((expected, expected)), "{}", text);
            }
        }
    }

    #[test]
    fn numbers_that_are_no_dates_are_none() {
        for text in ["197013", "970105", "19701", "19700532", "000001", "12345678", "1970051"] {
            assert_eq!(spelled(text), None, "{text}");
        }
    }
}
