//! How the tests are done, as it is typed.

use kandrel_core::lag::LagRule;
use kandrel_core::nulldist::Terms;
use kandrel_core::ols::Bandwidth;
use kandrel_core::unitroot::{Kernel, TestName, USUAL_TRIM};
use kandrel_core::verdict::{AssessOptions, TermsRule};

use crate::args::{Choices, alpha, one_of};
use crate::error::CliError;
use crate::present::stationarity::BootstrapResult;

/// Options of the tests.
// Each flag is independent of the others.
#[allow(clippy::struct_excessive_bools)]
#[derive(clap::Args)]
#[command(next_help_heading = "Method")]
pub struct MethodArgs {
    #[arg(long, help = "Tests to show: adf, kpss, pp, adf_gls, point_optimal, ng_perron, zivot_andrews, perron, lee_strazicich, hegy, canova_hansen, log_periodogram, local_whittle, or all (default: adf, kpss, pp, adf_gls, hegy)", value_name = "LIST|all", value_parser = tests)]
    pub tests: Option<Tests>,
    /// Deterministic terms at the level
    #[arg(long, default_value = "auto", value_parser = one_of(TERMS))]
    pub terms: TermsRule,
    /// Lagged differences in the regressions: a number, or chosen by a criterion or by t-ratios
    #[arg(long, value_name = "N|aic|bic|hq|maic|t", default_value = "aic")]
    pub lags: LagRule,
    /// Maximum lag order (default: 12 (n/100)^(1/4))
    #[arg(long, value_name = "N")]
    pub max_lags: Option<usize>,
    /// Lags in the long-run variance of KPSS and PP
    #[arg(long, value_name = "N|auto|l4|l12", default_value = "auto")]
    pub bandwidth: Bandwidth,
    /// Weights of the long-run variance of KPSS and PP
    #[arg(long, default_value = "bartlett", value_parser = one_of(KERNELS))]
    pub kernel: Kernel,
    /// Numbers of differences to test, 0 for the level (default: as many as the verdict needs)
    #[arg(long, value_name = "N,N", value_delimiter = ',', value_parser = clap::value_parser!(u8).range(0..=2))]
    pub at: Option<Vec<u8>>,
    /// Tests that allow for one or two breaks at endogenous dates
    #[arg(long, value_name = "1|2", value_parser = clap::value_parser!(u8).range(1..=2))]
    pub breaks: Option<u8>,
    /// Perron's test with a break known from elsewhere: the last period before it
    #[arg(long, value_name = "PERIOD")]
    pub break_at: Option<String>,
    /// Share of the series without break dates at either end
    #[arg(long, value_name = "SHARE", default_value_t = USUAL_TRIM, value_parser = trim)]
    pub trim: f64,
    /// Print the regression of the ADF test
    #[arg(long)]
    pub regression: bool,
    /// Sieve-bootstrap p-values from N replications
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u32).range(99..=100_000))]
    pub bootstrap: Option<u32>,
    /// Wild bootstrap, for heteroskedastic innovations
    #[arg(long, requires = "bootstrap")]
    pub wild: bool,
    /// Seed of the bootstrap
    #[arg(long, value_name = "N", default_value_t = 1, requires = "bootstrap")]
    pub seed: u64,
    /// Test several series together as a panel
    #[arg(long)]
    pub panel: bool,
    /// Tabulate the verdict and the main tests over sub-samples, terms, lag rules and bandwidths
    #[arg(long, conflicts_with_all = ["panel", "tests", "at", "breaks", "break_at", "bootstrap", "regression", "figure"])]
    pub robustness: bool,
    /// ADF and KPSS over rolling windows of N observations, and over recursive ones that begin with N
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u16).range(1..), conflicts_with_all = ["panel", "robustness", "tests", "at", "breaks", "break_at", "bootstrap", "regression"])]
    pub rolling: Option<u16>,
    /// Significance level of all decisions
    #[arg(long, value_name = "P", default_value = "0.05", value_parser = alpha)]
    pub alpha: f64,
}

/// Names of tests.
#[derive(Debug, Clone)]
pub struct Tests {
    names: Vec<TestName>,
    is_all: bool,
}

/// The tests that are shown where none are named.
const USUAL: [TestName; 5] = [TestName::Adf, TestName::Kpss, TestName::Pp, TestName::AdfGls, TestName::Hegy];

/// Every test by its name in results.
const TESTS: [(&str, TestName); 13] = [
    ("adf", TestName::Adf),
    ("kpss", TestName::Kpss),
    ("pp", TestName::Pp),
    ("adf_gls", TestName::AdfGls),
    ("point_optimal", TestName::PointOptimal),
    ("ng_perron", TestName::NgPerron),
    ("zivot_andrews", TestName::ZivotAndrews),
    ("perron", TestName::Perron),
    ("lee_strazicich", TestName::LeeStrazicich),
    ("hegy", TestName::Hegy),
    ("canova_hansen", TestName::CanovaHansen),
    ("log_periodogram", TestName::LogPeriodogram),
    ("local_whittle", TestName::LocalWhittle),
];

fn tests(text: &str) -> Result<Tests, String> {
    if text.eq_ignore_ascii_case("all") {
        return Ok(Tests { names: TESTS.map(|(_, test)| test).into(), is_all: true });
    }
    let one = |name: &str| {
        let plain = name.trim().replace('-', "_").to_lowercase();
        TESTS.iter().find(|(known, _)| *known == plain).map(|(_, test)| *test).ok_or_else(|| {
            let names: Vec<&str> = TESTS.iter().map(|(known, _)| *known).collect();
            format!("there is no test {name:?}; there are {} and all", names.join(", "))
        })
    };
    text.split(',').map(one).collect::<Result<_, _>>().map(|names| Tests { names, is_all: false })
}

/// Deterministic terms at the level.
const TERMS: Choices<TermsRule> = &[
    ("auto", TermsRule::Auto, "Constant or trend, whichever the data ask for"),
    ("none", TermsRule::Given(Terms::None), ""),
    ("constant", TermsRule::Given(Terms::Constant), ""),
    ("trend", TermsRule::Given(Terms::Trend), ""),
];

/// Weights of a long-run variance.
const KERNELS: Choices<Kernel> = &[
    ("bartlett", Kernel::Bartlett, "Decreasing linearly to zero"),
    ("quadratic", Kernel::Quadratic, "Quadratic spectral"),
];

fn trim(text: &str) -> Result<f64, String> {
    let value: f64 = text.parse().map_err(|_| "write a number, as 0.15".to_owned())?;
    if (0.05..=0.3).contains(&value) {
        Ok(value)
    } else {
        Err("write a proportion from 0.05 to 0.3".to_owned())
    }
}

impl MethodArgs {
    /// Refuses options that contradict each other.
    pub fn check(&self) -> Result<(), CliError> {
        if self.max_lags.is_some() && matches!(self.lags, LagRule::Given(_)) {
            return Err(CliError::call("--max-lags bounds a choice, and --lags gives the number")
                .advise("leave one of them out"));
        }
        if self.is_named(TestName::Perron) && self.break_at.is_none() {
            return Err(CliError::call("--tests perron: the test needs a known break date")
                .advise("name the last period before it: --break-at PERIOD"));
        }
        Ok(())
    }

    /// The tests to show: those named, and those that options ask for.
    pub fn names(&self) -> Vec<TestName> {
        let mut names = self.tests.as_ref().map_or(USUAL.to_vec(), |tests| tests.names.clone());
        let asked_for = [
            (self.breaks.is_some(), TestName::LeeStrazicich),
            (self.breaks == Some(1), TestName::ZivotAndrews),
            (self.break_at.is_some(), TestName::Perron),
        ];
        for (is_asked, name) in asked_for {
            if is_asked && !names.contains(&name) {
                names.push(name);
            }
        }
        names
    }

    /// Whether all tests are asked for.
    pub fn is_all(&self) -> bool {
        self.tests.as_ref().is_some_and(|tests| tests.is_all)
    }

    /// Whether a test was asked for by its own name.
    pub fn is_named(&self, name: TestName) -> bool {
        self.tests.as_ref().is_some_and(|tests| !tests.is_all && tests.names.contains(&name))
    }

    /// The options of the assessment.
    pub fn assessment(&self, season: usize) -> AssessOptions {
        AssessOptions {
            terms: self.terms,
            lags: self.lags,
            max_lags: self.max_lags,
            bandwidth: self.bandwidth,
            kernel: self.kernel,
            alpha: self.alpha,
            season,
        }
    }

    /// The terms, where they are given.
    pub fn given_terms(&self) -> Option<Terms> {
        match self.terms {
            TermsRule::Auto => None,
            TermsRule::Given(terms) => Some(terms),
        }
    }

    /// How bootstrap p-values are drawn, where they are asked for.
    pub fn drawing(&self) -> Option<BootstrapResult> {
        self.bootstrap.map(|draws| BootstrapResult { draws, seed: self.seed, wild: self.wild })
    }
}
