//! The report on the tests beside ADF and KPSS: published values beside ours, sizes of the
//! tests as the command runs them.

use std::fmt::Write as _;

use kandrel_core::lag::{Criterion, LagRule};
use kandrel_core::nulldist::{
    BreakModel, Family, GlsStatistic, PpStatistic, SeasonLength, SeasonalStatistic, Terms,
};
use kandrel_core::num::rng::NormalStream;
use kandrel_core::unitroot::statistic::{GlsLags, gls_statistics};
use kandrel_core::unitroot::{
    BreakOptions, FurtherOptions, SeasonalOptions, TestName, USUAL_TRIM, UnitRootTest, further_tests, hegy,
    zivot_andrews,
};
use rayon::prelude::*;

/// Another seed than those of the tables.
const SEED: u64 = 51_873;
const SIZES: [usize; 3] = [50, 100, 250];
const LEVELS: [f64; 3] = [0.01, 0.05, 0.10];
/// Length of the series that check the published values a second time.
const LONG: usize = 2_000;
const LONG_DRAWS: u64 = 200_000;

/// Both sections.
pub fn section(draws: u64) -> String {
    format!("{}{}\n{}", published(), simulated(), sizes(draws))
}

fn published() -> String {
    let gls = |which, terms| Family::GlsGiven(which, terms);
    let asymptotic = [
        (
            "ADF-GLS",
            gls(GlsStatistic::Tau, Terms::Constant),
            [-2.58, -1.95, -1.62],
            "that of ADF without terms",
        ),
        ("ADF-GLS", gls(GlsStatistic::Tau, Terms::Trend), [-3.48, -2.89, -2.57], "Elliott et al. (1996)"),
        (
            "point optimal",
            gls(GlsStatistic::PointOptimal, Terms::Constant),
            [1.99, 3.26, 4.48],
            "Elliott et al. (1996)",
        ),
        (
            "point optimal",
            gls(GlsStatistic::PointOptimal, Terms::Trend),
            [3.96, 5.62, 6.89],
            "Elliott et al. (1996)",
        ),
        (
            "Zivot-Andrews, level",
            Family::ZivotAndrews(BreakModel::Intercept),
            [-5.34, -4.80, -4.58],
            "Zivot and Andrews (1992)",
        ),
        (
            "Zivot-Andrews, slope",
            Family::ZivotAndrews(BreakModel::Trend),
            [-4.93, -4.42, -4.11],
            "Zivot and Andrews (1992)",
        ),
        (
            "Zivot-Andrews, both",
            Family::ZivotAndrews(BreakModel::Both),
            [-5.57, -5.08, -4.82],
            "Zivot and Andrews (1992)",
        ),
        (
            "Phillips-Perron",
            Family::PhillipsPerron(PpStatistic::Tau, Terms::Constant),
            [-3.43, -2.86, -2.57],
            "that of ADF",
        ),
        (
            "Phillips-Perron",
            Family::PhillipsPerron(PpStatistic::Tau, Terms::Trend),
            [-3.96, -3.41, -3.13],
            "that of ADF",
        ),
        (
            "HEGY, long run, dummies and trend, s = 4",
            Family::SeasonalRoots(SeasonLength::Quarterly, SeasonalStatistic::Zero, true),
            [-3.96, -3.41, -3.13],
            "that of ADF in the limit",
        ),
    ];
    let mut out = String::from(
        "## Published values of the other unit-root tests beside ours\n\nCritical values at 1, 5 and 10 % in the limit: \
         of the fitted tables, which rest on at most 900 observations.\n\n| statistic | terms | published | ours | \
         source |\n| --- | --- | --- | --- | --- |\n",
    );
    let three = |values: [f64; 3]| values.map(|value| format!("{value:.2}")).join(" / ");
    for (name, family, values, source) in asymptotic {
        let Some(surface) = family.surface() else {
            continue;
        };
        let distribution = surface.asymptotic();
        let ours = LEVELS.map(|level| distribution.critical_value(level, family.side()));
        // Writing to a string cannot fail, here and below.
        let _ = writeln!(
            out,
            "| {name} | {} | {} | {} | {source} |",
            terms_of(family),
            three(values),
            three(ours)
        );
    }
    out
}

/// The same and the M-tests, by simulating the statistics themselves.
fn simulated() -> String {
    let mut out = format!(
        "\nA second simulation by the statistics themselves, {LONG_DRAWS} random walks of {LONG} without lags:\n\n| \
         statistic | terms | published | simulated | source |\n| --- | --- | --- | --- | --- |\n"
    );
    for (terms, rows) in long_simulation() {
        let known: [(&str, [f64; 3], &str); 6] = if terms == Terms::Constant {
            [
                ("ADF-GLS", [-2.58, -1.95, -1.62], "that of ADF without terms"),
                ("point optimal", [1.99, 3.26, 4.48], "Elliott et al. (1996)"),
                ("MZ_alpha", [-13.8, -8.1, -5.7], "Ng and Perron (2001)"),
                ("MZ_t", [-2.58, -1.98, -1.62], "Ng and Perron (2001)"),
                ("MSB", [0.174, 0.233, 0.275], "Ng and Perron (2001)"),
                ("MP_T", [1.78, 3.17, 4.45], "Ng and Perron (2001)"),
            ]
        } else {
            [
                ("ADF-GLS", [-3.48, -2.89, -2.57], "Elliott et al. (1996)"),
                ("point optimal", [3.96, 5.62, 6.89], "Elliott et al. (1996)"),
                ("MZ_alpha", [-23.8, -17.3, -14.2], "Ng and Perron (2001)"),
                ("MZ_t", [-3.42, -2.91, -2.62], "Ng and Perron (2001)"),
                ("MSB", [0.143, 0.168, 0.185], "Ng and Perron (2001)"),
                ("MP_T", [4.03, 5.48, 6.67], "Ng and Perron (2001)"),
            ]
        };
        let name = if terms == Terms::Constant { "constant" } else { "trend" };
        for ((statistic, values, source), ours) in known.into_iter().zip(rows) {
            let exact = |values: [f64; 3]| values.map(|value| format!("{value:.3}")).join(" / ");
            let _ =
                writeln!(out, "| {statistic} | {name} | {} | {} | {source} |", exact(values), exact(ours));
        }
    }
    out.push_str("\nWhere the two differ by more than a few hundredths (per cent for M-tests), the published value rests on a few \
            thousand draws of its day or on another divisor of the variance; ours is the converged one of the statistic as \
            it is documented.\n");
    out
}

fn terms_of(family: Family) -> &'static str {
    match family {
        Family::GlsGiven(_, Terms::Constant) | Family::PhillipsPerron(_, Terms::Constant) => "constant",
        _ => "trend",
    }
}

/// Quantiles of the six statistics of the family at the three levels.
fn long_simulation() -> Vec<(Terms, Vec<[f64; 3]>)> {
    [Terms::Constant, Terms::Trend]
        .into_iter()
        .map(|terms| {
            let draws: Vec<[f64; 6]> = (0..LONG_DRAWS)
                .into_par_iter()
                .filter_map(|number| {
                    let mut x = NormalStream::new(SEED + 1, number).take(LONG);
                    for t in 1..LONG {
                        x[t] += x[t - 1];
                    }
                    let s = gls_statistics(&x, terms, GlsLags::Given(0)).ok()?;
                    Some([s.tau, s.point_optimal, s.mz_alpha, s.mz_t, s.msb, s.mp_t])
                })
                .collect();
            let quantiles = (0..6).map(|place| {
                let mut values: Vec<f64> = draws.iter().map(|one| one[place]).collect();
                values.sort_by(f64::total_cmp);
                LEVELS.map(|level| {
                    // A share of the count.
                    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
                    let rank = (level * values.len() as f64) as usize;
                    values[rank.min(values.len() - 1)]
                })
            });
            (terms, quantiles.collect())
        })
        .collect()
}

fn sizes(draws: u64) -> String {
    let mut out = format!(
        "## Size of the other unit-root tests\n\nShare of p-values up to 0.01, 0.05 and 0.10 for random walks (HEGY: walks in \
         steps of a season), as the command runs the tests by default; {draws} draws for each figure.\n\n| test | n = 50: \
         0.01 | 0.05 | 0.10 | n = 100: 0.01 | 0.05 | 0.10 | n = 250: 0.01 | 0.05 | 0.10 |\n| --- | --- | --- | --- | --- \
         | --- | --- | --- | --- | --- |\n"
    );
    let mut rows: Vec<(String, Vec<f64>)> = Vec::new();
    for n in SIZES {
        for (place, (name, shares)) in shares(n, draws).into_iter().enumerate() {
            if rows.len() <= place {
                rows.push((name, Vec::new()));
            }
            rows[place].1.extend(shares);
        }
    }
    for (name, shares) in rows {
        let cells: Vec<String> = shares.iter().map(|share| format!("{share:.4}")).collect();
        let _ = writeln!(out, "| {name} | {} |", cells.join(" | "));
    }
    out
}

/// Shares of small p-values, test by test.
fn shares(n: usize, draws: u64) -> Vec<(String, [f64; 3])> {
    let all: Vec<Vec<(String, f64)>> = (0..draws).into_par_iter().map(|number| p_values(n, number)).collect();
    let names: Vec<String> =
        all.first().map(|one| one.iter().map(|(name, _)| name.clone()).collect()).unwrap_or_default();
    names
        .into_iter()
        .map(|name| {
            let own: Vec<f64> =
                all.iter().flatten().filter(|(other, _)| *other == name).map(|(_, p)| *p).collect();
            let share =
                |level: f64| own.iter().filter(|p| **p <= level).count() as f64 / own.len().max(1) as f64;
            (name, LEVELS.map(share))
        })
        .collect()
}

fn p_values(n: usize, number: u64) -> Vec<(String, f64)> {
    let e = NormalStream::new(SEED + n as u64, number).take(n);
    let mut walk = e.clone();
    for t in 1..n {
        walk[t] += walk[t - 1];
    }
    let mut all = Vec::new();
    let named = |test: &UnitRootTest, how: &str| {
        let name = match test.test {
            TestName::Pp => "Phillips-Perron",
            TestName::AdfGls => "ADF-GLS",
            TestName::PointOptimal => "point optimal",
            TestName::NgPerron => "MZ_t",
            _ => "",
        };
        Some((format!("{name}, {how}"), test.p_value?))
    };
    for (terms, how) in [(Terms::Constant, "constant"), (Terms::Trend, "trend")] {
        let options = FurtherOptions {
            tests: vec![TestName::Pp, TestName::AdfGls, TestName::PointOptimal, TestName::NgPerron],
            terms,
            ..FurtherOptions::default()
        };
        all.extend(further_tests(&walk, &options).iter().flatten().filter_map(|test| named(test, how)));
    }
    for (model, name) in [
        (BreakModel::Intercept, "level"),
        (BreakModel::Trend, "slope"),
        (BreakModel::Both, "level and slope"),
    ] {
        for (lags, how) in
            [(LagRule::Given(2), "2 lags given"), (LagRule::Criterion(Criterion::Aic), "lags by AIC")]
        {
            let test = zivot_andrews(&walk, &BreakOptions { model, lags, max_lags: None, trim: USUAL_TRIM });
            all.extend(
                test.ok()
                    .and_then(|test| Some((format!("Zivot-Andrews, break of {name}, {how}"), test.p_value?))),
            );
        }
    }
    let mut seasonal = e;
    for t in 4..n {
        seasonal[t] += seasonal[t - 4];
    }
    for (lags, how) in [(Some(0), "no lags"), (None, "lags by AIC")] {
        let options = SeasonalOptions { season: 4, trend: true, lags, max_lags: None };
        all.extend(
            hegy(&seasonal, &options)
                .ok()
                .and_then(|test| Some((format!("HEGY, s = 4, {how}"), test.p_value?))),
        );
    }
    all
}
