//! Threads for parallel work: as many as there are processors, or as can be had.

use std::sync::{Mutex, Once};

use rayon::{ThreadPool, ThreadPoolBuilder};

/// More than this are of no use to anybody, whatever the environment says.
const MOST: usize = 256;

static PREPARED: Once = Once::new();

/// Sets up the threads that all commands share. Where the machine gives none, the work is done in this one.
pub fn prepare() {
    PREPARED.call_once(|| {
        let own = std::env::var("RAYON_NUM_THREADS").ok().and_then(|text| text.parse().ok());
        let count = own.filter(|count| *count > 0).unwrap_or_else(processors).min(MOST);
        let pool = if are_to_be_had(count) { builder(count) } else { builder(1).use_current_thread() };
        // It fails only where a library's caller has set up threads of its own.
        drop(pool.build_global());
    });
}

/// Whether that many threads can run at a time. The library tries once, and ends the program where it fails.
fn are_to_be_had(count: usize) -> bool {
    let gate = Mutex::new(());
    std::thread::scope(|scope| {
        let closed = gate.lock();
        // All of them are there before one may end.
        let all = (0..count).all(|_| {
            let wait = || drop(gate.lock());
            std::thread::Builder::new().spawn_scoped(scope, wait).is_ok()
        });
        drop(closed);
        all
    })
}

/// A pool of that many threads; none where they cannot be had, so that the shared ones do the work.
pub fn pool(jobs: u16) -> Option<ThreadPool> {
    builder(usize::from(jobs).min(MOST)).build().ok()
}

fn builder(count: usize) -> ThreadPoolBuilder {
    ThreadPoolBuilder::new().num_threads(count)
}

fn processors() -> usize {
    std::thread::available_parallelism().map_or(1, usize::from)
}

#[cfg(test)]
mod tests {
    use super::*;
    use rayon::prelude::*;

    #[test]
    fn work_is_done_whether_or_not_there_are_threads() {
        prepare();
        prepare();
        assert_eq!((0..100).into_par_iter().sum::<usize>(), 4950);
        assert_eq!(pool(3).map(|pool| pool.current_num_threads()), Some(3));
        assert!(pool(1024).is_none_or(|pool| pool.current_num_threads() <= MOST));
    }

    #[test]
    fn without_threads_this_one_does_the_work() {
        let none = builder(4).spawn_handler(|_| Err(std::io::Error::other("no threads")));
        assert!(none.build().is_err());
        let own = std::thread::spawn(|| {
            builder(1).use_current_thread().build().map(|_| rayon::current_num_threads())
        });
        assert_eq!(own.join().expect("no panic").ok(), Some(1));
    }
}
