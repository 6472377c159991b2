//! The validation report: every section by name, written together or one at a time.

use std::fs;
use std::path::Path;

use crate::{
    accuracy, long_memory, order_selection, outlier_power, randomness, report_breaks, report_multivariate,
    report_unit_root, seasons, validate, verdicts,
};

/// A section of the report, or several that one function writes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, clap::ValueEnum)]
pub enum Section {
    /// Published critical values of ADF and KPSS
    Published,
    /// Sizes of ADF and KPSS
    Sizes,
    /// Error of the tables between the sizes they were fitted to
    Tables,
    /// Sizes of the tests of randomness
    Randomness,
    /// Published values and sizes of the other unit-root tests
    UnitRootTests,
    /// How often long memory is flagged
    Memory,
    /// Published values and sizes of the tests with breaks and of those drawn
    Breaks,
    /// Published values and sizes of the tests of several series
    Multivariate,
    /// Least squares against certified results
    LeastSquares,
    /// How often the verdict is right
    Verdicts,
    /// How often outliers are found
    Outliers,
    /// How often intervals hold the next values
    Coverage,
    /// How often the true orders are found
    Orders,
    /// Differences of seasonal series
    Seasons,
    /// Automatic forecasts of simulated series
    Forecasts,
}

/// Every section, in the order of the report.
pub const ALL: [Section; 15] = [
    Section::Published,
    Section::Sizes,
    Section::Tables,
    Section::Randomness,
    Section::UnitRootTests,
    Section::Memory,
    Section::Breaks,
    Section::Multivariate,
    Section::LeastSquares,
    Section::Verdicts,
    Section::Outliers,
    Section::Coverage,
    Section::Orders,
    Section::Seasons,
    Section::Forecasts,
];

impl Section {
    /// Series for each figure, by default.
    fn usual_draws(self) -> u64 {
        match self {
            Self::Published | Self::LeastSquares => 0,
            Self::Sizes | Self::Randomness | Self::UnitRootTests | Self::Breaks | Self::Multivariate => {
                20_000
            }
            Self::Tables => 400_000,
            // Four times as many series in the seasonal cells whose rates are promised.
            Self::Memory | Self::Forecasts | Self::Seasons => 100,
            Self::Verdicts | Self::Outliers => 1_000,
            Self::Coverage => 5_000,
            Self::Orders => 500,
        }
    }

    /// Its text, from that number of series for each figure.
    pub fn text(self, draws: Option<u64>) -> Result<String, String> {
        let draws = draws.unwrap_or_else(|| self.usual_draws());
        Ok(match self {
            Self::Published => validate::published_values()?,
            Self::Sizes => validate::sizes(draws),
            Self::Tables => validate::surfaces(draws),
            Self::Randomness => randomness::section(draws),
            Self::UnitRootTests => report_unit_root::section(draws),
            Self::Memory => long_memory::section(draws),
            Self::Breaks => report_breaks::section(draws),
            Self::Multivariate => report_multivariate::section(draws),
            Self::LeastSquares => LEAST_SQUARES.to_owned(),
            Self::Verdicts => verdicts::table(draws, ""),
            Self::Outliers => outlier_power::section(draws),
            Self::Coverage => order_selection::coverage(draws),
            Self::Orders => order_selection::section(draws),
            Self::Seasons => seasons::section(draws),
            Self::Forecasts => accuracy::section(draws),
        })
    }
}

/// Writes the whole report, or puts the sections named in the place of those that are there.
pub fn write(named: &[Section], draws: Option<u64>, into: &Path) -> Result<(), String> {
    let failed = |error: std::io::Error| format!("{}: {error}", into.display());
    let mut report =
        if named.is_empty() { HEAD.to_owned() } else { fs::read_to_string(into).map_err(failed)? };
    for section in if named.is_empty() { &ALL[..] } else { named } {
        eprintln!("{section:?}");
        report = with_section(&report, &section.text(draws)?);
    }
    fs::write(into, report).map_err(failed)
}

/// The report with these headings in the place of the ones of the same names, or behind all others.
fn with_section(report: &str, text: &str) -> String {
    let mut parts: Vec<String> = chapters(report);
    for chapter in chapters(text) {
        let heading = chapter.lines().next().unwrap_or_default().to_owned();
        let same = |part: &String| part.lines().next() == Some(heading.as_str());
        match parts.iter().position(same) {
            Some(place) => parts[place] = chapter,
            None => parts.push(chapter),
        }
    }
    parts.iter().map(|part| part.trim_end().to_owned() + "\n").collect::<Vec<_>>().join("\n")
}

/// What is before the first heading of the second rank, then each with what follows it.
fn chapters(text: &str) -> Vec<String> {
    let mut all: Vec<String> = Vec::new();
    for line in text.lines() {
        if line.starts_with("## ") || all.is_empty() {
            all.push(String::new());
        }
        if let Some(last) = all.last_mut() {
            last.push_str(line);
            last.push('\n');
        }
    }
    all
}

const HEAD: &str = "\
# Validation

Written by `cargo run --release -p kandrel-nulls -- validate`, every section; one alone with `--section NAME`. Every
number follows from its seeds. The null distributions themselves come from
`cargo run --release -p kandrel-nulls -- make` (about two hours on two cores): 1,000,000 draws for each of 23 sample
sizes from 15 to 2,200, 100,000 for regressions with more than 30 lags, 62,500 for the choice of terms.
";

const LEAST_SQUARES: &str = "\
## Least squares against certified results

Digits in common with the certified values of NIST's Statistical Reference Datasets (`cargo test -p kandrel-core --test regression`
holds each from below).

| data set | coefficients | standard errors | residual deviation |
| --- | --- | --- | --- |
| Longley | 12 and more | 11 and more | 13 and more |
| Wampler1, Wampler2 (exact fits) | 15 and more, 12 and more | | |
| Wampler3, Wampler4, Wampler5 | 13, 12, 10 and more | 11 and more | 12 and more |
| Filip, polynomial of degree 10 | 7 and more | 6.5 and more | 8 and more |

The tenth powers of Filip are themselves rounded to sixteen digits, and the condition of the problem takes nine of them.
";

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_section_takes_the_place_of_the_one_of_its_name() {
        let report = "# Title\n\nHead.\n\n## One\n\na\n\n## Two\n\nb\n";
        let once = with_section(report, "## Two\n\nc\n\n## Three\n\nd\n");
        assert_eq!(once, "# Title\n\nHead.\n\n## One\n\na\n\n## Two\n\nc\n\n## Three\n\nd\n");
        assert_eq!(with_section(&once, "## One\n\na\n"), once);
    }

    #[test]
    fn every_section_is_written_and_stands_in_the_report_that_is_kept() {
        let kept = include_str!("../../../docs/validation.md");
        let written: Vec<String> = [Section::Published, Section::LeastSquares]
            .iter()
            .flat_map(|section| chapters(&section.text(None).expect("a section")))
            .collect();
        for chapter in written {
            assert!(kept.contains(chapter.trim_end()), "{chapter}");
        }
        let sections = kept.lines().filter(|line| line.starts_with("## ")).count();
        assert!(sections > ALL.len(), "{sections}");
        // Small runs of the quick ones: a heading and a table.
        for (section, draws) in
            [(Section::Outliers, 2), (Section::Seasons, 1), (Section::Memory, 1), (Section::Forecasts, 1)]
        {
            let text = section.text(Some(draws)).expect("a section");
            assert!(text.starts_with("## ") && text.contains("| --- |"), "{text}");
        }
    }
}
