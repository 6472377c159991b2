//! Times that leave something to the column: decimal years, and years of two digits.

use kandrel_core::time::{Period, month_number};

/// Years that a decimal number may mean.
const YEARS: std::ops::Range<f64> = 1000.0..3000.0;
/// Parts of a year that decimals may count.
const PARTS: [f64; 2] = [12.0, 4.0];
/// How far a decimal may be from its part of the year, in parts: three decimals are enough.
const ROUNDING: f64 = 0.1;
/// The last year that two digits mean: there is no clock here.
const LATEST: i64 = 2029;

/// `1949.083` as the second month of 1949, at the beginning or in the middle of the month or quarter; none of other columns.
pub fn decimal_years<'a>(cells: impl Iterator<Item = &'a str>) -> Option<Vec<Period>> {
    let years: Vec<f64> = cells.map(|cell| cell.trim().parse().ok()).collect::<Option<_>>()?;
    let has_parts = years.iter().any(|year| year.fract() != 0.0);
    if years.len() < 3 || !has_parts || !years.iter().all(|year| YEARS.contains(year)) {
        return None;
    }
    PARTS.iter().find_map(|parts| {
        let steps = |year: &f64| year * parts;
        let is_step = |pair: &[f64]| (steps(&pair[1]) - steps(&pair[0])).abs().round() >= 1.0;
        let near = |offset: f64| {
            years.iter().all(|year| {
                let place = steps(year) - offset;
                (place - place.round()).abs() < ROUNDING
            })
        };
        // Every row is another part, and most follow the one before: quarters are months as well.
        let next = years.windows(2).filter(|pair| (steps(&pair[1]) - steps(&pair[0])).abs().round() <= 1.0);
        if !years.windows(2).all(is_step) || 2 * next.count() < years.len() - 1 {
            return None;
        }
        let offset = [0.0, 0.5].into_iter().find(|offset| near(*offset))?;
        let whole = |year: &f64| {
            // Between a thousand and three thousand years of twelve months.
            #[allow(clippy::cast_possible_truncation)]
            let place = (steps(year) - offset).round() as i64;
            #[allow(clippy::cast_possible_truncation)]
            let count = *parts as i64;
            period_of(count, place)
        };
        years.iter().map(whole).collect()
    })
}

/// `Jan-49` and `Q1-49`: the newest lies between 1930 and 2029, and each is as near to the one before as it can be; none
/// of other columns.
pub fn two_digit_years<'a>(cells: impl Iterator<Item = &'a str>) -> Option<Vec<Period>> {
    let parts: Vec<Part> = cells.map(part).collect::<Option<_>>()?;
    let first = *parts.first()?;
    if parts.iter().any(|one| one.in_year != first.in_year) {
        return None;
    }
    let mut places = vec![1900 * first.in_year + first.place];
    let century = 100 * first.in_year;
    for one in parts.iter().skip(1) {
        let before = *places.last()?;
        let guess = before.div_euclid(century) * century + one.place;
        places.push(
            [-century, 0, century].into_iter().map(|add| guess + add).min_by_key(|at| (at - before).abs())?,
        );
    }
    let newest = *places.iter().max()?;
    let end = (LATEST + 1) * first.in_year;
    let shift = (end - 1 - newest).div_euclid(century) * century;
    places.into_iter().map(|place| period_of(first.in_year, place + shift)).collect()
}

/// The month or quarter at a place that is counted in parts of a year.
fn period_of(in_year: i64, place: i64) -> Option<Period> {
    let (year, part) = (place.div_euclid(in_year), place.rem_euclid(in_year) + 1);
    if in_year == 12 { Period::month(year, part) } else { Period::quarter(year, part) }
}

/// A part of a year of which two digits are known.
#[derive(Debug, Clone, Copy)]
struct Part {
    /// Parts of the year.
    in_year: i64,
    /// Parts since the beginning of the century.
    place: i64,
}

fn part(cell: &str) -> Option<Part> {
    let (name, year) = cell.trim().split_once(['-', ' ', '/', '.'])?;
    let digits = year.trim().trim_start_matches(['\'', '’']);
    let year: i64 = (digits.len() == 2).then(|| digits.parse().ok()).flatten()?;
    let quarter =
        || name.trim().to_lowercase().strip_prefix('q')?.parse::<i64>().ok().filter(|q| (1..=4).contains(q));
    match month_number(name.trim().trim_end_matches('.')) {
        Some(month) => Some(Part { in_year: 12, place: 12 * year + month - 1 }),
        None => quarter().map(|quarter| Part { in_year: 4, place: 4 * year + quarter - 1 }),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn ends(periods: Option<Vec<Period>>) -> Option<(String, String)> {
        let periods = periods?;
        Some((periods.first()?.to_string(), periods.last()?.to_string()))
    }

    fn read(cells: &[String], of: fn(&[String]) -> Option<Vec<Period>>) -> Option<(String, String)> {
        ends(of(cells))
    }

    fn decimals(cells: &[String]) -> Option<Vec<Period>> {
        decimal_years(cells.iter().map(String::as_str))
    }

    fn short(cells: &[String]) -> Option<Vec<Period>> {
        two_digit_years(cells.iter().map(String::as_str))
    }

    fn pair(first: &str, last: &str) -> (String, String) {
        (first.to_owned(), last.to_owned())
    }

    #[test]
    fn decimals_are_months_or_quarters_from_their_beginning_or_middle() {
        let of = |count: i32, in_year: i32, offset: f64| -> Vec<String> {
            (0..count)
                .map(|t| format!("{:.3}", 1949.0 + (f64::from(t) + offset) / f64::from(in_year)))
                .collect()
        };
        assert_eq!(read(&of(30, 12, 0.0), decimals), Some(pair("1949-01", "1951-06")));
        assert_eq!(read(&of(30, 12, 0.5), decimals), Some(pair("1949-01", "1951-06")));
        assert_eq!(read(&of(10, 4, 0.0), decimals), Some(pair("1949-Q1", "1951-Q2")));
        let mut newest_first = of(30, 12, 0.0);
        newest_first.reverse();
        assert_eq!(read(&newest_first, decimals), Some(pair("1951-06", "1949-01")));
    }

    #[test]
    fn other_numbers_are_no_decimal_years() {
        for cells in
            [["1949", "1950", "1951"], ["1949.1", "1949.2", "1949.3"], ["1.5", "2.5", "3.5"], ["a", "b", "c"]]
        {
            assert_eq!(decimal_years(cells.into_iter()), None, "{cells:?}");
        }
        // Twice the same month.
        assert_eq!(decimal_years(["1949.083", "1949.083", "1949.167"].into_iter()), None);
    }

    #[test]
    fn two_digits_are_of_the_century_that_the_order_and_the_newest_leave() {
        let month = |t: usize| {
            ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"][t % 12]
        };
        let months = |from: usize, count: usize| -> Vec<String> {
            (0..count).map(|t| format!("{}-{:02}", month(t), (from + t / 12) % 100)).collect()
        };
        assert_eq!(read(&months(49, 144), short), Some(pair("1949-01", "1960-12")));
        // Over the turn of a century, and newest first.
        assert_eq!(read(&months(95, 240), short), Some(pair("1995-01", "2014-12")));
        let mut newest_first = months(95, 240);
        newest_first.reverse();
        assert_eq!(read(&newest_first, short), Some(pair("2014-12", "1995-01")));
        let quarters: Vec<String> =
            (0..12).map(|t| format!("Q{} '{:02}", t % 4 + 1, (98 + t / 4) % 100)).collect();
        assert_eq!(read(&quarters, short), Some(pair("1998-Q1", "2000-Q4")));
        for cells in [["Jan-49", "Q2-49"], ["Jan-1949", "Feb-1949"], ["Foo-49", "Jan-49"], ["Q5-49", "Q6-49"]]
        {
            assert_eq!(two_digit_years(cells.into_iter()), None, "{cells:?}");
        }
    }
}
