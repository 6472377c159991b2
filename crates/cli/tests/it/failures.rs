//! Full disks, wide tables, names that would do harm.

use std::fmt::Write as _;

use crate::harness::{Folder, noise};

#[test]
fn a_full_disk_leaves_nothing_half_written() {
    if !std::path::Path::new("/dev/full").exists() {
        return;
    }
    let folder = Folder::new();
    for call in [
        "acf demo:harbour claims --out /dev/full",
        "plot demo:harbour ice --figure /nowhere/ice.svg",
        "ols demo:harbour sailings --on bookings --save /nowhere/r.csv",
        "study demo:freight.toml --into /dev/full",
        "screen demo:timber --quick --out /nowhere/rows.csv",
        "tour --into /dev/full",
        "man --into /dev/full",
    ] {
        let outcome = folder.run(call);
        assert!((2..=4).contains(&outcome.status), "{call}: {}", outcome.stderr);
        assert!(outcome.stderr.starts_with("kandrel: "), "{call}: {}", outcome.stderr);
        assert!(folder.names().is_empty(), "{call}: {:?}", folder.names());
    }
}

/// Where nobody may write, not even the superuser.
#[test]
fn a_folder_that_takes_no_files_is_reported_with_what_to_do() {
    if !std::path::Path::new("/proc/self").exists() {
        return;
    }
    for call in [
        "transform demo:harbour freight:ln --out /proc/kandrel.csv",
        "plot demo:harbour ice --figure /proc/kandrel.svg",
        "study --new demo:harbour freight --out /proc/kandrel.toml",
        "screen demo:timber --quick --out /proc/kandrel.csv",
    ] {
        let outcome = Folder::new().run(call);
        outcome.fails(3, &["/proc/kandrel.", "cannot be written: ", "check the folder"]);
        assert!(!outcome.stderr.contains(".kandrel-"), "{call}: {}", outcome.stderr);
    }
    for call in [
        "tour --into /proc/kandrel",
        "man --into /proc/kandrel",
        "study demo:freight.toml --into /proc/kandrel",
    ] {
        Folder::new()
            .run(call)
            .fails(3, &["the folder /proc/kandrel", "cannot be made: ", "name another one"]);
    }
}

#[test]
fn ten_thousand_columns_are_a_table_like_any_other() {
    let mut text = String::from("year");
    for k in 0..10_000 {
        let _ = write!(text, ",c{k}");
    }
    text.push('\n');
    for year in 1990..2014 {
        let _ = write!(text, "{year}");
        for k in 0..10_000 {
            let _ = write!(text, ",{}", (k * 7919 + year * 104_729) % 1009);
        }
        text.push('\n');
    }
    let folder = Folder::with("wide.csv", text);
    let acf = folder.json("acf wide.csv c9999");
    assert_eq!(acf["results"][0]["observations"], 24);
    let error = folder.run("acf wide.csv");
    error.fails(2, &["which series?", "and 9970 more"]);
    assert!(error.stderr.len() < 1000);
}

#[test]
fn names_of_any_letters_go_through_every_form() {
    let names = ["<b>x</b>", "a,b", "c\"d", "e\nf", "=1+2", "\u{5e9}\u{5dc}\u{5d5}\u{5dd}", "\u{202e}gnp"];
    let mut writer = csv::Writer::from_writer(Vec::new());
    writer.write_record(std::iter::once("month").chain(names)).expect("memory");
    for (t, e) in noise(60, 6).into_iter().enumerate() {
        let mut row = vec![format!("{}-{:02}", 2001 + t / 12, t % 12 + 1)];
        row.extend((0..names.len()).map(|k| format!("{}", e + k as f64)));
        writer.write_record(&row).expect("memory");
    }
    let folder = Folder::with("n.csv", writer.into_inner().expect("memory"));
    for form in ["text", "json", "jsonl", "csv", "markdown", "latex"] {
        folder.run(&format!("inspect n.csv --as {form}")).succeeds();
        folder.run(&format!("screen n.csv --quick --as {form}")).succeeds();
    }
    for name in names {
        let quoted = format!("`{name}`");
        let outcome = folder.run_words(&["stationarity", "n.csv", &quoted], "");
        assert_eq!(outcome.status, 0, "{name:?}: {}", outcome.stderr);
        let figure = folder.run_words(&["plot", "n.csv", &quoted, "--figure", "n.svg", "--force"], "");
        assert_eq!(figure.status, 0, "{name:?}: {}", figure.stderr);
        let svg = String::from_utf8(folder.read("n.svg")).expect("text");
        assert!(!svg.contains("<b>x</b>"), "a name is markup in the figure");
    }
}
