//! How readers, results, figures and errors write numbers, p-values, periods, lists and series.

mod expressions;
mod function_forms;
mod guard;
pub mod heads;
pub mod legends;
mod lists;
mod numbers;
mod periods;
mod series;
pub mod test_names;
pub mod titles;

pub use expressions::{column, expression_error, with_steps};
pub use guard::{guarded, unguarded};
pub use lists::{capitalised, count, first_few, joined, list, nearest, term_list, with_terms};
pub use numbers::{
    Finite, decimals, exact, number, p_equals, p_value, percent, probability, short, simulated_p,
};
pub use periods::{at_place, frequency_of, periods, season_axis, season_names};
pub use series::{gaps_rule, lambda, losses, repaired, season_taken_out, too_large, too_small, unusable};

#[cfg(test)]
mod tests;
