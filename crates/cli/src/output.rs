//! Writing files: whole or not at all, never over another without leave.

use std::io::{Error, Write};
use std::path::{Path, PathBuf};

use crate::error::CliError;

/// The only one of several, for a figure that draws one series.
pub fn only_one<T>(all: &[T]) -> Result<&T, CliError> {
    match all {
        [one] => Ok(one),
        _ => {
            Err(CliError::call("--figure draws one series").advise("name one series, or leave out --figure"))
        }
    }
}

/// Files to be written together.
#[derive(Default)]
pub struct Files {
    pending: Vec<(PathBuf, Vec<u8>)>,
    /// A figure that stays in memory, as SVG.
    figure: Option<String>,
}

impl Files {
    /// Adds a file; nothing is written yet.
    pub fn add(&mut self, path: &Path, contents: Vec<u8>) {
        self.pending.push((path.to_path_buf(), contents));
    }

    /// Keeps a figure in memory.
    pub fn keep_figure(&mut self, svg: String) {
        self.figure = Some(svg);
    }

    /// The figure that was kept.
    pub fn take_figure(&mut self) -> Option<String> {
        self.figure.take()
    }

    /// Writes all of them. Every name is checked before the first is written.
    pub fn write(self, force: bool) -> Result<(), CliError> {
        for (place, (path, _)) in self.pending.iter().enumerate() {
            check_target(path, force)?;
            if self.pending.iter().take(place).any(|(other, _)| other == path) {
                return Err(CliError::call(format!("{} is named for two results", path.display()))
                    .advise("give each its own file"));
            }
        }
        for (path, contents) in &self.pending {
            write_whole(path, contents, force)?;
        }
        Ok(())
    }
}

/// Refuses a target that exists (without leave) or has no folder.
pub fn check_target(path: &Path, force: bool) -> Result<(), CliError> {
    let shown = path.display();
    if path.is_dir() {
        return Err(CliError::call(format!("{shown} is a folder")).advise("name a file inside it"));
    }
    if path.is_file() && !force {
        return Err(CliError::call(format!("{shown} exists already"))
            .advise("name another file, or overwrite it with --force"));
    }
    let folder = folder_of(path);
    if !folder.is_dir() {
        return Err(
            CliError::call(format!("there is no folder {}", folder.display())).advise("make it first")
        );
    }
    Ok(())
}

fn folder_of(path: &Path) -> &Path {
    path.parent().filter(|folder| !folder.as_os_str().is_empty()).unwrap_or(Path::new("."))
}

/// Why a file cannot be written, and what to do.
pub fn unwritable(path: &Path, error: &Error) -> CliError {
    // An error with more to it would name the temporary file, which is nobody's business.
    let reason = if error.raw_os_error().is_some() { error.to_string() } else { error.kind().to_string() };
    CliError::data(format!("{} cannot be written: {reason}", path.display()))
        .advise("check the folder, its permissions and its space")
}

/// Makes a folder, and those above it.
pub fn make_folder(folder: &Path) -> Result<(), CliError> {
    std::fs::create_dir_all(folder).map_err(|error| {
        CliError::data(format!("the folder {} cannot be made: {error}", folder.display()))
            .advise("name another one, or check the permissions of the one above")
    })
}

/// A temporary file beside the target takes its place when complete. Devices
/// and pipes are written to directly.
fn write_whole(path: &Path, contents: &[u8], force: bool) -> Result<(), CliError> {
    let failed = |error: &Error| unwritable(path, error);
    if path.exists() && !path.is_file() {
        return std::fs::write(path, contents).map_err(|e| failed(&e));
    }
    let mut builder = tempfile::Builder::new();
    builder.prefix(".kandrel-");
    #[cfg(unix)]
    {
        use std::os::unix::fs::PermissionsExt;
        // As any new file: the user's mask takes away what it should.
        builder.permissions(std::fs::Permissions::from_mode(0o666));
    }
    let mut file = builder.tempfile_in(folder_of(path)).map_err(|e| failed(&e))?;
    file.write_all(contents).map_err(|e| failed(&e))?;
    let placed = if force { file.persist(path) } else { file.persist_noclobber(path) };
    placed.map(|_| ()).map_err(|e| failed(&e.error))
}
