//! The report on breaks detrended under the null, seasonal patterns that stay, other weights and
//! fractional orders: published values beside ours, sizes as the command runs the tests.

use std::fmt::Write as _;

use kandrel_core::lag::{Criterion, LagRule};
use kandrel_core::nulldist::{BreakModel, Family, LagrangeCase, SeasonLength, StabilityStatistic, Terms};
use kandrel_core::num::rng::NormalStream;
use kandrel_core::ols::Bandwidth;
use kandrel_core::unitroot::{
    BreakOptions, Kernel, KnownBreakOptions, KpssOptions, LagrangeOptions, PpOptions, SeasonalOptions,
    StabilityOptions, TestName, USUAL_TRIM, UnitRootError, UnitRootTest, canova_hansen, fractional_order,
    hegy, kpss, lee_strazicich, perron, pp, zivot_andrews,
};
use rayon::prelude::*;

use crate::verdicts::cumulated;

/// Another seed than those of the tables.
const SEED: u64 = 61_873;
const SIZES: [usize; 3] = [50, 100, 250];
const LEVELS: [f64; 3] = [0.01, 0.05, 0.10];
/// Tests whose distribution is drawn for every series get one series in so many.
const DRAWN_SHARE: u64 = 40;
/// The search over two dates as well.
const PAIRS_SHARE: u64 = 5;

/// Both sections.
pub fn section(draws: u64) -> String {
    format!("{}\n{}", published(), sizes(draws))
}

fn published() -> String {
    let lagrange = |slope, two| Family::Lagrange(LagrangeCase { slope, two });
    let stays = |season, which| Family::SeasonStability(season, which, false);
    let (quarterly, monthly) = (SeasonLength::Quarterly, SeasonLength::Monthly);
    let rows = [
        (
            "Lee-Strazicich, level, one break",
            lagrange(false, false),
            100,
            [-4.239, -3.566, -3.211],
            "(2013), T = 100",
        ),
        (
            "Lee-Strazicich, level and slope, one break",
            lagrange(true, false),
            100,
            [-5.05, -4.50, -4.18],
            "(2013), T = 100, break in the middle",
        ),
        (
            "Lee-Strazicich, level, two breaks",
            lagrange(false, true),
            100,
            [-4.545, -3.842, -3.504],
            "(2003), T = 100",
        ),
        (
            "Lee-Strazicich, level and slope, two breaks",
            lagrange(true, true),
            100,
            [-6.16, -5.59, -5.27],
            "(2003), T = 100, breaks at 0.2, 0.4",
        ),
        (
            "Canova-Hansen, one wave",
            stays(quarterly, StabilityStatistic::Shortest),
            0,
            [0.748, 0.470, 0.353],
            "(1995), limit",
        ),
        (
            "Canova-Hansen, two waves",
            stays(quarterly, StabilityStatistic::Pair),
            0,
            [1.07, 0.749, 0.610],
            "(1995), limit",
        ),
        (
            "Canova-Hansen, three waves",
            stays(quarterly, StabilityStatistic::Seasonal),
            0,
            [1.35, 1.01, 0.846],
            "(1995), limit",
        ),
        (
            "Canova-Hansen, eleven waves",
            stays(monthly, StabilityStatistic::Seasonal),
            0,
            [3.27, 2.75, 2.49],
            "(1995), limit",
        ),
    ];
    let mut out = String::from(
        "## Published values of the tests with breaks under the null and of a fixed season beside ours\n\n| statistic | \
         published | ours | source |\n| --- | --- | --- | --- |\n",
    );
    for (name, family, n, values, source) in rows {
        let Some(surface) = family.surface() else {
            continue;
        };
        let distribution = if n > 0 { surface.at(n, 0) } else { surface.asymptotic() };
        let ours = LEVELS.map(|level| distribution.critical_value(level, family.side()));
        let three = |values: [f64; 3]| values.map(|value| format!("{value:.3}")).join(" / ");
        // Writing to a string cannot fail, here and below.
        let _ = writeln!(out, "| {name} | {} | {} | {source} |", three(values), three(ours));
    }
    out.push_str(
        "\nOurs of Lee and Strazicich leave 15 % at either end and between breaks, theirs 10 % and nothing, and rest on \
         20,000 draws and fewer; a program of thirty lines that writes both regressions out (one break, no lags, \
         20,000 draws, n = 100) gives -4.13 / -3.51 / -3.18 and -4.98 / -4.40 / -4.11 with 15 %, -4.16 / -3.52 / -3.20 and \
         -5.00 / -4.40 / -4.12 with 10 %. Their values for two breaks of level and slope are for breaks that are there.\n",
    );
    out
}

fn sizes(draws: u64) -> String {
    let mut out = format!(
        "## Size of these and of the tests whose distribution is drawn\n\nShare of p-values up to 0.01, 0.05 and 0.10 under \
         each null, as the command runs the tests by default; {draws} draws, of two breaks {}, of those marked (drawn) {}.\n\n\
         | test | n = 50: 0.01 | 0.05 | 0.10 | n = 100: 0.01 | 0.05 | 0.10 | n = 250: 0.01 | 0.05 | 0.10 |\n| --- | --- | \
         --- | --- | --- | --- | --- | --- | --- | --- |\n",
        draws / PAIRS_SHARE,
        draws / DRAWN_SHARE
    );
    for (name, share, test) in cases() {
        let cells: Vec<String> = SIZES
            .into_iter()
            .flat_map(|n| shares(n, draws / share, test.as_ref()))
            .map(|share| format!("{share:.4}"))
            .collect();
        let _ = writeln!(out, "| {name} | {} |", cells.join(" | "));
    }
    out
}

type Test = Box<dyn Fn(&[f64]) -> Result<UnitRootTest, UnitRootError> + Sync>;

/// A test of noise, which sums it up itself where its null is a walk.
fn cases() -> Vec<(String, u64, Test)> {
    let mut all: Vec<(String, u64, Test)> = Vec::new();
    for (model, what) in [(BreakModel::Intercept, "level"), (BreakModel::Both, "level and slope")] {
        for breaks in [1, 2] {
            for (lags, how) in
                [(LagRule::Given(1), "1 lag given"), (LagRule::Criterion(Criterion::Aic), "lags by AIC")]
            {
                let options = LagrangeOptions { model, breaks, lags, max_lags: None, trim: USUAL_TRIM };
                let share = if breaks == 2 { PAIRS_SHARE } else { 1 };
                let name = format!("Lee-Strazicich, {what}, breaks: {breaks}, {how}");
                all.push((name, share, Box::new(move |e| lee_strazicich(&cumulated(e.to_vec()), &options))));
            }
        }
    }
    for model in BreakModel::ALL {
        let lags = LagRule::Criterion(Criterion::Aic);
        let options = BreakOptions { model, lags, max_lags: None, trim: USUAL_TRIM };
        let name = format!("Zivot-Andrews, {model:?}, lags by AIC");
        all.push((name, 1, Box::new(move |e| zivot_andrews(&cumulated(e.to_vec()), &options))));
        let test = move |e: &[f64]| {
            perron(
                &cumulated(e.to_vec()),
                &KnownBreakOptions { model, before: 2 * e.len() / 5, lags, max_lags: None },
            )
        };
        all.push((
            format!("Perron, {model:?}, break at 0.4, lags by AIC (drawn)"),
            DRAWN_SHARE,
            Box::new(test),
        ));
    }
    let roots = SeasonalOptions { season: 4, trend: true, lags: None, max_lags: None };
    let seasonal = move |e: &[f64]| {
        let mut x = e.to_vec();
        for t in 4..x.len() {
            x[t] += x[t - 4];
        }
        hegy(&x, &roots)
    };
    all.push(("HEGY, s = 4, lags by AIC".to_owned(), 1, Box::new(seasonal)));
    let stays = StabilityOptions { season: 4, trend: false, bandwidth: Bandwidth::Automatic };
    all.push(("Canova-Hansen, s = 4".to_owned(), 1, Box::new(move |e| canova_hansen(e, &stays))));
    for which in [TestName::LogPeriodogram, TestName::LocalWhittle] {
        let name = format!("{which:?} (drawn)");
        all.push((name, DRAWN_SHARE, Box::new(move |e| fractional_order(e, which))));
    }
    let weights = KpssOptions { kernel: Kernel::Quadratic, ..KpssOptions::default() };
    let name = "KPSS, quadratic-spectral weights (drawn)".to_owned();
    all.push((name, DRAWN_SHARE, Box::new(move |e| kpss(e, &weights))));
    let weights = PpOptions { terms: Terms::Constant, kernel: Kernel::Quadratic, ..PpOptions::default() };
    let name = "Phillips-Perron, quadratic-spectral weights (drawn)".to_owned();
    all.push((name, DRAWN_SHARE, Box::new(move |e| pp(&cumulated(e.to_vec()), &weights))));
    all
}

fn shares(
    n: usize,
    draws: u64,
    test: &(dyn Fn(&[f64]) -> Result<UnitRootTest, UnitRootError> + Sync),
) -> [f64; 3] {
    let all: Vec<f64> = (0..draws)
        .into_par_iter()
        .filter_map(|number| test(&NormalStream::new(SEED + n as u64, number).take(n)).ok()?.p_value)
        .collect();
    LEVELS.map(|level| all.iter().filter(|p| **p <= level).count() as f64 / all.len().max(1) as f64)
}
