//! Autocorrelations in words, a table and a figure.

use kandrel_core::corr::{AcfLag, Finding, PacfMethod, Pattern};

use super::facts::AcfResult;
use crate::call::{Call, Name};
use crate::document::{Align, Along, Document, Panel, Plot, Table, TableCell};
use crate::present::diagnosis::DiagnosisResult;
use crate::wording;
use crate::wording::{heads, legends, titles};

/// The finding in one sentence, also the figure's title.
pub fn answer(result: &AcfResult) -> String {
    let name = &result.series;
    let (mut season, mut average, mut order, mut repeats) = (String::new(), String::new(), None, None);
    for finding in &result.findings {
        match finding {
            Finding::Seasonal { season: s, lasting: true, .. } => repeats = Some(*s),
            Finding::Seasonal { season: s, .. } => season = format!(", with seasonality of period {s}"),
            Finding::SeasonalAverage { season: s, .. } => {
                average = format!(" with a seasonal moving average at lag {s}");
            }
            Finding::Suggests(pattern) => order = Some(*pattern),
            _ => {}
        }
    }
    let subject = format!("The autocorrelation of {name}");
    match (result.findings.first(), repeats, order) {
        (Some(Finding::NoAutocorrelation { .. }), ..) => format!("{name} shows no autocorrelation."),
        (Some(Finding::TooFew { observations }), ..) => {
            format!(
                "{name} is too short for an interpretation: {}.",
                wording::count(*observations, "observation")
            )
        }
        (Some(Finding::DoesNotDieOut { .. }), Some(s), _) => {
            format!("{subject} decays slowly and repeats every {s} lags{}.", assessed(result))
        }
        (Some(Finding::DoesNotDieOut { .. }), None, _) => {
            format!("{subject} decays slowly{season}{}.", assessed(result))
        }
        (_, Some(s), _) => {
            format!("{subject} repeats every {s} lags with little decay{}.", assessed(result))
        }
        (_, None, Some(pattern)) => {
            format!(
                "{subject} decays to zero{season}; its pattern is that of {}{average}{}.",
                short(pattern),
                although(result)
            )
        }
        (_, None, None) if average.is_empty() => {
            format!("{subject} decays to zero{season}{}.", although(result))
        }
        (_, None, None) => format!("{subject} is that of white noise{average}{}.", although(result)),
    }
}

/// What the joint assessment says of autocorrelations that decay slowly.
fn assessed(result: &AcfResult) -> String {
    match &result.diagnosis {
        None => String::new(),
        Some(found) if found.is_differenced() => {
            format!(", consistent with {}", wording::joined(&roots(found)))
        }
        Some(found) => finds(found, "no unit root"),
    }
}

/// What the joint assessment says against autocorrelations that decay to zero.
fn although(result: &AcfResult) -> String {
    let differenced = result.diagnosis.as_ref().filter(|found| found.is_differenced());
    differenced.map_or(String::new(), |found| finds(found, &wording::joined(&roots(found))))
}

fn finds(found: &DiagnosisResult, what: &str) -> String {
    format!(
        "; the joint assessment finds {what} (probability {}, confidence {})",
        found.probability(),
        found.confidence.word()
    )
}

fn roots(found: &DiagnosisResult) -> Vec<&'static str> {
    let plain = match found.integration {
        0 => None,
        1 => Some("a unit root"),
        _ => Some("two unit roots"),
    };
    plain
        .into_iter()
        .chain((found.seasonal_integration == Some(1)).then_some("seasonal unit roots"))
        .collect()
}

fn short(pattern: Pattern) -> String {
    match pattern {
        Pattern::Autoregression(p) => format!("AR({p})"),
        Pattern::MovingAverage(q) => format!("MA({q})"),
        Pattern::Either(k) => format!("AR({k}) or MA({k})"),
        Pattern::Mixed => "an ARMA model".to_owned(),
    }
}

/// A finding in words.
pub fn sentence(finding: &Finding) -> String {
    match *finding {
        Finding::DoesNotDieOut { lag, acf } => format!(
            "The ACF decays slowly and nearly linearly; at lag {lag} it is still {acf:.2}. Orders cannot be read from \
             it, even if the PACF cuts off."
        ),
        Finding::TooFew { observations } => format!(
            "The sampling variation of autocorrelations of {observations} observations is too large for an \
              interpretation."
        ),
        Finding::DiesOut => "The ACF decays to zero, as for a stationary series.".to_owned(),
        Finding::Seasonal { season, acf, lasting } => {
            let last = if lasting { " and is hardly smaller one seasonal period later" } else { "" };
            format!(
                "Lag {season} exceeds its neighbouring lags ({}){last}: seasonality of period {season}.",
                wording::number(acf, 2)
            )
        }
        Finding::SeasonalAverage { season, acf } => format!(
            "Lag {season} is significantly negative ({}): the pattern of a seasonal moving average, \
              typical after a seasonal difference.",
            wording::number(acf, 2)
        ),
        Finding::Suggests(Pattern::Autoregression(p)) => format!(
            "The PACF cuts off after lag {p} while the ACF tails off: the pattern of an AR({p}) process."
        ),
        Finding::Suggests(Pattern::MovingAverage(q)) => format!(
            "The ACF cuts off after lag {q} while the PACF tails off: the pattern of an MA({q}) process."
        ),
        Finding::Suggests(Pattern::Either(k)) => {
            format!("Both ACF and PACF cut off after lag {k}: an AR({k}) or MA({k}) process; compare both.")
        }
        Finding::Suggests(Pattern::Mixed) => {
            "Neither function cuts off at a low lag: the pattern of an ARMA process.".to_owned()
        }
        Finding::NoAutocorrelation { lags, p_value } => format!(
            "The first {lags} autocorrelations are jointly insignificant (Ljung-Box, {}).",
            wording::p_equals(p_value)
        ),
        Finding::Chance { outside, lags } => format!(
            "{} outside the 95 % band of white noise; about {:.0} of {lags} are expected under white noise.",
            match outside {
                0 => "No lag lies".to_owned(),
                1 => "1 lag lies".to_owned(),
                more => format!("{more} lags lie"),
            },
            (0.05 * lags as f64).max(1.0)
        ),
    }
}

/// The result as a document.
pub fn document(result: &AcfResult, call: &Call) -> Document {
    let mut document = Document::default();
    let own = answer(result);
    let own =
        result.diagnosis.as_ref().map_or(own.clone(), |found| found.before_answer(&result.series, &own));
    document.paragraph(own);
    document.paragraph(format!(
        "{}, mean {}, standard deviation {}; white-noise band ±{:.3}.",
        result.sample,
        wording::short(result.acf.mean),
        wording::short(result.acf.variance.sqrt()),
        result.acf.band
    ));
    if let Some(diagnosis) = &result.diagnosis {
        document.paragraph(diagnosis.line());
    }
    document.plot(plot(result));
    document.table(table(result));
    document.paragraph(legends::correlogram(
        result.season > 1,
        result.acf.fitted,
        result.acf.pacf_method == PacfMethod::LeastSquares,
    ));
    document.interpretation(points(result));
    document.commands(titles::NEXT, next(result, call));
    document
}

/// The reading, and a cycle that is not the calendar's.
fn points(result: &AcfResult) -> Vec<String> {
    let mut all = result.reading.clone();
    if let Some(cycle) = result.diagnosis.as_ref().and_then(|own| own.cycle) {
        let place = all.len().min(1);
        all.insert(
            place,
            format!(
                "The autocorrelations oscillate: a {}, not seasonal (probability {}).",
                cycle.clause(),
                wording::probability(cycle.probability)
            ),
        );
    }
    all
}

/// Both functions as bars, for the terminal.
fn plot(result: &AcfResult) -> Plot {
    let panel = |title: &str, value: fn(&AcfLag) -> f64| Panel {
        title: title.to_owned(),
        along: Along::Points((0..=result.acf.lags.len()).map(|lag| lag.to_string()).collect()),
        axis: "Lag".to_owned(),
        bars: result.acf.lags.iter().map(|lag| (lag.lag as f64, value(lag))).collect(),
        band: Some(result.acf.band),
        ..Panel::default()
    };
    Plot {
        title: answer(result),
        subtitle: String::new(),
        foot: String::new(),
        columns: 2,
        panels: vec![
            panel("ACF (dotted: band of white noise)", |lag| lag.acf),
            panel("PACF", |lag| lag.pacf),
        ],
    }
}

/// Lags of the usual text without a season, and the most with one.
const SHOWN_LAGS: [usize; 2] = [12, 24];

/// Lags that the usual text shows at a seasonal period.
pub(super) fn shown_lags(season: usize) -> usize {
    let [without, most] = SHOWN_LAGS;
    if season > 1 { (2 * season).min(most) } else { without }
}

fn table(result: &AcfResult) -> Table {
    let star = |value: f64| if value.abs() > result.acf.band { "*" } else { "" };
    let seasonal = |lag: &AcfLag| result.season > 1 && lag.lag.is_multiple_of(result.season);
    let p = |lag: &AcfLag| lag.p_value.map_or(TableCell::Missing, |p| TableCell::text(wording::p_value(p)));
    Table::of(&result.acf.lags)
        .count(heads::LAG, |lag| lag.lag)
        .text("", |lag| if seasonal(lag) { "s" } else { "" })
        .number(heads::ACF, 3, |lag| lag.acf)
        .text("", |lag| star(lag.acf))
        .number(heads::STD_ERROR, 3, |lag| lag.acf_se)
        .number(heads::PACF, 3, |lag| lag.pacf)
        .text("", |lag| star(lag.pacf))
        .number(heads::Q, 2, |lag| lag.q)
        .column(heads::P, Align::Decimal, |lag| p(lag))
        .table()
        .showing(shown_lags(result.season), "further lags")
}

fn next(result: &AcfResult, typed: &Call) -> Vec<Call> {
    let steps =
        result.diagnosis.as_ref().map(|found| found.steps(result.season)).filter(|steps| !steps.is_empty());
    let differenced = steps.map(|steps| {
        let series = wording::with_steps(&result.series, &steps);
        typed.next(Name::Acf, [series]).keeping(typed, &["lags", "pacf"])
    });
    std::iter::once(typed.next(Name::Stationarity, [&result.series])).chain(differenced).collect()
}
