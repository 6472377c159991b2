//! Writes the fitted surfaces as source files of the core.

use std::fmt::Write as _;
use std::fs;
use std::path::Path;

use kandrel_core::nulldist::Family;

use crate::adf::AdfSimulator;
use crate::design::{CHOSEN_TERMS_SIZES, SIZES};
use crate::fit::{Fit, fit};
use crate::kpss::KpssSimulator;
use crate::sample::{Point, points};
use crate::store;
use crate::terms_by_data::TermsByDataSimulator;

/// Long regressions are dear and seldom asked for: they get one draw in so many.
const MANY_LAGS_SHARE: usize = 10;

/// So does the choice of terms, whose effect hardly depends on size and lags.
const CHOSEN_TERMS_SHARE: usize = 16;

/// With fewer draws the outermost quantiles have no measurable error.
const FEWEST_DRAWS: usize = 20_000;

/// Simulates everything and writes one file per family and their list.
pub fn make(draws: usize, seed: u64, points_file: &Path, refit: bool, into: &Path) -> Result<(), String> {
    if draws < FEWEST_DRAWS {
        return Err(format!("{draws} draws do not reach the outermost quantiles: at least {FEWEST_DRAWS}"));
    }
    fs::create_dir_all(into).map_err(|e| format!("{}: {e}", into.display()))?;
    let simulated = if refit {
        store::load(points_file)?
    } else {
        let fresh = simulate(draws, seed);
        store::save(points_file, &fresh)?;
        fresh
    };
    let families = Family::all();
    for family in &families {
        let own: Vec<Point> = simulated.iter().filter(|p| p.cell.family == *family).cloned().collect();
        let surface = fit(*family, &own)?;
        eprintln!("{:24} {:4} cells, worst p error {:.4?}", family.name(), surface.cells, surface.worst);
        let file = into.join(format!("{}.rs", family.name()));
        save(&file, &source(*family, &surface, draws, seed))?;
    }
    save(&into.join("mod.rs"), &list(&families))
}

fn simulate(draws: usize, seed: u64) -> Vec<Point> {
    let mut all = Vec::new();
    for n in SIZES {
        eprintln!("n = {n}");
        all.extend(points(&AdfSimulator::new(n), draws, seed));
        // Other seeds: no two distributions may share their draws.
        all.extend(points(&KpssSimulator::new(n), draws, seed + 1));
        if let Some(simulator) = AdfSimulator::with_many_lags(n) {
            all.extend(points(&simulator, draws_of_long_regressions(draws), seed + 2));
        }
    }
    for n in CHOSEN_TERMS_SIZES {
        eprintln!("terms by the data, n = {n}");
        all.extend(points(&TermsByDataSimulator::new(n), draws_of_chosen_terms(draws), seed + 3));
    }
    all
}

fn draws_of_chosen_terms(draws: usize) -> usize {
    (draws / CHOSEN_TERMS_SHARE).max(FEWEST_DRAWS)
}

fn draws_in_words(family: Family, draws: usize) -> String {
    match family {
        Family::AdfTermsByDataGiven | Family::AdfTermsByDataSearched(_) => {
            draws_of_chosen_terms(draws).to_string()
        }
        Family::AdfGiven(_) | Family::AdfSearched(..) => {
            format!("{draws} (long regressions: {})", draws_of_long_regressions(draws))
        }
        Family::KpssGiven(_) | Family::KpssAutomatic(_) => draws.to_string(),
    }
}

fn draws_of_long_regressions(draws: usize) -> usize {
    (draws / MANY_LAGS_SHARE).max(FEWEST_DRAWS)
}

fn save(file: &Path, text: &str) -> Result<(), String> {
    fs::write(file, text).map_err(|e| format!("{}: {e}", file.display()))
}

fn source(family: Family, fit: &Fit, draws: usize, seed: u64) -> String {
    let null = match family {
        Family::AdfGiven(_) => "random walk from zero, independent standard normal steps; given lags",
        Family::AdfSearched(..) => {
            "random walk from zero, independent standard normal steps; lags searched up to a largest number"
        }
        Family::AdfTermsByDataGiven | Family::AdfTermsByDataSearched(_) => {
            "random walk without drift; normal score of the p-value for terms that the data chose"
        }
        Family::KpssGiven(_) => "independent standard normal values; given bandwidth",
        Family::KpssAutomatic(_) => "independent standard normal values; automatic bandwidth",
    };
    let mut out = format!(
        "//! `{}`, written by `kandrel-nulls make --draws {draws} --seed {seed}`, version {}; do not edit.\n\
         //!\n\
         //! Null: {null}.\n\
         //! Fitted to {} cells of {} draws each; largest error of the p-value\n\
         //! over these at 1, 5 and 10 %: {:.4}, {:.4}, {:.4}.\n\n\
         use crate::nulldist::quantiles::Stretch;\n\
         use crate::nulldist::surface::{{Steps, Surface}};\n\n\
         #[rustfmt::skip]\npub(super) static SURFACE: Surface = Surface {{\n    powers: &{:?},\n    coefficients: &COEFFICIENTS,\n    \
         steps: Steps::{:?},\n    stretch: Stretch::{:?},\n    fewest: {},\n    largest_share: {:?},\n    most_lags: {:?},\n}};\n\n\
         #[rustfmt::skip]\nstatic COEFFICIENTS: [f64; {}] = [\n",
        family.name(),
        env!("CARGO_PKG_VERSION"),
        fit.cells,
        draws_in_words(family, draws),
        fit.worst[0],
        fit.worst[1],
        fit.worst[2],
        fit.powers,
        fit.steps,
        fit.stretch,
        fit.fewest,
        fit.largest_share,
        fit.most_lags,
        fit.coefficients.len() * fit.powers.len(),
    );
    for row in &fit.coefficients {
        let cells: Vec<String> = row.iter().map(|c| format!("{c:.8e}")).collect();
        // Writing to a string cannot fail.
        let _ = writeln!(out, "    {},", cells.join(", "));
    }
    out.push_str("];\n");
    out
}

fn list(families: &[Family]) -> String {
    let mut out = String::from(
        "//! The tables by family, written by `kandrel-nulls make`; do not edit.\n\n\
         use super::family::Family;\nuse super::surface::Surface;\n\n",
    );
    let mut modules: Vec<String> = families.iter().map(|family| family.name()).collect();
    modules.sort();
    for name in modules {
        let _ = writeln!(out, "mod {name};");
    }
    out.push_str(
        "\npub(super) fn find(family: Family) -> Option<&'static Surface> {\n    match family.name().as_str() {\n",
    );
    for family in families {
        let name = family.name();
        let _ = writeln!(out, "        \"{name}\" => Some(&{name}::SURFACE),");
    }
    out.push_str("        _ => None,\n    }\n}\n");
    out
}
