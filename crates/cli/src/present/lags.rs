//! Lag orders: the contract's result and its text.

use kandrel_core::series::Series;
use kandrel_core::var::{
    Causality, Check, ChosenLags, Influence, LagRow, LagTable, LagTerms, ResidualChecks,
};
use schemars::JsonSchema;
use serde::Serialize;

use crate::call::{Call, Name};
use crate::document::{Align, Block, Cell, Document, Table};
use crate::present::decision::Decision;
use crate::present::sample::{Sample, Stretch};
use crate::wording;
use crate::wording::{number, p_equals};

/// Rows for each coefficient of an equation below which estimates are shaky.
const FEW_ROWS: f64 = 4.0;
/// A largest root beyond this is as good as a unit root.
const NEAR_ONE: f64 = 0.97;

/// The contract's result of `lags`.
#[derive(JsonSchema, Serialize)]
pub struct LagsResult {
    pub variables: Vec<String>,
    pub also: Vec<String>,
    pub terms: LagTerms,
    pub max_lags: usize,
    /// Common to all orders.
    pub sample: Stretch,
    pub rows: Vec<LagRow>,
    pub chosen: ChosenLags,
    /// The smallest of the orders of AIC, HQ and BIC whose residuals look white, else the largest.
    pub recommended: usize,
    /// Of the recommended order.
    pub residual_check: ResidualCheck,
    /// Of every order that a criterion chose.
    pub residual_checks: Vec<ResidualCheck>,
    /// Where asked for.
    pub causality: Option<CausalityResult>,
    /// Coefficients of an equation of the largest order.
    pub most_coefficients: usize,
    /// Seasonal period.
    pub season: usize,
    /// The significance level.
    pub alpha: f64,
    /// The observations of each series.
    pub series_sample: Sample,
    /// Whether Granger causality was asked for.
    pub causality_wanted: bool,
}

/// Whether the residuals of one order look white.
#[derive(Default, JsonSchema, Serialize)]
pub struct ResidualCheck {
    pub lag: usize,
    pub portmanteau: Option<Check>,
    /// Lagrange multiplier test in Rao's F form.
    pub lm: Option<Check>,
    pub white: bool,
    /// Moduli of the companion matrix's eigenvalues, largest first.
    pub roots: Vec<f64>,
    /// Rows for each coefficient of an equation.
    pub rows_per_coefficient: f64,
}

/// Who helps to predict whom.
#[derive(JsonSchema, Serialize)]
pub struct CausalityResult {
    pub lags: usize,
    /// Lags added for integrated series; the tests in `pairs` and `blocks` have them.
    pub augmented: usize,
    /// Order of integration of each series, by the verdict.
    pub integration: Vec<Option<usize>>,
    pub pairs: Vec<InfluenceResult>,
    pub blocks: Vec<InfluenceResult>,
    /// The same without lags added, where there are any.
    pub without_added_lags: Option<Vec<InfluenceResult>>,
}

/// One test of no influence.
#[derive(JsonSchema, Serialize)]
pub struct InfluenceResult {
    pub causes: Vec<String>,
    pub effect: String,
    pub null: &'static str,
    pub f: f64,
    pub df1: usize,
    pub df2: usize,
    pub p_value: f64,
    pub chi2: f64,
    pub p_chi2: f64,
    pub decision: Decision,
}

/// One order, looked at.
pub struct Checked {
    pub lags: usize,
    pub checks: Option<ResidualChecks>,
    pub moduli: Vec<f64>,
    pub spare: f64,
}

impl Checked {
    fn is_white(&self, alpha: f64) -> bool {
        self.checks.is_some_and(|checks| {
            checks.portmanteau.p_value > alpha && checks.multiplier.is_none_or(|one| one.p_value > alpha)
        })
    }
}

/// Tests of influence.
pub struct Influences {
    pub plain: Causality,
    pub augmented: Option<Causality>,
    pub integration: Vec<Option<usize>>,
}

/// Everything that was computed.
pub struct Found {
    pub table: LagTable,
    pub checked: Vec<Checked>,
    pub recommended: usize,
    pub influences: Option<Influences>,
    pub season: usize,
    pub wanted: bool,
}

/// The smallest of the orders whose residuals look white, else the largest.
pub fn recommended(checked: &[Checked], alpha: f64) -> usize {
    let white = checked.iter().find(|one| one.is_white(alpha));
    white.or(checked.last()).map_or(0, |one| one.lags)
}

/// Puts a result together.
pub fn result(all: &[Series], also: &[Series], found: Found, alpha: f64) -> LagsResult {
    let names = |list: &[Series]| list.iter().map(|series| series.name.clone()).collect::<Vec<_>>();
    let variables = names(all);
    let Found { table, checked, recommended, influences, season, wanted } = found;
    let period = |place: usize| all.first().map_or(String::new(), |series| series.period(place).to_string());
    let last = all.first().map_or(String::new(), |series| series.last().to_string());
    let check = |one: &Checked| ResidualCheck {
        lag: one.lags,
        portmanteau: one.checks.map(|checks| checks.portmanteau),
        lm: one.checks.and_then(|checks| checks.multiplier),
        white: one.is_white(alpha),
        roots: one.moduli.clone(),
        rows_per_coefficient: one.spare,
    };
    let of_recommended = checked.iter().find(|one| one.lags == recommended).or(checked.first());
    LagsResult {
        also: names(also),
        terms: table.terms,
        max_lags: table.most,
        sample: Stretch { first: period(table.most), last, observations: table.rows_used },
        chosen: table.chosen,
        recommended,
        residual_check: of_recommended.map(check).unwrap_or_default(),
        residual_checks: checked.iter().map(check).collect(),
        causality: influences.map(|one| influence_results(&one, &variables, alpha)),
        most_coefficients: table.most_coefficients,
        rows: table.rows,
        series_sample: Sample::of_first(all),
        variables,
        season,
        alpha,
        causality_wanted: wanted,
    }
}

fn influence_results(found: &Influences, names: &[String], alpha: f64) -> CausalityResult {
    let main = found.augmented.as_ref().unwrap_or(&found.plain);
    let named = |place: &usize| names.get(*place).cloned().unwrap_or_default();
    let one = |test: &Influence| InfluenceResult {
        causes: test.causes.iter().map(named).collect(),
        effect: named(&test.effect),
        null: "no influence",
        f: test.f,
        df1: test.df1,
        df2: test.df2,
        p_value: test.p_value,
        chi2: test.chi2,
        p_chi2: test.p_chi2,
        decision: Decision::at(test.p_value, alpha),
    };
    CausalityResult {
        lags: main.lags,
        augmented: main.augmented,
        integration: found.integration.clone(),
        pairs: main.pairs.iter().map(one).collect(),
        // With two series the others together are the other one.
        blocks: if names.len() > 2 { main.blocks.iter().map(one).collect() } else { Vec::new() },
        without_added_lags: found.augmented.as_ref().map(|_| found.plain.pairs.iter().map(one).collect()),
    }
}

/// The result as a document.
pub fn document(result: &LagsResult, call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(answer(result));
    document.paragraph(format!(
        "{} All orders on one sample: {} rows from {} to {}{}.",
        sentence_about(result),
        result.sample.observations,
        result.sample.first,
        result.sample.last,
        terms(result)
    ));
    document.table(table(result));
    document.paragraph(
        "Criteria: how far above the least of their own column, which is marked; columns are not to be \
         compared with each other. FPE: percent above its least. LR: against one lag less.",
    );
    document.table(checks(result));
    if let Some(causality) = &result.causality {
        document.paragraph(causality_sentence(causality, result.alpha));
        document.table(influences(causality));
    }
    document.blocks.push(Block::EvidenceLegend);
    document.list("What follows", reasons(result));
    document.commands("Next", next(result, call));
    document
}

fn sentence_about(result: &LagsResult) -> String {
    if result.variables.len() == 1 {
        format!("{}.", result.series_sample)
    } else {
        format!("{} series together.", result.variables.len())
    }
}

fn terms(result: &LagsResult) -> String {
    let terms = match result.terms {
        LagTerms::None => "without a constant",
        LagTerms::Constant => "with a constant",
        LagTerms::Trend => "with a constant and a trend",
        LagTerms::Seasonal => "with a constant and seasonal dummies",
    };
    if result.also.is_empty() {
        format!(", {terms}")
    } else {
        format!(", {terms} and {}", wording::list(&result.also))
    }
}

/// Names of what chose this order.
fn choosers(chosen: &ChosenLags, lag: usize) -> Vec<&'static str> {
    [(chosen.bic, "BIC"), (chosen.hq, "HQ"), (chosen.aic, "AIC"), (chosen.fpe, "FPE"), (chosen.lr, "LR")]
        .into_iter()
        .filter(|(own, _)| *own == lag)
        .map(|(_, name)| name)
        .collect()
}

fn lags_word(lag: usize) -> String {
    if lag == 0 { "no lag".to_owned() } else { wording::count(lag, "lag") }
}

fn answer(result: &LagsResult) -> String {
    let (chosen, lag) = (&result.chosen, result.recommended);
    let what = wording::joined(&result.variables.iter().map(String::as_str).collect::<Vec<_>>());
    let by = wording::joined(&choosers(chosen, lag));
    let mut others: Vec<usize> = vec![chosen.bic, chosen.hq, chosen.aic];
    others.sort_unstable();
    others.dedup();
    others.retain(|other| *other != lag);
    let rest: Vec<String> = others
        .iter()
        .map(|other| format!("{} by {}", lags_word(*other), wording::joined(&choosers(chosen, *other))))
        .collect();
    let rest = if rest.is_empty() { String::new() } else { format!(" ({})", rest.join(", ")) };
    let tail = if result.residual_check.white {
        "; its residuals look white"
    } else if result.residual_check.portmanteau.is_none() {
        "; too few rows to check its residuals"
    } else {
        ", but its residuals are not white"
    };
    format!("{what}: {} by {by}{rest}{tail}.", lags_word(lag))
}

fn table(result: &LagsResult) -> Table {
    let least = |of: fn(&LagRow) -> f64| result.rows.iter().map(of).fold(f64::INFINITY, f64::min);
    let (fpe, aic, hq, bic) = (least(|r| r.log_fpe), least(|r| r.aic), least(|r| r.hq), least(|r| r.bic));
    let chosen = &result.chosen;
    let above = |lag: usize, best: usize, difference: f64| {
        if lag == best { Cell::text("least") } else { Cell::number(difference, 1) }
    };
    let fpe_percent = |row: &LagRow| 100.0 * (row.log_fpe - fpe).exp_m1();
    Table::of(&result.rows)
        .count("Lags", |row| row.lag)
        .number("log L", 2, |row| row.log_likelihood)
        .number("LR", 2, |row| row.lr)
        .p_value("p", |row| row.p_value)
        .column("FPE %", Align::Decimal, |row| above(row.lag, chosen.fpe, fpe_percent(row)))
        .column("AIC", Align::Decimal, |row| above(row.lag, chosen.aic, row.aic - aic))
        .column("HQ", Align::Decimal, |row| above(row.lag, chosen.hq, row.hq - hq))
        .column("BIC", Align::Decimal, |row| above(row.lag, chosen.bic, row.bic - bic))
        .table()
}

fn checks(result: &LagsResult) -> Table {
    Table::of(&result.residual_checks)
        .text("Residuals of", |check| lags_word(check.lag))
        .number("Portmanteau", 2, |check| check.portmanteau.map(|test| test.statistic))
        .p_value("p", |check| check.portmanteau.map(|test| test.p_value))
        .number("LM as F", 2, |check| check.lm.map(|test| test.statistic))
        .p_value("p", |check| check.lm.map(|test| test.p_value))
        .number("Largest root", 3, |check| check.roots.first().copied())
        .table()
}

fn influences(causality: &CausalityResult) -> Table {
    let causes = |test: &InfluenceResult| {
        if test.causes.len() > 1 { "all others".to_owned() } else { test.causes.concat() }
    };
    Table::of(causality.pairs.iter().chain(&causality.blocks))
        .text("The past of", |test| causes(test))
        .text("helps to predict", |test| test.effect.clone())
        .number("F", 2, |test| test.f)
        .text("df", |test| format!("{}, {}", test.df1, test.df2))
        .p_value("p", |test| test.p_value)
        .text("Null is", |test| test.decision.text())
        .table()
}

fn causality_sentence(causality: &CausalityResult, alpha: f64) -> String {
    let helps: Vec<String> = causality
        .pairs
        .iter()
        .filter(|test| test.p_value <= alpha)
        .map(|test| format!("{} helps to predict {}", test.causes.concat(), test.effect))
        .collect();
    let found =
        if helps.is_empty() { "No series helps to predict another".to_owned() } else { helps.join("; ") };
    let how = match causality.augmented {
        0 => String::new(),
        added => format!(
            " Series are integrated of order up to {added}: {} stand in the system untested, so that the usual \
             distributions hold.",
            wording::count(added, "lag") + " more"
        ),
    };
    format!("{found} ({} tested). Null: no influence.{how}", lags_word(causality.lags))
}

/// What the figures mean for what is done next.
fn reasons(result: &LagsResult) -> Vec<String> {
    let mut all = Vec::new();
    let check = &result.residual_check;
    match (&check.portmanteau, check.white) {
        (None, _) => all.push("The sample is too short to check residuals.".to_owned()),
        (Some(test), true) => all.push(format!(
            "Nothing of the past is left in the residuals of {} (portmanteau over {} lags, {}{}).",
            lags_word(check.lag),
            test.lags,
            p_equals(test.p_value),
            check.lm.as_ref().map_or(String::new(), |lm| format!("; LM, {}", p_equals(lm.p_value)))
        )),
        (Some(_), false) => all.push(not_white(result)),
    }
    let chosen = &result.chosen;
    if chosen.bic < chosen.aic {
        all.push(
            "BIC and HQ find a true finite order in long series; AIC takes more lags, which forecasts forgive \
             and tests of cointegration prefer."
                .to_owned(),
        );
    }
    if [chosen.aic, chosen.hq, chosen.bic].contains(&result.max_lags) && result.max_lags > 0 {
        all.push(format!(
            "A criterion is least at the largest order, {}: look further with --max.",
            result.max_lags
        ));
    }
    if check.rows_per_coefficient < FEW_ROWS {
        all.push(format!(
            "Only {} rows for each coefficient of an equation: take fewer series or lags.",
            number(check.rows_per_coefficient, 1)
        ));
    } else if (result.sample.observations as f64) < FEW_ROWS * result.most_coefficients as f64 {
        all.push(format!(
            "The largest order has {} coefficients in each equation for {} rows: its figures are shaky; --max sets a \
             smaller one.",
            result.most_coefficients, result.sample.observations
        ));
    }
    if let Some(root) = check.roots.first() {
        let size = number(*root, 3);
        all.push(match *root {
            _ if *root >= 1.0 => {
                format!("The largest root is {size}, not below one: the series wander or explode. Difference them.")
            }
            _ if *root > NEAR_ONE => {
                format!("The largest root is {size}, as good as one: the series wander.")
            }
            _ => format!("The largest root is {size}, below one: the system is stationary."),
        });
    }
    if result.causality_wanted && result.causality.is_none() {
        all.push("Without a lag there is no past to test for influence.".to_owned());
    }
    all
}

fn not_white(result: &LagsResult) -> String {
    let seasonal = result.season > 1 && result.terms != LagTerms::Seasonal;
    let remedy = if seasonal {
        "add lags with --max, take out the season with --terms seasonal, or difference at the season"
    } else {
        "add lags with --max, or look for odd values and breaks"
    };
    let tests = [&result.residual_check.portmanteau, &result.residual_check.lm];
    let least = tests.into_iter().flatten().map(|one| one.p_value).fold(1.0, f64::min);
    format!(
        "The past is not used up: the residuals of {} are autocorrelated ({}). What helps: {remedy}.",
        lags_word(result.recommended),
        p_equals(least)
    )
}

fn next(result: &LagsResult, typed: &Call) -> Vec<Call> {
    let names = &result.variables;
    let wander = result.residual_check.roots.first().is_some_and(|root| *root > NEAR_ONE);
    let further = |name| typed.next(name, names.clone()).keeping(typed, &["alpha"]);
    match names.as_slice() {
        [_] if wander => vec![further(Name::Stationarity)],
        [_] if result.recommended > 0 => {
            vec![further(Name::Fit).with("model", format!("({},0,0)", result.recommended))]
        }
        [_] => Vec::new(),
        _ if wander => vec![
            further(Name::Stationarity),
            further(Name::Cointegration).with("lags", result.recommended.max(1)),
        ],
        _ if result.causality.is_none() => {
            vec![further(Name::Lags).keeping(typed, &["max", "terms", "also"]).flag("causality")]
        }
        _ => Vec::new(),
    }
}
