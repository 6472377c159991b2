//! A temporary folder, the program run inside it, and what came back.

use std::collections::HashMap;
use std::fmt::Display;
use std::fs;
use std::path::PathBuf;
use std::sync::{Arc, LazyLock, Mutex, OnceLock};

use assert_cmd::Command;
pub use kandrel_fixtures::golden::shell_words;
use serde_json::Value;
use tempfile::TempDir;

/// Words of calls that read or write files of the folder they run in.
const LEAVE_FILES: [&str; 8] = ["--figure", "--future", "--into", "--out", "--save", "man", "study", "tour"];

/// What calls on demo data gave: the demo data are the same for all tests.
static KEPT: LazyLock<Mutex<Kept>> = LazyLock::new(Mutex::default);

/// What calls gave, by their words; one that runs is waited for.
type Kept = HashMap<Vec<String>, Arc<OnceLock<Outcome>>>;

/// A folder of its own for each test.
pub struct Folder(TempDir);

/// What a call left behind.
#[derive(Clone)]
pub struct Outcome {
    pub status: i32,
    pub stdout: String,
    pub stderr: String,
}

impl Folder {
    pub fn new() -> Self {
        Self(tempfile::tempdir().expect("a temporary folder"))
    }

    /// A folder with one file in it.
    pub fn with(name: &str, contents: impl AsRef<[u8]>) -> Self {
        let folder = Self::new();
        folder.write(name, contents);
        folder
    }

    pub fn path(&self, name: &str) -> PathBuf {
        self.0.path().join(name)
    }

    pub fn write(&self, name: &str, contents: impl AsRef<[u8]>) {
        fs::write(self.path(name), contents).expect("a writable folder");
    }

    pub fn read(&self, name: &str) -> Vec<u8> {
        fs::read(self.path(name)).expect("a file that was written")
    }

    /// Names of all files, sorted.
    pub fn names(&self) -> Vec<String> {
        let entries = fs::read_dir(self.0.path()).expect("a readable folder");
        let mut names: Vec<String> = entries
            .map(|entry| entry.expect("an entry").file_name().to_string_lossy().into_owned())
            .collect();
        names.sort();
        names
    }

    /// Runs `kandrel` with these words, separated by blanks.
    pub fn run(&self, words: &str) -> Outcome {
        self.run_words(&words.split_whitespace().collect::<Vec<_>>(), "")
    }

    /// Runs `kandrel` with the words of a shell command.
    pub fn run_shell(&self, line: &str) -> Outcome {
        let words = shell_words(line);
        self.run_words(&words.iter().map(String::as_str).collect::<Vec<_>>(), "")
    }

    /// Runs it, or gives what the same call on demo data gave another test.
    pub fn run_words(&self, words: &[&str], stdin: &str) -> Outcome {
        let leaves_files = |word: &&str| LEAVE_FILES.contains(word) || self.path(word).exists();
        let is_of_demo = words.iter().any(|word| word.starts_with("demo:"));
        if !is_of_demo || !stdin.is_empty() || words.iter().any(leaves_files) {
            return self.run_anew(words, stdin);
        }
        let key: Vec<String> = words.iter().map(|word| (*word).to_owned()).collect();
        let kept = Arc::clone(KEPT.lock().expect("no test panics here").entry(key).or_default());
        kept.get_or_init(|| self.run_anew(words, stdin)).clone()
    }

    /// Runs it, whatever ran before.
    pub fn run_anew(&self, words: &[&str], stdin: &str) -> Outcome {
        let mut command = Command::cargo_bin("kandrel").expect("the built program");
        let output =
            command.current_dir(self.0.path()).args(words).write_stdin(stdin).output().expect("a run");
        Outcome {
            status: output.status.code().expect("an exit status, not a signal"),
            stdout: String::from_utf8(output.stdout).expect("UTF-8"),
            stderr: String::from_utf8(output.stderr).expect("UTF-8"),
        }
    }

    /// Runs with `--as json` and parses the result.
    pub fn json(&self, words: &str) -> Value {
        let outcome = self.run(&format!("{words} --as json"));
        assert_eq!(outcome.status, 0, "{words}: {}", outcome.stderr);
        serde_json::from_str(&outcome.stdout).expect("valid JSON")
    }
}

impl Outcome {
    /// A result on standard output and nothing on standard error.
    pub fn succeeds(&self) -> &Self {
        assert_eq!((self.status, self.stderr.as_str()), (0, ""), "{}", self.stdout);
        self
    }

    /// One message on standard error that holds every text, and no result.
    pub fn fails(&self, status: i32, texts: &[&str]) -> &Self {
        assert_eq!((self.status, self.stdout.as_str()), (status, ""), "{}", self.stderr);
        for text in texts {
            assert!(self.stderr.contains(text), "{text:?} is not in:\n{}", self.stderr);
        }
        assert_eq!(self.stderr.matches("kandrel: ").count(), 1, "one message:\n{}", self.stderr);
        assert!(!self.stderr.contains("panicked"));
        self
    }

    /// A call that the reader of the command line itself refuses.
    pub fn fails_call(&self, text: &str) {
        assert_eq!((self.status, self.stdout.as_str()), (2, ""), "{}", self.stderr);
        assert!(self.stderr.contains(text), "{text:?} is not in:\n{}", self.stderr);
    }

    pub fn first_line(&self) -> &str {
        self.stdout.lines().next().unwrap_or("")
    }

    /// The text with line ends and runs of blanks as single blanks.
    pub fn running_text(&self) -> String {
        self.stdout.split_whitespace().collect::<Vec<_>>().join(" ")
    }
}

/// A monthly CSV from 2010-01 of the given values under the name `x`.
pub fn monthly<T: Display>(values: &[T]) -> String {
    let row = |(t, value): (usize, &T)| format!("{:04}-{:02},{value}\n", 2010 + t / 12, t % 12 + 1);
    let rows: String = values.iter().enumerate().map(row).collect();
    format!("month,x\n{rows}")
}

/// Repeatable values without much pattern, between 10 and 20.
pub fn scattered(count: u32) -> Vec<f64> {
    let mut state = 12_345_u32;
    (0..count)
        .map(|_| {
            state = state.wrapping_mul(1_664_525).wrapping_add(1_013_904_223);
            10.0 + f64::from(state >> 16) / 6_553.6
        })
        .collect()
}

/// Whether no line is wider than a terminal of 80 columns.
pub fn fits_80_columns(text: &str) -> Result<(), String> {
    let wide: Vec<&str> = text.lines().filter(|line| line.chars().count() > 80).collect();
    if wide.is_empty() { Ok(()) } else { Err(wide.join("\n")) }
}

/// Numbers that look drawn, about zero, of spread one: sums of twelve uniform ones.
pub fn noise(n: usize, mut seed: u64) -> Vec<f64> {
    let mut draw = || {
        let mut sum = 0.0;
        for _ in 0..12 {
            seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
            sum += (seed >> 11) as f64 / (1_u64 << 53) as f64;
        }
        sum - 6.0
    };
    (0..n).map(|_| draw()).collect()
}
