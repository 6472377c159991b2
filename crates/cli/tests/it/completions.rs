//! `kandrel completions`.

use crate::harness::Folder;

#[test]
fn every_shell_gets_every_command() {
    let folder = Folder::new();
    for shell in ["bash", "zsh", "fish", "powershell", "elvish"] {
        let output = folder.run(&format!("completions {shell}"));
        output.succeeds();
        for word in ["stationarity", "cointegration", "--season"] {
            let word = if shell == "fish" { word.trim_start_matches("--") } else { word };
            assert!(output.stdout.contains(word), "{shell} lacks {word}");
        }
    }
    folder.run("completions csh").fails_call("csh");
}
