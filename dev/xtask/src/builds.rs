//! Two builds of the program compared by the JSON of the golden calls.

use std::error::Error;
use std::path::Path;
use std::process::Command;

use kandrel_fixtures::golden::{self, Difference, DifferenceKind, GoldenCall};
use serde_json::Value;

/// Differences shown for each call.
const SHOWN: usize = 5;

/// Prints where the JSON of the golden calls differs, and fails if a number does.
///
/// # Errors
/// A build cannot be run, or numbers differ.
pub fn compare(old: &Path, new: &Path) -> Result<(), Box<dyn Error>> {
    let (mut compared, mut numbers) = (0, 0);
    for call in golden::calls() {
        let (before, after) = (json(old, &call)?, json(new, &call)?);
        let (Some(before), Some(after)) = (before.as_ref(), after.as_ref()) else {
            if before.is_some() != after.is_some() {
                println!("{}: only one of the two builds takes the call", call.name);
                numbers += 1;
            }
            continue;
        };
        compared += 1;
        let found = golden::differences(before, after);
        numbers += found.iter().filter(|one| one.kind == DifferenceKind::Number).count();
        show(&call, &found);
    }
    println!("{compared} calls with JSON compared; {numbers} numbers differ by more than {:e}", golden::NEAR);
    if numbers == 0 { Ok(()) } else { Err("numbers differ".into()) }
}

fn show(call: &GoldenCall, found: &[Difference]) {
    for one in found.iter().take(SHOWN) {
        println!("{}{}: {}", call.name, one.path, one.values);
    }
    if found.len() > SHOWN {
        println!("{}: and {} more", call.name, found.len() - SHOWN);
    }
}

/// The JSON of a call; none where it is refused.
fn json(build: &Path, call: &GoldenCall) -> Result<Option<Value>, Box<dyn Error>> {
    let output = Command::new(build).args(&call.words).args(["--as", "json"]).output()?;
    if !output.status.success() {
        return Ok(None);
    }
    let mut value = serde_json::from_slice(&output.stdout)?;
    golden::settle(&mut value);
    Ok(Some(value))
}
