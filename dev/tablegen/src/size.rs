//! Size studies: how often tests reject a null that is true, as the commands run them.

use std::fmt::Write as _;

use rayon::prelude::*;

use crate::published::LEVELS;

/// Tests that share their draws.
pub struct Case<'a> {
    names: Vec<String>,
    draws: u64,
    /// The p-value of each on a draw of this length and number; none where it has none.
    p_values: Box<dyn Fn(usize, u64) -> Vec<Option<f64>> + Sync + 'a>,
}

/// The shares of p-values up to each level, for one test.
pub struct Row {
    pub name: String,
    /// For each length.
    pub shares: Vec<[f64; 3]>,
}

impl<'a> Case<'a> {
    /// One test.
    pub fn one(name: String, draws: u64, p: impl Fn(usize, u64) -> Option<f64> + Sync + 'a) -> Self {
        Self::several(vec![name], draws, move |n, number| vec![p(n, number)])
    }

    /// Several, in the order of their names.
    pub fn several(
        names: Vec<String>,
        draws: u64,
        p_values: impl Fn(usize, u64) -> Vec<Option<f64>> + Sync + 'a,
    ) -> Self {
        Self { names, draws, p_values: Box::new(p_values) }
    }

    fn rows(&self, lengths: &[usize]) -> Vec<Row> {
        let by_length: Vec<Vec<[f64; 3]>> = lengths.iter().map(|n| self.shares(*n)).collect();
        let row = |(place, name): (usize, &String)| Row {
            name: name.clone(),
            shares: by_length.iter().map(|shares| shares[place]).collect(),
        };
        self.names.iter().enumerate().map(row).collect()
    }

    /// Of each test, over the draws that have a p-value.
    fn shares(&self, n: usize) -> Vec<[f64; 3]> {
        let all: Vec<Vec<Option<f64>>> =
            (0..self.draws).into_par_iter().map(|number| (self.p_values)(n, number)).collect();
        (0..self.names.len()).map(|place| shares(all.iter().filter_map(|draw| draw[place]))).collect()
    }
}

fn shares(p_values: impl Iterator<Item = f64>) -> [f64; 3] {
    let (mut count, mut up_to) = (0.0_f64, [0.0; 3]);
    for p in p_values {
        count += 1.0;
        for (own, level) in up_to.iter_mut().zip(LEVELS) {
            *own += f64::from(u8::from(p <= level));
        }
    }
    up_to.map(|own| own / count.max(1.0))
}

/// Every row of these cases.
pub fn rows(cases: &[Case<'_>], lengths: &[usize]) -> Vec<Row> {
    cases.iter().flat_map(|case| case.rows(lengths)).collect()
}

/// A table with three columns for each length.
pub fn table(cases: &[Case<'_>], lengths: &[usize]) -> String {
    let heads: Vec<String> = lengths.iter().map(|n| format!("n = {n}: 0.01 | 0.05 | 0.10")).collect();
    let mut out = format!("| test | {} |\n|{}\n", heads.join(" | "), " --- |".repeat(1 + 3 * lengths.len()));
    for Row { name, shares } in rows(cases, lengths) {
        let cells: Vec<String> = shares.iter().flatten().map(|share| format!("{share:.4}")).collect();
        // Writing to a string cannot fail.
        let _ = writeln!(out, "| {name} | {} |", cells.join(" | "));
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn shares_are_of_the_draws_that_have_a_p_value() {
        let even = |number: u64| (number.is_multiple_of(2)).then_some(0.04);
        let case = Case::several(vec!["a".to_owned(), "b".to_owned()], 10, move |n, number| {
            vec![even(number), Some(if n > 50 { 0.005 } else { 0.5 })]
        });
        let found = rows(std::slice::from_ref(&case), &[40, 60]);
        assert_eq!(found[0].shares, [[0.0, 1.0, 1.0]; 2]);
        assert_eq!(found[1].shares, [[0.0; 3], [1.0; 3]]);
        let text = table(&[case], &[40, 60]);
        assert_eq!(text.lines().count(), 4, "{text}");
        let columns = |line: &str| line.matches('|').count();
        assert!(text.lines().all(|line| columns(line) == 8), "{text}");
        assert!(text.ends_with("| b | 0.0000 | 0.0000 | 0.0000 | 1.0000 | 1.0000 | 1.0000 |\n"), "{text}");
    }

    #[test]
    fn a_test_that_never_has_a_p_value_rejects_nothing() {
        let none = Case::one("none".to_owned(), 5, |_, _| None);
        assert_eq!(rows(&[none], &[30])[0].shares, [[0.0; 3]]);
    }
}
