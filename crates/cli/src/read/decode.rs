//! Bytes of a file to text: unpacked, and in any encoding.

use std::borrow::Cow;
use std::io::Read;
use std::sync::Arc;

use encoding_rs::{Encoding, UTF_8, UTF_16BE, UTF_16LE, WINDOWS_1252};
use flate2::read::MultiGzDecoder;

use crate::error::CliError;

/// A packed file may not grow beyond this: 4 GiB.
const LARGEST: u64 = 1 << 32;

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
pub fn unpack(source: &str, bytes: Arc<Vec<u8>>) -> Result<Arc<Vec<u8>>, CliError> {
    unpack_up_to(source, bytes, LARGEST)
}

fn unpack_up_to(source: &str, bytes: Arc<Vec<u8>>, most: u64) -> Result<Arc<Vec<u8>>, CliError> {
    if !bytes.starts_with(b"\x1f\x8b") {
        return Ok(bytes);
    }
    let mut unpacked = Vec::new();
    MultiGzDecoder::new(bytes.as_slice())
        .take(most + 1)
        .read_to_end(&mut unpacked)
        .map_err(|e| CliError::data(format!("{source} is a damaged .gz file: {e}")))?;
    if unpacked.len() as u64 > most {
        return Err(CliError::data(format!("{source} unpacks to more than {most} bytes")));
    }
    Ok(Arc::new(unpacked))
}

/// The text in the encoding that is named, that a byte order mark indicates, or
/// that fits: UTF-8 if all of it is valid, else Windows-1252. UTF-8 is not copied.
pub fn decode(source: &str, bytes: &Arc<Vec<u8>>, named: Option<&str>) -> Result<Decoded, CliError> {
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
        decode("a.csv", &bytes, named).unwrap_or_else(|error| panic!("{error}")).text.as_str().to_owned()
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
        let latin = || Arc::new(b"caf\xe9".to_vec());
        assert!(decode("a.csv", &latin(), Some("utf-8")).is_err());
        assert!(decode("a.csv", &latin(), Some("klingon")).is_err());
        let guessed = decode("a.csv", &latin(), None).unwrap_or_else(|error| panic!("{error}"));
        assert!(guessed.notes.len() == 1 && guessed.notes[0].contains("windows-1252"));
    }

    #[test]
    fn a_packed_file_is_unpacked_up_to_its_bound() {
        let mut packer = flate2::write::GzEncoder::new(Vec::new(), flate2::Compression::default());
        packer.write_all(&[b'a'; 5000]).expect("memory");
        let packed = Arc::new(packer.finish().expect("memory"));
        assert_eq!(unpack("a.gz", packed.clone()).map(|bytes| bytes.len()).ok(), Some(5000));
        assert!(unpack_up_to("a.gz", packed.clone(), 4999).is_err());
        assert!(unpack("a.gz", Arc::new(packed[..20].to_vec())).is_err());
        let plain = Arc::new(b"x\n1".to_vec());
        assert_eq!(unpack("a.csv", plain.clone()).ok(), Some(plain));
    }
}
