//! What a signal that ends the program must not leave behind: temporary files beside their targets.

use std::path::{Path, PathBuf};
use std::sync::{Mutex, MutexGuard, PoisonError};

use tempfile::NamedTempFile;

static FILES: Mutex<Vec<PathBuf>> = Mutex::new(Vec::new());

fn files() -> MutexGuard<'static, Vec<PathBuf>> {
    // A list of names is whole whatever happened to another thread.
    FILES.lock().unwrap_or_else(PoisonError::into_inner)
}

/// Makes a temporary file, which is removed if a signal ends the program before it is forgotten again.
///
/// # Errors
/// Those of making it.
pub fn remembered(make: impl FnOnce() -> std::io::Result<NamedTempFile>) -> std::io::Result<NamedTempFile> {
    #[cfg(unix)]
    watch();
    // A signal waits for the list, so that it cannot come between the file and its name.
    let mut files = files();
    let file = make()?;
    files.push(file.path().to_path_buf());
    Ok(file)
}

/// The file has its place, or is gone.
pub fn forget(file: &Path) {
    files().retain(|own| own != file);
}

/// Waits for the signals in a thread of its own; without one they end the program as ever.
#[cfg(unix)]
fn watch() {
    use std::sync::{Once, mpsc};

    static WATCHED: Once = Once::new();
    WATCHED.call_once(|| {
        let (ready, is_ready) = mpsc::channel();
        let thread = std::thread::Builder::new().name("signals".to_owned()).spawn(move || wait(&ready));
        if thread.is_ok() {
            // The thread says when it is listening, or ends.
            let _ = is_ready.recv();
        }
    });
}

#[cfg(unix)]
fn wait(ready: &std::sync::mpsc::Sender<()>) {
    use signal_hook::consts::{SIGHUP, SIGINT, SIGTERM, SIGXFSZ};

    // A file that grows too large is an error of writing then, like a full disk.
    let is_too_large = std::sync::Arc::default();
    drop(signal_hook::flag::register(SIGXFSZ, is_too_large));
    let Ok(mut signals) = signal_hook::iterator::Signals::new([SIGTERM, SIGINT, SIGHUP]) else {
        return;
    };
    // Nobody listens any more only if the program has ended.
    let _ = ready.send(());
    for signal in &mut signals {
        for file in files().drain(..) {
            drop(std::fs::remove_file(file));
        }
        // Ends the program as the signal would have.
        drop(signal_hook::low_level::emulate_default_handler(signal));
    }
}
