//! Packs tables into the archives of the core.

use std::fmt::Write as _;
use std::io::Write as _;

use flate2::Compression;
use flate2::write::ZlibEncoder;
use kandrel_core::nulldist::Archive;

/// An archive of named texts, read back before it is given.
pub fn pack(mut tables: Vec<(String, String)>) -> Result<Vec<u8>, String> {
    tables.sort();
    let (mut index, mut body) = (String::new(), Vec::new());
    for (name, text) in &tables {
        let mut encoder = ZlibEncoder::new(Vec::new(), Compression::best());
        encoder.write_all(text.as_bytes()).map_err(|error| format!("{name}: {error}"))?;
        let packed = encoder.finish().map_err(|error| format!("{name}: {error}"))?;
        // Writing to a string cannot fail.
        let _ = writeln!(index, "{name} {}", packed.len());
        body.extend(packed);
    }
    let length = u32::try_from(index.len()).map_err(|_| "the index is too long".to_owned())?;
    let bytes = [&length.to_le_bytes()[..], index.as_bytes(), &body].concat();
    let archive = Archive::open(&bytes).ok_or("the archive cannot be read back")?;
    match tables.iter().find(|(name, text)| archive.text(name).as_ref() != Some(text)) {
        Some((name, _)) => Err(format!("{name} does not come back from the archive")),
        None => Ok(bytes),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_packed_comes_back_by_name() {
        let of = |name: &str, text: &str| (name.to_owned(), text.to_owned());
        let long = "1.5e-3 -2.25\n".repeat(400);
        let bytes = pack(vec![of("b", &long), of("a", "# a\n")]).expect("an archive");
        assert!(bytes.len() < long.len() / 4);
        let archive = Archive::open(&bytes).expect("an archive");
        assert_eq!(archive.names().collect::<Vec<_>>(), ["a", "b"]);
        assert_eq!((archive.text("b"), archive.text("a")), (Some(long), Some("# a\n".to_owned())));
        // A name that is twice would hide one of its tables.
        assert!(pack(vec![of("a", "1"), of("a", "2")]).is_err());
    }
}
