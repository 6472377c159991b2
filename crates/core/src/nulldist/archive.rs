//! Archives of tables: an index of names, then each table compressed by itself, so that one is read without the others.

use std::ops::Range;

use flate2::{Decompress, FlushDecompress, Status};

/// An archive that is open.
#[derive(Debug, Clone)]
pub struct Archive<'a> {
    /// Names in rising order, with the place of each table in the body.
    index: Vec<(&'a str, Range<usize>)>,
    body: &'a [u8],
}

impl<'a> Archive<'a> {
    /// Opens an archive: the length of the index in four bytes, lines of name and length, the compressed tables.
    /// None where the bytes are no archive.
    pub fn open(bytes: &'a [u8]) -> Option<Self> {
        let (length, rest) = bytes.split_first_chunk::<4>()?;
        let length = usize::try_from(u32::from_le_bytes(*length)).ok()?;
        let (index, body) = rest.split_at_checked(length)?;
        let mut from = 0;
        let entry = |line: &'a str| {
            let (name, length) = line.split_once(' ')?;
            let to = usize::checked_add(from, length.parse().ok()?)?;
            let range = std::mem::replace(&mut from, to)..to;
            body.get(range.clone()).map(|_| (name, range))
        };
        let index: Option<Vec<_>> = std::str::from_utf8(index).ok()?.lines().map(entry).collect();
        let index = index.filter(|all| all.is_sorted_by(|(a, _), (b, _)| a < b))?;
        Some(Self { index, body })
    }

    /// The names of its tables.
    pub fn names(&self) -> impl Iterator<Item = &'a str> + '_ {
        self.index.iter().map(|(name, _)| *name)
    }

    /// The text of a table; none where there is no such table or it is damaged.
    pub fn text(&self, name: &str) -> Option<String> {
        let place = self.index.binary_search_by(|(known, _)| (*known).cmp(name)).ok()?;
        let packed = self.body.get(self.index[place].1.clone())?;
        String::from_utf8(unpacked(packed)?).ok()
    }
}

/// The bytes of a compressed stream; none where it is damaged or cut off.
fn unpacked(packed: &[u8]) -> Option<Vec<u8>> {
    let mut decoder = Decompress::new(true);
    // Tables shrink to less than half.
    let mut out = Vec::with_capacity(3 * packed.len() + 64);
    loop {
        let before = (decoder.total_in(), decoder.total_out());
        let rest = packed.get(usize::try_from(before.0).ok()?..)?;
        match decoder.decompress_vec(rest, &mut out, FlushDecompress::None).ok()? {
            Status::StreamEnd => return Some(out),
            Status::Ok | Status::BufError if out.len() == out.capacity() => out.reserve(out.capacity()),
            // The stream is cut off.
            Status::Ok | Status::BufError if before == (decoder.total_in(), decoder.total_out()) => {
                return None;
            }
            Status::Ok | Status::BufError => {}
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::nulldist::tables::ARCHIVES;

    #[test]
    fn what_is_no_archive_is_refused() {
        let whole = ARCHIVES[0];
        let own = Archive::open(whole).expect("an archive");
        let name = own.names().next().expect("a table").to_owned();
        assert!(own.text(&name).is_some_and(|text| text.starts_with('#')));
        assert_eq!(own.text("no such table"), None);
        assert!(Archive::open(&whole[..whole.len() - 1]).is_none());
        assert!(Archive::open(&whole[..3]).is_none() && Archive::open(&[255; 40]).is_none());
        // A damaged table is none, and no panic.
        let mut damaged = whole.to_vec();
        let last = damaged.len() - 8;
        damaged[last] ^= 0xff;
        let damaged = Archive::open(&damaged).expect("the index is whole");
        let names: Vec<&str> = damaged.names().collect();
        assert!(names.last().is_some_and(|name| damaged.text(name).is_none()));
    }
}
