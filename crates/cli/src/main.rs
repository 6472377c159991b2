//! The `kandrel` program.

use std::io::IsTerminal;
use std::process::ExitCode;

use kandrel::Screen;
use mimalloc::MiMalloc;

/// Fits of short series make many small vectors: with the system's allocator these are up to a
/// fifth of all instructions.
#[global_allocator]
static ALLOCATOR: MiMalloc = MiMalloc;

/// What standard output can show, by the environment's words on its language.
fn screen() -> Screen {
    let locale =
        ["LC_ALL", "LC_CTYPE", "LANG"].into_iter().filter_map(std::env::var_os).find(|word| !word.is_empty());
    let locale = locale.map(|word| word.to_string_lossy().to_lowercase()).unwrap_or_default();
    let is_unicode = cfg!(windows) || locale.contains("utf-8") || locale.contains("utf8");
    let is_plain = std::env::var_os("NO_COLOR").is_some_and(|word| !word.is_empty());
    Screen { is_terminal: std::io::stdout().is_terminal(), is_unicode, is_plain }
}

fn main() -> ExitCode {
    let arguments: Vec<_> = std::env::args_os().collect();
    if let Some(shell) = std::env::var_os(kandrel::COMPLETE) {
        let shell = shell.to_string_lossy();
        return ExitCode::from(kandrel::complete(&shell, arguments, &mut std::io::stdout().lock()));
    }
    if let Some(task) = std::env::var_os(kandrel::APART) {
        let (mut input, mut output) = (std::io::stdin().lock(), std::io::stdout().lock());
        return kandrel::read_apart(&task.to_string_lossy(), &mut input, &mut output);
    }
    kandrel::allow_apart();
    let status = kandrel::run(
        arguments,
        screen(),
        &mut std::io::stdin().lock(),
        &mut std::io::stdout().lock(),
        // Not locked: progress bars draw on it from other threads.
        &mut std::io::stderr(),
    );
    ExitCode::from(status)
}
