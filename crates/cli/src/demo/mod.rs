//! The built-in demo data: Osmere Bay, a harbour that exists only here.

/// Name and contents of each set.
const SETS: &[(&str, &str)] = &[("harbour", include_str!("harbour.csv"))];

/// The file of that name, without `demo:`.
pub fn find(name: &str) -> Option<&'static [u8]> {
    SETS.iter().find(|(known, _)| *known == name).map(|(_, text)| text.as_bytes())
}

/// All names.
pub fn names() -> impl Iterator<Item = &'static str> {
    SETS.iter().map(|(name, _)| *name)
}
