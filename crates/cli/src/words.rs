//! Small wordings that readers, results and errors share.

use kandrel_core::boxcox::{self, Choice, ProfileLikelihood};
use kandrel_core::decomp::{SeasonWindow, Windows};
use kandrel_core::expr::{self, ParseError, STEPS};
use kandrel_core::series::{Lost, Series, SeriesWithGaps};
use kandrel_core::time::{Frequency, Period};

use crate::error::CliError;

/// How many names of a list are written out.
const LISTED: usize = 30;
/// How many items of a list are named before "and so many more".
const NAMED: usize = 6;

/// `a`, `b` and `c`; of very many the first, and how many more there are.
pub fn list(names: &[String]) -> String {
    let quoted: Vec<String> = names.iter().take(LISTED).map(|name| format!("`{name}`")).collect();
    if names.len() > LISTED {
        return format!("{} and {} more", quoted.join(", "), names.len() - LISTED);
    }
    match quoted.as_slice() {
        [] => "nothing".to_owned(),
        [only] => only.clone(),
        [most @ .., last] => format!("{} and {last}", most.join(", ")),
    }
}

/// `a, b and c`.
pub fn joined<T: AsRef<str>>(names: &[T]) -> String {
    let names: Vec<&str> = names.iter().map(AsRef::as_ref).collect();
    match names.as_slice() {
        [] => String::new(),
        [only] => (*only).to_owned(),
        [most @ .., last] => format!("{} and {last}", most.join(", ")),
    }
}

/// The first few items, and how many more there are.
pub fn first_few(items: &[String]) -> String {
    let named = items.iter().take(NAMED).cloned().collect::<Vec<_>>().join(", ");
    match items.len().saturating_sub(NAMED) {
        0 => named,
        more => format!("{named} and {more} more"),
    }
}

/// Periods, stretches of neighbours written as `first to last`.
pub fn periods(all: &[Period]) -> String {
    let mut stretches: Vec<(Period, Period)> = Vec::new();
    for period in all {
        match stretches.last_mut() {
            Some((_, last)) if period.steps_since(*last) == Some(1) => *last = *period,
            _ => stretches.push((*period, *period)),
        }
    }
    let shown: Vec<String> = stretches
        .iter()
        .map(|(first, last)| if first == last { first.to_string() } else { format!("{first} to {last}") })
        .collect();
    first_few(&shown)
}

/// The known name nearest to a mistyped one, if any is near.
pub fn nearest(typed: &str, known: &[String]) -> Option<String> {
    let folded = typed.to_lowercase();
    let scored = known
        .iter()
        .map(|name| (strsim::normalized_damerau_levenshtein(&folded, &name.to_lowercase()), name));
    let best = scored.max_by(|a, b| a.0.total_cmp(&b.0))?;
    (best.0 >= 0.5).then(|| best.1.clone())
}

/// `1 observation`, `2 observations`.
pub fn count(number: usize, noun: &str) -> String {
    if number == 1 { format!("1 {noun}") } else { format!("{number} {noun}s") }
}

/// With a capital letter.
pub fn capitalised(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| first.to_uppercase().chain(letters).collect())
}

/// A column as an expression: in back-quotes if its name needs them.
pub fn column(name: &str) -> String {
    let starts = name.chars().next().is_some_and(|c| c.is_alphabetic() || c == '_');
    let plain = starts && name.chars().all(|c| c.is_alphanumeric() || c == '_');
    if plain { name.to_owned() } else { format!("`{name}`") }
}

/// The expression of a series with further steps.
pub fn with_steps<S: AsRef<str>>(expression: &str, steps: &[S]) -> String {
    let steps: Vec<String> = steps.iter().map(|step| step.as_ref().to_owned()).collect();
    let text = expr::parse(expression).map(|parsed| expr::with_steps(&parsed, &steps));
    text.unwrap_or_else(|_| expression.to_owned())
}

/// An expression error with a caret under the place.
pub fn expression_error(text: &str, error: &ParseError) -> CliError {
    let before = text.get(..error.at()).unwrap_or(text);
    let caret = format!("{}^", " ".repeat(before.chars().count()));
    let message = CliError::call(format!("the series {text:?}: {error}")).advise(text).advise(caret);
    let ParseError::UnknownStep { name, .. } = error else {
        return message.advise(
            "write a column, columns joined by + - * / ^, a lag x[t-1], or a column and its steps: freight:ln,d1",
        );
    };
    let stem = |form: &str| form.split(['=', 'K']).next().unwrap_or(form).to_owned();
    let stems: Vec<String> = STEPS.iter().map(|step| stem(step.form)).collect();
    let forms: Vec<&str> = STEPS.iter().map(|step| step.form).collect();
    // A step's number and value do not count towards its likeness.
    let typed = name.split('=').next().unwrap_or(name).trim_end_matches(|c: char| c.is_ascii_digit());
    let near = nearest(typed, &stems).and_then(|near| stems.iter().position(|known| *known == near));
    let message = match near.and_then(|place| STEPS.get(place)) {
        Some(step) => message.advise(format!("did you mean {}: {}?", step.form, step.summary)),
        None => message,
    };
    message.advise(format!("steps are {}", forms.join(" ")))
}

/// The refusal of a value that cannot be computed with.
pub fn too_large(at: &str, period: Period) -> CliError {
    CliError::data(format!("{at}: the value in {period} is too large to compute with"))
        .advise("rescale the series")
}

/// How many observations a series has, from when to when, and what its lags,
/// differences and averages cost.
pub fn sample(series: &Series) -> String {
    sample_of(series.values.len(), series.start, series.last(), series.lost)
}

/// The same of a series with gaps, with how many values are missing.
pub fn sample_with_gaps(series: &SeriesWithGaps) -> String {
    let last = series.period(series.cells.len().saturating_sub(1));
    let missing = series.cells.iter().filter(|cell| cell.is_none()).count();
    let known = series.cells.len() - missing;
    let text = sample_of(known, series.start, last, series.lost);
    if missing == 0 { text } else { format!("{text}, {} missing inside", count(missing, "value")) }
}

/// The same of its parts.
pub fn sample_of(observations: usize, start: Period, last: Period, lost: Lost) -> String {
    let lost = match (lost.start, lost.end) {
        (0, 0) => String::new(),
        (start, 0) => format!(" ({start} lost at the start to lags and differences)"),
        (start, end) => format!(" ({start} lost at the start and {end} at the end to lags and averages)"),
    };
    format!("{}, {start} to {last}{lost}", count(observations, "observation"))
}

/// A chosen λ, its interval, and the other method's.
pub fn lambda(choice: &Choice) -> String {
    let short = |value: f64| format!("{value:.2}").replace("-0.00", "0.00").replace('-', "−");
    let ProfileLikelihood { lambda, low, high } = choice.likelihood;
    let end = |value: Option<f64>, beyond: f64, word: &str| {
        value.map_or_else(|| format!("{word} {}", short(beyond)), &short)
    };
    format!(
        "λ = {} by profile likelihood (95 %: {} to {}), {} by Guerrero's method; boxcox={lambda:.2} fixes it",
        short(lambda),
        end(low, boxcox::SMALLEST, "below"),
        end(high, boxcox::LARGEST, "above"),
        short(choice.guerrero)
    )
}

/// How a season was found that a step takes out.
pub fn season_taken_out(windows: &Windows) -> String {
    match windows.season_window {
        SeasonWindow::Periodic => format!("season of {}, the same every time, taken out", windows.season),
        SeasonWindow::Evolving(window) => {
            format!("season of {}, evolving over {window} seasons at a time, taken out", windows.season)
        }
    }
}

/// The values that a step replaced.
pub fn mended(values: &[(Period, f64, f64)]) -> String {
    let one = |(period, from, to): &(Period, f64, f64)| format!("{period} {} → {}", short(*from), short(*to));
    match values {
        [] => "no odd values, nothing replaced".to_owned(),
        some => {
            let each: Vec<String> = some.iter().map(one).collect();
            format!("{} replaced: {}", count(some.len(), "odd value"), first_few(&each))
        }
    }
}

/// A share as a percentage without needless noughts.
pub fn percent(share: f64) -> String {
    let rounded = (share * 1e6).round() / 1e4;
    rounded.to_string()
}

/// A number with about four significant digits.
pub fn short(value: f64) -> String {
    let size = value.abs();
    let decimals = match size {
        _ if size >= 1000.0 => 0,
        _ if size >= 100.0 => 1,
        _ if size >= 10.0 => 2,
        _ if size >= 0.1 => 3,
        _ => 5,
    };
    let text = format!("{value:.decimals$}");
    text.replace('-', "−")
}

/// Decimals that show differences within a spread.
pub fn decimals(spread: f64) -> usize {
    match spread {
        _ if spread >= 100.0 => 1,
        _ if spread >= 1.0 => 2,
        _ if spread >= 0.01 => 4,
        _ => 6,
    }
}

/// What lags, differences and averages cost each series.
pub fn losses(all: &[SeriesWithGaps]) -> Vec<String> {
    let lost = |series: &SeriesWithGaps| match (series.lost.start, series.lost.end) {
        (0, 0) => None,
        (start, 0) => Some(format!("{}: {start} at the start", series.name)),
        (0, end) => Some(format!("{}: {end} at the end", series.name)),
        (start, end) => Some(format!("{}: {start} at the start, {end} at the end", series.name)),
    };
    all.iter().filter_map(lost).collect()
}

/// The adjective of the data's frequency, capitalised.
pub fn frequency_of(all: &[SeriesWithGaps]) -> String {
    capitalised(all.first().map_or("", |series| series.start.frequency().adjective()))
}

const MONTHS: [&str; 12] =
    ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
const DAYS: [&str; 7] = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

/// Names of the places of a season, numbers where the calendar has none.
pub fn season_names(frequency: Frequency, season: usize) -> Vec<String> {
    let own = |names: &[&str]| names.iter().map(|name| (*name).to_owned()).collect();
    if season != frequency.season() {
        return (1..=season).map(|place| place.to_string()).collect();
    }
    match frequency {
        Frequency::Month => own(&MONTHS),
        Frequency::Quarter => own(&["Q1", "Q2", "Q3", "Q4"]),
        Frequency::Day => own(&DAYS),
        Frequency::Workday => own(&DAYS[..5]),
        Frequency::Week(_) => (1..=53).map(|week| format!("W{week:02}")).collect(),
        Frequency::Year | Frequency::Undated => (1..=season).map(|place| place.to_string()).collect(),
    }
}

/// The preposition before such a place: days are `on`, all else is `in`.
pub fn at_place(place: &str) -> &'static str {
    let is_date = place.len() == 10 && place.starts_with(|c: char| c.is_ascii_digit());
    if is_date || DAYS.contains(&place) { "on" } else { "in" }
}

/// The name of an axis of such places.
pub fn season_axis(frequency: Frequency, season: usize) -> String {
    match frequency {
        _ if season != frequency.season() => format!("Place in a season of {season}"),
        Frequency::Month => "Month".to_owned(),
        Frequency::Quarter => "Quarter".to_owned(),
        Frequency::Week(_) => "Week".to_owned(),
        Frequency::Day | Frequency::Workday => "Day of the week".to_owned(),
        Frequency::Year | Frequency::Undated => format!("Place in a season of {season}"),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn neighbouring_periods_make_a_stretch() {
        let month = |m| Period::month(2004, m).expect("valid");
        assert_eq!(periods(&[month(2), month(3), month(4), month(9)]), "2004-02 to 2004-04, 2004-09");
    }

    #[test]
    fn a_mistyped_name_finds_its_neighbour_and_nonsense_finds_none() {
        let known = ["freight".to_owned(), "claims".to_owned()];
        assert_eq!(nearest("Frieght", &known), Some("freight".to_owned()));
        assert_eq!(nearest("zzz", &known), None);
    }

    #[test]
    fn further_steps_join_the_chain_and_odd_names_get_quotes() {
        assert_eq!(with_steps("freight:ln", &["d1"]), "freight:ln,d1");
        assert_eq!(with_steps("a - b", &["d1"]), "(a - b):d1");
        assert_eq!(with_steps(&column("tug hours"), &["d1"]), "`tug hours`:d1");
        assert_eq!((column("claims"), column("2nd")), ("claims".to_owned(), "`2nd`".to_owned()));
    }
}
