//! Ends that nobody chose: signals in the middle of writing, no threads, no room.

#![cfg(unix)]

use std::process::{Command, Stdio};
use std::time::Duration;

use crate::harness::{Folder, noise};

/// The built program with some of its standard streams shut.
fn program(folder: &Folder, words: &[&str]) -> Command {
    let mut command = Command::new(env!("CARGO_BIN_EXE_kandrel"));
    command.current_dir(folder.path(".")).args(words);
    command.stdin(Stdio::null()).stdout(Stdio::null()).stderr(Stdio::null());
    command
}

/// Looks until something holds, for a minute at most.
fn wait_for(mut holds: impl FnMut() -> bool) {
    for _ in 0..1200 {
        if holds() {
            return;
        }
        std::thread::sleep(Duration::from_millis(50));
    }
    panic!("it does not come");
}

#[test]
fn a_signal_leaves_no_temporary_file() {
    for signal in ["TERM", "INT", "HUP"] {
        let folder = Folder::new();
        assert!(Command::new("mkfifo").arg(folder.path("pipe.svg")).status().expect("mkfifo").success());
        // Nobody reads the pipe, so that the program waits with its text already beside its target.
        let words = ["plot", "demo:harbour", "freight", "--figure", "pipe.svg", "--out", "a.txt"];
        let mut running = program(&folder, &words).spawn().expect("a process");
        wait_for(|| folder.names().iter().any(|name| name.starts_with(".kandrel-")));
        let kill = Command::new("kill").args(["-s", signal, &running.id().to_string()]).status();
        assert!(kill.expect("kill").success());
        let status = running.wait().expect("its end");
        assert!(!status.success() && status.code().is_none(), "ended by the signal: {status}");
        assert_eq!(folder.names(), ["pipe.svg"], "{signal}");
    }
}

#[test]
fn a_killed_screening_is_continued_to_the_same_bytes() {
    let folder = Folder::new();
    let record =
        |k: u64| format!("{}\n", serde_json::json!({"series": format!("s{k}"), "values": noise(40, k)}));
    let records: String = (1..=40).map(record).collect();
    folder.write("r.jsonl", &records);
    folder.run("screen r.jsonl --quick --out whole.jsonl").succeeds();
    // A pipe that never ends keeps the program waiting after its first block.
    assert!(Command::new("mkfifo").arg(folder.path("p.jsonl")).status().expect("mkfifo").success());
    let words = ["screen", "p.jsonl", "--quick", "--jobs", "1", "--out", "rows.jsonl"];
    let mut running = program(&folder, &words).spawn().expect("a process");
    let mut pipe = std::fs::OpenOptions::new().write(true).open(folder.path("p.jsonl")).expect("its end");
    let first: String = (1..=20).map(record).collect();
    std::io::Write::write_all(&mut pipe, first.as_bytes()).expect("a reader");
    wait_for(|| folder.names().contains(&"rows.jsonl.part".to_owned()));
    running.kill().expect("a process");
    running.wait().expect("its end");
    drop(pipe);
    std::fs::remove_file(folder.path("p.jsonl")).expect("the pipe");
    folder.write("p.jsonl", &records);
    folder.run("screen p.jsonl --quick --out rows.jsonl --resume").succeeds();
    let text = |name: &str| String::from_utf8(folder.read(name)).expect("text");
    assert_eq!(text("rows.jsonl"), text("whole.jsonl").replace("r.jsonl", "p.jsonl"));
    assert!(!folder.names().contains(&"rows.jsonl.part".to_owned()));
}

#[test]
fn a_file_that_may_not_grow_is_a_message_and_no_file() {
    let folder = Folder::new();
    let line = format!(
        "ulimit -f 1; exec {} plot demo:harbour freight --figure a.svg",
        env!("CARGO_BIN_EXE_kandrel")
    );
    let output =
        Command::new("sh").current_dir(folder.path(".")).args(["-c", &line]).output().expect("a shell");
    assert_eq!(output.status.code(), Some(3), "{output:?}");
    let message = String::from_utf8_lossy(&output.stderr).into_owned();
    assert!(message.starts_with("kandrel: a.svg cannot be written"), "{message}");
    assert!(folder.names().is_empty(), "{:?}", folder.names());
}

#[test]
fn any_number_of_threads_is_the_same_result() {
    let folder = Folder::new();
    let of = |threads: &str| {
        let mut command = program(&folder, &["screen", "demo:timber", "--quick", "--as", "jsonl"]);
        let output =
            command.env("RAYON_NUM_THREADS", threads).stdout(Stdio::piped()).output().expect("a run");
        assert!(output.status.success(), "{threads}");
        output.stdout
    };
    let one = of("1");
    for threads in ["100000", "0", "many"] {
        assert_eq!(of(threads), one, "{threads}");
    }
}
