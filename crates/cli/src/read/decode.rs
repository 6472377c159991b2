//! Bytes of a file to text: unpacked, and in any encoding.

use std::borrow::Cow;
use std::io::Read;
use std::sync::Arc;

use encoding_rs::{Encoding, UTF_8, UTF_16BE, UTF_16LE, WINDOWS_1252};
use flate2::read::MultiGzDecoder;

use super::budget::{Budget, Memory};
use crate::error::CliError;

/// A packed byte cannot become more than this many.
pub const DENSEST: u64 = 1032;

/// Bytes that are valid UTF-8 from `start` on.
#[derive(Debug, Clone)]
pub struct Text {
    pub bytes: Arc<Vec<u8>>,
    pub start: usize,
}

impl Text {
    /// The text as such.
    pub fn as_str(&self) -> &str {
        std::str::from_utf8(self.bytes.get(self.start..).unwrap_or_default()).unwrap_or("")
    }
}

impl From<&str> for Text {
    fn from(text: &str) -> Self {
        Self { bytes: Arc::new(text.as_bytes().to_vec()), start: 0 }
    }
}

/// A text, and what is worth telling about how it was found.
pub struct Decoded {
    pub text: Text,
    pub notes: Vec<String>,
}

/// Unpacks a `.gz` file, known by its first bytes.
pub fn unpack(source: &str, bytes: Arc<Vec<u8>>, budget: &Budget) -> Result<Arc<Vec<u8>>, CliError> {
    if !bytes.starts_with(b"\x1f\x8b") {
        return Ok(bytes);
    }
    // Its last bytes are its length, or that of its last part; those of a file that is cut off are anything.
    let length = bytes.last_chunk().map_or(0, |length| u64::from(u32::from_le_bytes(*length)));
    let length = if length <= (bytes.len() as u64).saturating_mul(DENSEST) { length } else { 0 };
    let unpacked = whole(source, &mut MultiGzDecoder::new(bytes.as_slice()), length, budget)?;
    unpacked.map(Arc::new).map_err(|error| CliError::data(format!("{source} is a damaged .gz file: {error}")))
}

/// All bytes of a stream that says it has this many, or has none to say; as far as there is room for them.
///
/// # Errors
/// There are more than that; inside, the stream's own error.
pub fn whole(
    source: &str,
    stream: &mut dyn Read,
    length: u64,
    budget: &Budget,
) -> Result<std::io::Result<Vec<u8>>, CliError> {
    let sure = budget.surely_left();
    if length > sure && length > budget.left() {
        return Err(budget.refusal(source, Memory(length)));
    }
    let mut bytes = Vec::with_capacity(usize::try_from(length).unwrap_or(0));
    let mut read = (&mut *stream).take(sure).read_to_end(&mut bytes);
    if read.is_ok() && bytes.len() as u64 == sure {
        let left = budget.left();
        read = stream.take((left - sure).saturating_add(1)).read_to_end(&mut bytes);
        if bytes.len() as u64 > left {
            return Err(budget.refusal(source, Memory(0)));
        }
    }
    budget.take(source, bytes.len() as u64)?;
    Ok(read.map(|_| bytes))
}

/// The text in the encoding that is named, that a byte order mark indicates, or
/// that fits: UTF-8 if all of it is valid, else Windows-1252. UTF-8 is not copied.
pub fn decode(
    source: &str,
    bytes: &Arc<Vec<u8>>,
    named: Option<&str>,
    budget: &Budget,
) -> Result<Decoded, CliError> {
    let marked = Encoding::for_bom(bytes);
    let chosen = match named {
        Some(name) => Encoding::for_label(name.as_bytes()).ok_or_else(|| {
            CliError::call(format!("--encoding {name}: there is no such encoding"))
                .advise("write utf-8, utf-16le, windows-1252, iso-8859-15 or the like")
        })?,
        None => marked.map_or_else(|| fitting(bytes), |(encoding, _)| encoding),
    };
    let mark = marked.filter(|(encoding, _)| *encoding == chosen).map_or(0, |(_, length)| length);
    let body = bytes.get(mark..).unwrap_or_default();
    if chosen != UTF_8 {
        // Letters of one byte may take three.
        budget.take(source, (body.len() as u64).saturating_mul(3))?;
    }
    let (text, wrong) = chosen.decode_without_bom_handling(body);
    if wrong {
        return Err(CliError::data(format!("{source} is not valid {}", chosen.name()))
            .advise("name its encoding with --encoding"));
    }
    let guessed = named.is_none() && marked.is_none() && chosen != UTF_8;
    let note = guessed.then(|| format!("{source} is not UTF-8 and was read as {}", chosen.name()));
    let text = match text {
        Cow::Borrowed(_) => Text { bytes: Arc::clone(bytes), start: mark },
        Cow::Owned(text) => Text { bytes: Arc::new(text.into_bytes()), start: 0 },
    };
    Ok(Decoded { text, notes: note.into_iter().collect() })
}

/// Without a mark: UTF-8 where valid; UTF-16 where every other byte is zero,
/// as in plain Western text; else Windows-1252.
fn fitting(bytes: &[u8]) -> &'static Encoding {
    let start = bytes.get(..bytes.len().min(1000)).unwrap_or_default();
    let zeros = |offset: usize| start.iter().skip(offset).step_by(2).filter(|byte| **byte == 0).count();
    let (even, odd) = (zeros(0), zeros(1));
    if odd * 4 > start.len() && even == 0 {
        UTF_16LE
    } else if even * 4 > start.len() && odd == 0 {
        UTF_16BE
    } else if std::str::from_utf8(bytes).is_ok() {
        UTF_8
    } else {
        WINDOWS_1252
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::io::Write;

    fn text(bytes: &[u8], named: Option<&str>) -> String {
        let bytes = Arc::new(bytes.to_vec());
        decode("a.csv", &bytes, named, &Budget::new(None))
            .unwrap_or_else(|error| panic!("{error}"))
            .text
            .as_str()
            .to_owned()
    }

    #[test]
    fn one_text_in_every_encoding() {
        let wanted = "Größe,é\n1,2\n";
        let utf16 =
            |order: fn(u16) -> [u8; 2]| -> Vec<u8> { wanted.encode_utf16().flat_map(order).collect() };
        let (little, big) = (utf16(u16::to_le_bytes), utf16(u16::to_be_bytes));
        assert_eq!(text(wanted.as_bytes(), None), wanted);
        assert_eq!(text(&[b"\xEF\xBB\xBF", wanted.as_bytes()].concat(), None), wanted);
        assert_eq!(text(&[b"\xFF\xFE", little.as_slice()].concat(), None), wanted);
        assert_eq!(text(&[b"\xFE\xFF", big.as_slice()].concat(), None), wanted);
        assert_eq!((text(&little, None).as_str(), text(&big, None).as_str()), (wanted, wanted));
        assert_eq!(text(b"Gr\xf6\xdfe,\xe9\n1,2\n", None), wanted);
        assert_eq!(text(b"Gr\xf6\xdfe,\xe9\n1,2\n", Some("iso-8859-1")), wanted);
    }

    #[test]
    fn a_wrong_encoding_is_refused_and_a_guessed_one_noted() {
        let budget = Budget::new(None);
        let latin = || Arc::new(b"caf\xe9".to_vec());
        assert!(decode("a.csv", &latin(), Some("utf-8"), &budget).is_err());
        assert!(decode("a.csv", &latin(), Some("klingon"), &budget).is_err());
        let guessed = decode("a.csv", &latin(), None, &budget).unwrap_or_else(|error| panic!("{error}"));
        assert!(guessed.notes.len() == 1 && guessed.notes[0].contains("windows-1252"));
    }

    #[test]
    fn a_packed_file_is_unpacked_up_to_its_bound() {
        let mut packer = flate2::write::GzEncoder::new(Vec::new(), flate2::Compression::default());
        let zeros = vec![0; 1_000_000];
        (0..12).for_each(|_| packer.write_all(&zeros).expect("memory"));
        let packed = Arc::new(packer.finish().expect("memory"));
        let budget = |bytes| Budget::new(Some(Memory(bytes)));
        let wide = budget(12_000_000);
        assert_eq!(unpack("a.gz", packed.clone(), &wide).map(|bytes| bytes.len()).ok(), Some(12_000_000));
        let refusal = unpack("a.gz", packed.clone(), &budget(11_999_999)).expect_err("too large").to_string();
        assert!(refusal.contains("--memory") && !refusal.contains("damaged"), "{refusal}");
        assert!(unpack("a.gz", Arc::new(packed[..20].to_vec()), &wide).is_err());
        let plain = Arc::new(b"x\n1".to_vec());
        assert_eq!(unpack("a.csv", plain.clone(), &wide).ok(), Some(plain));
    }
}
