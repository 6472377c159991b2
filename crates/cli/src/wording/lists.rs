//! Lists of names and counted things, as sentences write them.

/// How many names of a list are written out.
const LISTED: usize = 30;
/// How many items of a list are named before "and others".
const NAMED: usize = 6;

/// `a`, `b` and `c`; of very many the first, and how many more there are.
pub fn list(names: &[String]) -> String {
    let quoted: Vec<String> = names.iter().take(LISTED).map(|name| format!("`{name}`")).collect();
    if names.len() > LISTED {
        return format!("{} and {} more", quoted.join(", "), names.len() - LISTED);
    }
    match quoted.as_slice() {
        [] => "nothing".to_owned(),
        [only] => only.clone(),
        [most @ .., last] => format!("{} and {last}", most.join(", ")),
    }
}

/// `a, b and c`.
pub fn joined<T: AsRef<str>>(names: &[T]) -> String {
    let names: Vec<&str> = names.iter().map(AsRef::as_ref).collect();
    match names.as_slice() {
        [] => String::new(),
        [only] => (*only).to_owned(),
        [most @ .., last] => format!("{} and {last}", most.join(", ")),
    }
}

/// Regressors behind the name of a model.
pub fn with_terms(terms: &[String]) -> String {
    match terms.len() {
        0 => String::new(),
        1..=3 => format!(" with {}", terms.join(", ")),
        many => format!(" with {many} regressors"),
    }
}

/// Terms as an option takes them; none where there are none.
pub fn term_list(terms: &[String]) -> Option<String> {
    (!terms.is_empty()).then(|| terms.join(","))
}

/// The first few items, and how many more there are.
pub fn first_few(items: &[String]) -> String {
    let named = items.iter().take(NAMED).cloned().collect::<Vec<_>>().join(", ");
    match items.len().saturating_sub(NAMED) {
        0 => named,
        more => format!("{named} and {more} more"),
    }
}

/// The known name nearest to a mistyped one, if any is near.
pub fn nearest(typed: &str, known: &[String]) -> Option<String> {
    let folded = typed.to_lowercase();
    let scored = known
        .iter()
        .map(|name| (strsim::normalized_damerau_levenshtein(&folded, &name.to_lowercase()), name));
    let best = scored.max_by(|a, b| a.0.total_cmp(&b.0))?;
    (best.0 >= 0.5).then(|| best.1.clone())
}

/// `1 observation`, `2 observations`.
pub fn count(number: usize, noun: &str) -> String {
    if number == 1 { format!("1 {noun}") } else { format!("{number} {noun}s") }
}

/// With a capital letter.
pub fn capitalised(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| first.to_uppercase().chain(letters).collect())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_mistyped_name_finds_its_neighbour_and_nonsense_finds_none() {
        let known = ["freight".to_owned(), "claims".to_owned()];
        assert_eq!(nearest("Frieght", &known), Some("freight".to_owned()));
        assert_eq!(nearest("zzz", &known), None);
    }
}
