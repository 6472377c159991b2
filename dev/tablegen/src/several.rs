//! The report on unit roots in residuals and on systems: published values beside ours, sizes as
//! the command runs the tests.

use std::fmt::Write as _;

use kandrel_core::coint::{ResidualOptions, SystemInput, bartlett, residual_tests, system};
use kandrel_core::nulldist::{
    Family, ResidualStatistic, Side, SystemStatistic, SystemTerms, Terms, random_walk,
};
use kandrel_core::num::rng::NormalStream;
use rayon::prelude::*;

/// Another seed than those of the tables.
const SEED: u64 = 74_021;
const SIZES: [usize; 4] = [40, 60, 100, 250];
const LEVELS: [f64; 3] = [0.01, 0.05, 0.10];
/// A Bartlett correction draws systems of its own: one series in so many.
const BARTLETT_SHARE: u64 = 40;
const BARTLETT_DRAWS: usize = 199;

/// Both sections.
pub fn section(draws: u64) -> String {
    format!("{}\n{}", published(), sizes(draws))
}

fn published() -> String {
    let mut out = String::from(
        "## Published values of the tests of several series beside ours\n\n| statistic | published | ours |\n| --- | \
         --- | --- |\n",
    );
    let residual = [
        (2, Terms::Constant, [-3.896, -3.336, -3.044]),
        (3, Terms::Constant, [-4.294, -3.741, -3.452]),
        (4, Terms::Constant, [-4.644, -4.096, -3.810]),
        (2, Terms::Trend, [-4.328, -3.781, -3.496]),
    ];
    let three = |values: [f64; 3]| values.map(|value| format!("{value:.3}")).join(" / ");
    for (variables, terms, values) in residual {
        let family = Family::Residual(ResidualStatistic::Tau, variables, terms);
        let Some(surface) = family.surface() else {
            continue;
        };
        let ours = LEVELS.map(|level| surface.asymptotic().critical_value(level, Side::Lower));
        let (values, ours) = (three(values), three(ours));
        // Writing to a string cannot fail, here and below.
        let _ = writeln!(
            out,
            "| residual ADF, {variables} variables, {terms:?}, limit, 1 / 5 / 10 % | {values} | {ours} |"
        );
    }
    let of_systems = [
        (SystemStatistic::Trace, SystemTerms::None, [4.13, 12.32, 24.28, 40.17]),
        (SystemStatistic::Trace, SystemTerms::ConstantIn, [9.16, 20.26, 35.19, 54.08]),
        (SystemStatistic::Trace, SystemTerms::Constant, [3.84, 15.49, 29.80, 47.86]),
        (SystemStatistic::LargestEigenvalue, SystemTerms::Constant, [3.84, 14.26, 21.13, 27.58]),
        (SystemStatistic::Trace, SystemTerms::TrendIn, [12.52, 25.87, 42.92, 63.88]),
        (SystemStatistic::Trace, SystemTerms::Trend, [3.84, 18.40, 35.01, 55.25]),
    ];
    for (statistic, terms, values) in of_systems {
        let ours = [1, 2, 3, 4].map(|apart| {
            Family::System(statistic, terms, apart)
                .surface()
                .map_or(f64::NAN, |surface| surface.asymptotic().critical_value(0.05, Side::Upper))
        });
        let four = |values: [f64; 4]| values.map(|value| format!("{value:.2}")).join(" / ");
        let (values, ours) = (four(values), four(ours));
        let name = if statistic == SystemStatistic::Trace { "trace" } else { "largest eigenvalue" };
        let _ = writeln!(out, "| {name}, {terms:?}, limit, 5 %, 1 to 4 trends | {values} | {ours} |");
    }
    out.push_str("\nResidual ADF: MacKinnon (2010). Systems: MacKinnon, Haug and Michelis (1999).\n");
    out
}

/// Shares of p-values up to each level.
fn shares(p_values: &[f64]) -> String {
    let count = p_values.len().max(1) as f64;
    LEVELS
        .map(|level| {
            format!("{:.1}", 100.0 * p_values.iter().filter(|p| **p <= level).count() as f64 / count)
        })
        .join(" / ")
}

fn drawn<T: Send>(draws: u64, of: impl Fn(u64) -> Option<T> + Sync + Send) -> Vec<T> {
    (0..draws).into_par_iter().filter_map(of).collect()
}

fn sizes(draws: u64) -> String {
    let heads = SIZES.map(|n| format!("n = {n}")).join(" | ");
    let rule = SIZES.map(|_| "---").join(" | ");
    let mut out = format!(
        "## Size of the tests of several series\n\nShare of p-values up to 0.01, 0.05 and 0.10 under the null, per cent, as \
         the command runs the tests, {draws} series each.\n\n| test | {heads} |\n| --- | {rule} |\n"
    );
    for variables in [2_u64, 3, 6] {
        let row = SIZES.map(|n| {
            let both = drawn(draws, |number| {
                let walks: Vec<Vec<f64>> = (0..variables)
                    .map(|k| random_walk(&mut NormalStream::new(SEED, number * 16 + k), n))
                    .collect();
                let slices: Vec<&[f64]> = walks.iter().map(Vec::as_slice).collect();
                let test = residual_tests(&slices, &ResidualOptions::default()).ok()?;
                Some([test.engle_granger.p_value?, test.phillips_ouliaris.p_value?])
            });
            [0, 1].map(|which| shares(&both.iter().map(|pair| pair[which]).collect::<Vec<_>>()))
        });
        for (which, name) in ["Engle-Granger", "Phillips-Ouliaris"].into_iter().enumerate() {
            let cells = row.each_ref().map(|both| both[which].clone()).join(" | ");
            let _ = writeln!(out, "| {name}, {variables} walks, defaults | {cells} |");
        }
    }
    let systems = [
        (2, 0, 1, SystemTerms::ConstantIn),
        (2, 0, 3, SystemTerms::ConstantIn),
        (3, 0, 2, SystemTerms::TrendIn),
        (3, 1, 2, SystemTerms::ConstantIn),
        (5, 2, 2, SystemTerms::ConstantIn),
        (5, 4, 3, SystemTerms::ConstantIn),
    ];
    for (count, rank, lags, terms) in systems {
        let cells = SIZES.map(|n| {
            let p_values = drawn(draws, |number| trace(&System { count, rank, lags, terms, n }, number));
            shares(&p_values)
        });
        let _ = writeln!(
            out,
            "| trace, {count} series with {rank} relations, {lags} lags, {terms:?} | {} |",
            cells.join(" | ")
        );
    }
    let cells = SIZES.map(|n| {
        let of = System { count: 3, rank: 1, lags: 2, terms: SystemTerms::ConstantIn, n };
        shares(&drawn(draws / BARTLETT_SHARE, |number| {
            let series = of.series(number);
            let slices: Vec<&[f64]> = series.iter().map(Vec::as_slice).collect();
            let input = SystemInput { series: &slices, lags: of.lags, terms: of.terms };
            Some(bartlett(input, BARTLETT_DRAWS, number).ok()?.get(of.rank)?.p_trace)
        }))
    });
    let _ = writeln!(
        out,
        "| trace, 3 series with 1 relation, 2 lags, after Bartlett's correction (a fortieth of the series) | {} |",
        cells.join(" | ")
    );
    out
}

struct System {
    count: usize,
    rank: usize,
    lags: usize,
    terms: SystemTerms,
    n: usize,
}

impl System {
    /// Walks first; each relation is a walk (or nothing, if there is none) and an AR(1) with 0.5.
    /// With lags the changes of the walks remember 0.3 of the change before.
    fn series(&self, number: u64) -> Vec<Vec<f64>> {
        let stream = |k: usize| NormalStream::new(SEED + 1, number * 32 + k as u64);
        let apart = self.count - self.rank;
        let memory = if self.lags > 1 { 0.3 } else { 0.0 };
        let walks: Vec<Vec<f64>> = (0..apart)
            .map(|k| {
                let (mut level, mut change) = (0.0, 0.0);
                stream(k)
                    .take(self.n + 20)
                    .into_iter()
                    .map(|e| {
                        change = memory * change + e;
                        level += change;
                        level
                    })
                    .skip(20)
                    .collect()
            })
            .collect();
        let tied = (0..self.rank).map(|k| {
            let mut gap = 0.0;
            let gaps = stream(apart + k).take(self.n + 20).into_iter().map(|e| {
                gap = 0.5 * gap + e;
                gap
            });
            let own = &walks[k % apart];
            gaps.skip(20).zip(own).map(|(gap, walk)| gap + walk).collect()
        });
        let tied: Vec<Vec<f64>> = tied.collect();
        walks.into_iter().chain(tied).collect()
    }
}

fn trace(of: &System, number: u64) -> Option<f64> {
    let series = of.series(number);
    let slices: Vec<&[f64]> = series.iter().map(Vec::as_slice).collect();
    let found = system(SystemInput { series: &slices, lags: of.lags, terms: of.terms }).ok()?;
    Some(found.tests.get(of.rank)?.p_trace)
}
