//! Files of rows that are to be continued: whatever is in them, they are continued to the right rows or left as they are.

#![no_main]

use std::path::PathBuf;
use std::sync::OnceLock;

use libfuzzer_sys::fuzz_target;

/// A folder of this process with the whole result.
struct Place {
    folder: PathBuf,
    whole: Vec<u8>,
}

fn place() -> &'static Place {
    static PLACE: OnceLock<Place> = OnceLock::new();
    PLACE.get_or_init(|| {
        let folder = std::env::temp_dir().join(format!("kandrel-unfinished-{}", std::process::id()));
        std::fs::create_dir_all(&folder).expect("a folder");
        let mut table = String::from("t,a,b\n");
        (1..40).for_each(|t| table.push_str(&format!("{t},{},{}\n", t * t % 13, t * 7 % 11)));
        std::fs::write(folder.join("t.csv"), table).expect("a file");
        let place = Place { whole: Vec::new(), folder };
        screen(&place, &[]);
        Place { whole: std::fs::read(place.folder.join("rows.csv")).expect("rows"), ..place }
    })
}

fn screen(place: &Place, more: &[&str]) {
    let (data, out) = (place.folder.join("t.csv"), place.folder.join("rows.csv"));
    let paths = [data.to_string_lossy(), out.to_string_lossy()];
    let mut words = vec!["screen", paths[0].as_ref(), "--quick", "--out", paths[1].as_ref()];
    words.extend(more);
    kandrel_fuzz::ends(&words, b"");
}

// The first byte says how much of the true file comes first.
fuzz_target!(|bytes: &[u8]| {
    let place = place();
    let (first, rest) = bytes.split_first().unwrap_or((&0, bytes));
    let call = format!("kandrel screen {} --quick", place.folder.join("t.csv").display());
    let line = format!(
        "{{\"kandrel\":\"{}\",\"rows\":\"csv\",\"call\":\"{call}\"}}\n",
        env!("CARGO_PKG_VERSION").replace("0.0.0", "0.1.0")
    );
    let true_file = [line.as_bytes(), &place.whole].concat();
    let kept = true_file.len() * usize::from(*first) / 255;
    let part = place.folder.join("rows.csv.part");
    let _ = std::fs::remove_file(place.folder.join("rows.csv"));
    let given = [&true_file[..kept], rest].concat();
    std::fs::write(&part, &given).expect("a file");
    screen(place, &["--resume"]);
    match std::fs::read(place.folder.join("rows.csv")) {
        Ok(rows) => assert!(kept < line.len() || rows == place.whole || !rest.is_empty(), "other rows"),
        Err(_) => assert!(part.exists(), "neither rows nor what they were to be continued from"),
    }
    let _ = std::fs::remove_file(part);
});
