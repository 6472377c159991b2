//! Random files under random command lines: whatever comes in, the promises of the program hold.
//!
//! Some calls by default; as many as `KANDREL_RANDOM_CALLS` says, from the seed `KANDREL_RANDOM_SEED` on, with the figures
//! that `docs/validation.md` quotes.

mod draw;
mod files;
mod promises;
mod words;

use std::collections::BTreeMap;
use std::fmt::Write as _;
use std::process::{Command, Stdio};
use std::time::Instant;

use rayon::prelude::*;

use self::draw::Draw;
use crate::harness::Folder;

/// Address space of a call, in kB: beyond it the program would abort, which breaks a promise.
const MOST_MEMORY: u64 = 4_000_000;

/// What a call left behind.
pub struct Ended {
    words: Vec<String>,
    status: Option<i32>,
    stdout: Vec<u8>,
    stderr: Vec<u8>,
    /// Files that were not there before, with what they hold.
    new: Vec<(String, Vec<u8>)>,
    seconds: f64,
}

/// The call of one seed, in a folder of its own.
fn ended(seed: u64) -> Ended {
    let mut draw = Draw::new(seed);
    let folder = Folder::new();
    let (name, bytes) = files::file(&mut draw);
    folder.write(name, &bytes);
    let words = words::call(&mut draw, name);
    let start = Instant::now();
    let mut command = Command::new("sh");
    let line = format!("ulimit -v {MOST_MEMORY}; exec \"$@\"");
    command.args(["-c", &line, "sh", env!("CARGO_BIN_EXE_kandrel")]).args(&words);
    // One thread a call: the calls themselves are spread over the processors.
    command.current_dir(folder.path(".")).env("RAYON_NUM_THREADS", "1").env("LC_ALL", "C.UTF-8");
    let output = command.stdin(Stdio::null()).output().expect("a process");
    let new = folder.names().into_iter().filter(|own| own != name).map(|own| {
        let bytes = folder.read(&own);
        (own, bytes)
    });
    Ended {
        words,
        status: output.status.code(),
        stdout: output.stdout,
        stderr: output.stderr,
        new: new.collect(),
        seconds: start.elapsed().as_secs_f64(),
    }
}

fn setting(name: &str) -> Option<u64> {
    std::env::var(name).ok().and_then(|text| text.parse().ok())
}

#[test]
fn every_promise_holds_for_every_call() {
    let (asked, seed) = (setting("KANDREL_RANDOM_CALLS"), setting("KANDREL_RANDOM_SEED").unwrap_or(1));
    let count = asked.unwrap_or(160);
    let schemas = promises::Schemas::read();
    let one = |seed: u64| {
        let call = ended(seed);
        let broken = promises::broken(&call, &schemas);
        let shown = broken.map(|what| format!("seed {seed}, {what}: kandrel {}", call.words.join(" ")));
        let command = call.words.first().cloned().unwrap_or_default();
        (command, call.status.unwrap_or(-1), call.seconds, shown)
    };
    let all: Vec<_> = (seed..seed + count).into_par_iter().map(one).collect();
    let broken: Vec<&String> = all.iter().filter_map(|(.., shown)| shown.as_ref()).collect();
    if asked.is_some() {
        println!(
            "{}",
            summary(all.iter().map(|(command, status, seconds, _)| (command.as_str(), *status, *seconds)))
        );
    }
    let shown: Vec<&str> = broken.iter().take(20).map(|text| text.as_str()).collect();
    assert!(broken.is_empty(), "{} of {count} calls:\n{}", broken.len(), shown.join("\n"));
    let results = all.iter().filter(|(_, status, ..)| *status == 0).count() as u64;
    assert!(3 * results > count, "{results} results of {count} calls are too few to say much");
}

/// A line for each command: calls, statuses, the longest.
fn summary<'a>(calls: impl Iterator<Item = (&'a str, i32, f64)>) -> String {
    let mut by_command: BTreeMap<&str, (BTreeMap<i32, u32>, f64)> = BTreeMap::new();
    for (command, status, seconds) in calls {
        let (statuses, longest) = by_command.entry(command).or_default();
        *statuses.entry(status).or_default() += 1;
        *longest = longest.max(seconds);
    }
    let mut text =
        "| command | calls | results | call refused | data refused | no computation | longest, s |\n\
        | --- | ---: | ---: | ---: | ---: | ---: | ---: |\n"
            .to_owned();
    for (command, (statuses, longest)) in by_command {
        let of = |status: i32| statuses.get(&status).copied().unwrap_or(0);
        let all: u32 = statuses.values().sum();
        let _ = writeln!(
            text,
            "| {command} | {all} | {} | {} | {} | {} | {longest:.1} |",
            of(0),
            of(2),
            of(3),
            of(4)
        );
    }
    text
}
